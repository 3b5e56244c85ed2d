import { useCallback, useEffect, useState } from 'react';
import type { ChatMessage, ChatPage, JoinedChat } from '@heliphon/contracts/chat';
import { ApiError, ask } from '../data/api.js';
import { type ChatLog, EMPTY_LOG, mergeMessages } from '../data/chat-log.js';
import type { PublicSocket } from '../data/push.js';

export interface PublicChat {
  readonly log: ChatLog;
  /** By which name this browser has joined; `null` before. */
  readonly name: string | null;
  readonly join: (name: string) => Promise<void>;
  readonly post: (text: string, messageId: string) => Promise<void>;
}

/** A chat as a visitor has it. Who talks is known by a value in this browser's storage, never by a cookie. */
export function useChat(slug: string, eventId: string, socket: PublicSocket | null): PublicChat {
  const storageKey = `heliphon.chat.${eventId}`;
  const path = `/api/public/events/${encodeURIComponent(slug)}/chat`;
  const [log, setLog] = useState(EMPTY_LOG);
  const [joined, setJoined] = useState<JoinedChat | null>(() => readJoined(storageKey));

  useEffect(() => {
    let isOver = false;
    let seq = 0;
    const take = (messages: readonly ChatMessage[]): void => {
      if (!isOver) setLog((known) => mergeMessages(known, messages));
    };
    const catchUp = (): void => {
      ask<ChatPage>(`${path}?after=${seq}`).then(
        (page) => {
          seq = Math.max(seq, page.seq);
          take(page.messages);
        },
        () => undefined, // offline; the next connection asks again
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
  }, [path, eventId, socket]);

  const join = useCallback(
    async (name: string) => {
      const answer = await ask<JoinedChat>(`${path}/join`, {
        method: 'POST',
        body: { name, acceptsRules: true },
      });
      localStorage.setItem(storageKey, JSON.stringify(answer));
      setJoined(answer);
    },
    [path, storageKey],
  );

  const token = joined?.token;
  const post = useCallback(
    async (text: string, messageId: string) => {
      try {
        const said = await ask<ChatMessage>(path, {
          method: 'POST',
          body: { text, messageId },
          ...(token ? { token } : {}),
        });
        setLog((known) => mergeMessages(known, [said]));
      } catch (error) {
        if (error instanceof ApiError && error.problem.code === 'chat-not-joined') setJoined(null);
        throw error;
      }
    },
    [path, token],
  );

  return { log, name: joined?.name ?? null, join, post };
}

function readJoined(key: string): JoinedChat | null {
  try {
    const value = JSON.parse(localStorage.getItem(key) ?? 'null') as Partial<JoinedChat> | null;
    return value && typeof value.token === 'string' && typeof value.name === 'string'
      ? (value as JoinedChat)
      : null;
  } catch {
    return null;
  }
}
