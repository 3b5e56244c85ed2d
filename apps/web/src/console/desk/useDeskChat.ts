import { useCallback, useEffect, useState } from 'react';
import type { ChatMessage, ChatPage } from '@heliphon/contracts/chat';
import { ask } from '../../data/api.js';
import { type ChatLog, EMPTY_LOG, mergeMessages } from '../../data/chat-log.js';
import { useLive } from '../../data/live.js';

export interface DeskChatHandle {
  readonly log: ChatLog;
  readonly error: unknown;
  readonly answer: (text: string, messageId: string) => Promise<void>;
  readonly setHidden: (message: ChatMessage, hidden: boolean) => Promise<void>;
}

/** An event's chat as the desk has it: everything, hidden messages too, and the means to moderate. */
export function useDeskChat(eventId: string): DeskChatHandle {
  const path = `/api/events/${eventId}/chat`;
  const { socket } = useLive();
  const [log, setLog] = useState(EMPTY_LOG);
  const [error, setError] = useState<unknown>(null);
  const take = useCallback(
    (messages: readonly ChatMessage[]) => setLog((known) => mergeMessages(known, messages)),
    [],
  );

  useEffect(() => {
    let isOver = false;
    let seq = 0;
    const catchUp = (): void => {
      ask<ChatPage>(`${path}?after=${seq}`).then(
        (page) => {
          if (isOver) return;
          seq = Math.max(seq, page.seq);
          setError(null);
          take(page.messages);
        },
        (failed: unknown) => !isOver && setError(failed),
      );
    };
    const onChat = (batch: { eventId: string; messages: readonly ChatMessage[] }): void => {
      if (batch.eventId === eventId) take(batch.messages);
    };
    catchUp();
    socket?.on('connect', catchUp);
    socket?.on('chat', onChat);
    return () => {
      isOver = true;
      socket?.off('connect', catchUp);
      socket?.off('chat', onChat);
    };
  }, [path, eventId, socket, take]);

  const answer = async (text: string, messageId: string): Promise<void> =>
    take([await ask<ChatMessage>(path, { method: 'POST', body: { text, messageId } })]);
  const setHidden = async (message: ChatMessage, hidden: boolean): Promise<void> =>
    take([
      await ask<ChatMessage>(`${path}/${message.id}/${hidden ? 'hide' : 'restore'}`, { method: 'POST' }),
    ]);
  return { log, error, answer, setHidden };
}
