import type { ChatMessage } from '@heliphon/contracts/chat';

/** What is shown of a chat: each message once, in the order of speaking, at its newest state. */
export interface ChatLog {
  readonly messages: readonly ChatMessage[];
  /** Up to where the log is whole: `?after=` takes it. */
  readonly seq: number;
}

export const EMPTY_LOG: ChatLog = { messages: [], seq: 0 };
const KEPT = 500;

/** Takes in what came by push or by asking; repeats and late news do no harm. */
export function mergeMessages(log: ChatLog, arrived: readonly ChatMessage[]): ChatLog {
  if (arrived.length === 0) return log;
  const byId = new Map(log.messages.map((message) => [message.id, message]));
  for (const message of arrived) {
    const known = byId.get(message.id);
    if (!known || known.seq <= message.seq) byId.set(message.id, message);
  }
  const messages = [...byId.values()].sort((a, b) => a.atMs - b.atMs || a.seq - b.seq).slice(-KEPT);
  return { messages, seq: Math.max(log.seq, ...arrived.map((message) => message.seq)) };
}
