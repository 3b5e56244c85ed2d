import type { ChatMessage } from '@heliphon/contracts/chat';
import type { ChatMessageEntity } from '../tables/chat.entity.js';

/** A message as moderators get it. */
export const messageView = (row: ChatMessageEntity): ChatMessage => ({
  id: row.id,
  seq: row.seq,
  author: row.author,
  authorId: row.authorId,
  byHouse: row.byHouse,
  text: row.text,
  atMs: row.atMs,
  hiddenBy: row.hiddenBy,
});

/** What the public gets of a message: of a hidden one neither its words nor who hid it. */
export const forPublic = (message: ChatMessage): ChatMessage =>
  message.hiddenBy === null
    ? { ...message, authorId: null }
    : { ...message, authorId: null, text: null, hiddenBy: '' };
