import { type Result, refuse, succeed } from '../result.js';

export const CHAT_LIMITS = { nameLength: 40, messageLength: 500 } as const;

export type ChatTextRefusal =
  { readonly code: 'empty' } | { readonly code: 'too-long'; readonly length: number; readonly limit: number };

/** Characters that draw nothing or turn the line around, with which names are forged. */
const INVISIBLE =
  /[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u200b\u200e\u200f\u202a-\u202e\u2060-\u2064\u2066-\u2069\ufeff]/g;

/** A name as others will see it: one line, no invisible characters. Markup stays text; nobody renders it. */
export function cleanChatName(raw: string): Result<string, ChatTextRefusal> {
  return within(
    raw.normalize('NFC').replace(INVISIBLE, '').replace(/\s+/g, ' ').trim(),
    CHAT_LIMITS.nameLength,
  );
}

/** A message as others will see it; at most two line breaks in a row. */
export function cleanChatMessage(raw: string): Result<string, ChatTextRefusal> {
  const text = raw.normalize('NFC').replace(/\r\n?/g, '\n').replace(INVISIBLE, '');
  return within(text.replace(/\n{3,}/g, '\n\n').trim(), CHAT_LIMITS.messageLength);
}

function within(text: string, limit: number): Result<string, ChatTextRefusal> {
  const length = [...text].length;
  if (length === 0) return refuse({ code: 'empty' });
  return length > limit ? refuse({ code: 'too-long', length, limit }) : succeed(text);
}
