import { useCallback, useEffect, useRef, useState } from 'react';
import type { ChatMessage, ChatPage } from '@heliphon/contracts/chat';
import { ask } from './api.js';
import { type ChatLog, EMPTY_LOG, takePage, takePushed } from './chat-log.js';
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
  headers?: Readonly<Record<string, string>>,
): FollowedChat {
  const asking = useRef(headers);
  asking.current = headers;
  const [log, setLog] = useState(EMPTY_LOG);
  const [error, setError] = useState<unknown>(null);
  const take = useCallback(
    (messages: readonly ChatMessage[]) => setLog((known) => takePushed(known, messages)),
    [],
  );
  /** Where the log is whole, for the next request. */
  const wholeTo = useRef(0);
  wholeTo.current = log.seq;
  const catchUp = useRef(() => undefined as void);

  useEffect(() => {
    let isOver = false;
    let isAsking = false;
    setLog(EMPTY_LOG);
    wholeTo.current = 0;
    catchUp.current = () => {
      if (isAsking || isOver) return;
      isAsking = true;
      ask<ChatPage>(`${path}?after=${wholeTo.current}`, { headers: asking.current }).then(
        (page) => {
          isAsking = false;
          if (isOver) return;
          setError(null);
          setLog((known) => takePage(known, page));
        },
        // The next connection, or the next message, asks again.
        (failed: unknown) => {
          isAsking = false;
          if (!isOver) setError(failed);
        },
      );
    };
    const onConnect = (): void => catchUp.current();
    const onChat = (batch: { eventId: string; messages: readonly ChatMessage[] }): void => {
      if (batch.eventId === eventId) take(batch.messages);
    };
    onConnect();
    const followed = socket as PublicSocket | null; // both kinds bring the same batches
    followed?.on('connect', onConnect);
    followed?.on('chat', onChat);
    return () => {
      isOver = true;
      followed?.off('connect', onConnect);
      followed?.off('chat', onChat);
    };
  }, [path, eventId, socket, take]);

  useEffect(() => {
    if (log.hasGap) catchUp.current();
  }, [log]);

  return { log, error, take };
}
