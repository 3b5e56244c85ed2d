import { createContext, useContext, useEffect, useState } from 'react';
import useSWR from 'swr';
import type { HouseFigures } from '@heliphon/contracts/push';
import type { SourceNow } from '@heliphon/contracts/sources';
import { ApiError, ask } from './api.js';
import { refreshAll, refreshTopic } from './cache.js';
import { refreshSession } from './session.js';
import { type ConsoleSocket, connectConsole } from './push.js';
import { heardServerTime } from './server-clock.js';

/** What comes by push: live figures, and whether the way to the server stands. */
export interface Live {
  readonly figures: HouseFigures | null;
  readonly isConnected: boolean;
  readonly socket: ConsoleSocket | null;
}

export const LiveContext = createContext<Live>({ figures: null, isConnected: true, socket: null });
export const useLive = (): Live => useContext(LiveContext);

/** Holds the console's one connection, for as long as somebody is signed in. */
export function useLiveConnection(): Live {
  const [socket, setSocket] = useState<ConsoleSocket | null>(null);
  const [figures, setFigures] = useState<HouseFigures | null>(null);
  const [isConnected, setConnected] = useState(true);
  useEffect(() => {
    const made = connectConsole();
    let wasConnected = false;
    made.on('connect', () => {
      setConnected(true);
      if (wasConnected) refreshAll();
      wasConnected = true;
    });
    made.on('disconnect', (reason) => {
      setConnected(false);
      if (reason !== 'io server disconnect') return;
      // Shown out: signed out elsewhere, removed, or with another role. The session says which.
      refreshSession();
      made.connect();
    });
    made.on('hint', ({ topic }) => refreshTopic(topic));
    made.on('figures', (arrived) => {
      heardServerTime(arrived.serverNowMs);
      setFigures(arrived);
    });
    setSocket(made);
    return () => void made.close();
  }, []);
  return { figures, isConnected, socket };
}

const HEALTH_EVERY_MS = 5000;

/** Whether the server's database answers: asked for now and then, since the push goes on without it. */
export function useHealth(): { readonly isDatabaseAway: boolean } {
  const { error } = useSWR<unknown, unknown>('/api/health', ask, {
    refreshInterval: HEALTH_EVERY_MS,
    // After a fault the interval rests, and the library's own pauses grow for minutes.
    onErrorRetry: (_error, _key, _config, revalidate, options) =>
      void window.setTimeout(() => void revalidate(options), HEALTH_EVERY_MS),
  });
  return { isDatabaseAway: error instanceof ApiError && error.problem.code === 'database-away' };
}

export function useSourceNow(sourceId: string | null): SourceNow | null {
  return useLive().figures?.sources.find((source) => source.sourceId === sourceId) ?? null;
}

export function useProgrammeNow(eventId: string | null): HouseFigures['programmes'][number] | null {
  return useLive().figures?.programmes.find((programme) => programme.eventId === eventId) ?? null;
}
