import { useCallback, useMemo, useState } from 'react';
import type { ChatMessage, JoinedChat } from '@heliphon/contracts/chat';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { ApiError, ask } from '../data/api.js';
import type { ChatLog } from '../data/chat-log.js';
import type { PublicSocket } from '../data/push.js';
import { useChatLog } from '../data/useChatLog.js';
import { passHeaders } from './admissions.js';

export interface PublicChat {
  readonly log: ChatLog;
  /** By which name this browser has joined; `null` before. */
  readonly name: string | null;
  readonly join: (name: string) => Promise<void>;
  readonly post: (text: string, messageId: string) => Promise<void>;
}

/** A chat as a visitor has it. Who talks is known by a value in this browser's storage, never by a cookie. */
export function useChat(
  { slug, pass, chat: { eventId } }: PublicEvent,
  socket: PublicSocket | null,
): PublicChat {
  const storageKey = `heliphon.chat.${eventId}`;
  const path = `/api/public/events/${encodeURIComponent(slug)}/chat`;
  const [joined, setJoined] = useState<JoinedChat | null>(() => readJoined(storageKey));

  const headers = useMemo(() => passHeaders(pass), [pass]);
  const { log, take } = useChatLog(path, eventId, socket, headers);

  const join = useCallback(
    async (name: string) => {
      const answer = await ask<JoinedChat>(`${path}/join`, {
        method: 'POST',
        body: { name, acceptsRules: true },
        headers,
      });
      localStorage.setItem(storageKey, JSON.stringify(answer));
      setJoined(answer);
    },
    [path, storageKey, headers],
  );

  const token = joined?.token;
  const post = useCallback(
    async (text: string, messageId: string) => {
      try {
        const said = await ask<ChatMessage>(path, {
          method: 'POST',
          body: { text, messageId },
          headers,
          ...(token ? { token } : {}),
        });
        take([said]);
      } catch (error) {
        if (error instanceof ApiError && error.problem.code === 'chat-not-joined') setJoined(null);
        throw error;
      }
    },
    [path, token, take, headers],
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
