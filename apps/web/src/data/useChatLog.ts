import { useCallback, useEffect, useState } from 'react';
import type { ChatMessage, ChatPage } from '@heliphon/contracts/chat';
import { ask } from './api.js';
import { type ChatLog, EMPTY_LOG, mergeMessages } from './chat-log.js';
import type { ConsoleSocket, PublicSocket } from './push.js';

export interface FollowedChat {
  readonly log: ChatLog;
  readonly error: unknown;
  /** Takes in what an answer of the server brought, without waiting for the push. */
  readonly take: (messages: readonly ChatMessage[]) => void;
}

/** Follows an event's chat: what was said so far, what is pushed, and after a break what was missed. */
export function useChatLog(
  path: string,
  eventId: string,
  socket: ConsoleSocket | PublicSocket | null,
): FollowedChat {
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
        // The next connection asks again.
        (failed: unknown) => !isOver && setError(failed),
      );
    };
    const onChat = (batch: { eventId: string; messages: readonly ChatMessage[] }): void => {
      if (batch.eventId === eventId) take(batch.messages);
    };
    catchUp();
    const followed = socket as PublicSocket | null; // both kinds bring the same batches
    followed?.on('connect', catchUp);
    followed?.on('chat', onChat);
    return () => {
      isOver = true;
      followed?.off('connect', catchUp);
      followed?.off('chat', onChat);
    };
  }, [path, eventId, socket, take]);

  return { log, error, take };
}
