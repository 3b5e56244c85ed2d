import { useEffect } from 'react';
import useSWR from 'swr';
import type { AtDesk, DeskHolderView } from '@heliphon/contracts/desk';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';
import { useLive } from './live.js';

const holderAt = (eventId: string): string => `/api/events/${eventId}/holder`;

export const useDeskHolder = (eventId: string) => useSWR<DeskHolderView>(holderAt(eventId), fetcher);

/** @param personId - `null` lets go of it. */
export const chooseHolder = (eventId: string, personId: string | null): Promise<DeskHolderView> =>
  thenAskAgain(holderAt(eventId), ask(holderAt(eventId), { method: 'PUT', body: { personId } }));

/** Says that this desk is open here, for as long as it is. @returns who else is at it, oneself among them */
export function useAtDesk(eventId: string): readonly AtDesk[] {
  const { socket, figures } = useLive();
  useEffect(() => {
    if (!socket) return;
    const say = (): void => void socket.emit('at-desk', eventId);
    if (socket.connected) say();
    socket.on('connect', say);
    return () => {
      socket.off('connect', say);
      socket.emit('at-desk', null);
    };
  }, [socket, eventId]);
  return figures?.desks.find((desk) => desk.eventId === eventId)?.people ?? [];
}
