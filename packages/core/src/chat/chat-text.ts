import { type Result, refuse, succeed } from '../result.js';
import { cleanLine, withoutInvisible } from '../text/plain-text.js';

export const CHAT_LIMITS = { nameLength: 40, messageLength: 500 } as const;

export type ChatTextRefusal =
  { readonly code: 'empty' } | { readonly code: 'too-long'; readonly length: number; readonly limit: number };

/** A name as others will see it: one line, no invisible characters. Markup stays text; nobody renders it. */
export function cleanChatName(raw: string): Result<string, ChatTextRefusal> {
  return within(cleanLine(raw), CHAT_LIMITS.nameLength);
}

/** A message as others will see it; at most two line breaks in a row. */
export function cleanChatMessage(raw: string): Result<string, ChatTextRefusal> {
  const text = withoutInvisible(raw).replace(/\r\n?/g, '\n');
  return within(text.replace(/\n{3,}/g, '\n\n').trim(), CHAT_LIMITS.messageLength);
}

function within(text: string, limit: number): Result<string, ChatTextRefusal> {
  const length = [...text].length;
  if (length === 0) return refuse({ code: 'empty' });
  return length > limit ? refuse({ code: 'too-long', length, limit }) : succeed(text);
}
