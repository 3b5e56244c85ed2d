import type { ChatMessage, ChatPage } from '@heliphon/contracts/chat';

/** What is shown of a chat: each message once, in the order of speaking, at its newest state. */
export interface ChatLog {
  readonly messages: readonly ChatMessage[];
  /** Up to where the log is whole: `?after=` takes it. */
  readonly seq: number;
  /** News came from beyond a gap: what lies between is to be asked for. */
  readonly hasGap: boolean;
}

export const EMPTY_LOG: ChatLog = { messages: [], seq: 0, hasGap: false };
const KEPT = 500;

/** Takes in what was pushed; repeats and late news do no harm. Numbers rise by one, so that a gap shows. */
export function takePushed(log: ChatLog, arrived: readonly ChatMessage[]): ChatLog {
  if (arrived.length === 0) return log;
  let { seq, hasGap } = log;
  for (const message of arrived.toSorted((a, b) => a.seq - b.seq)) {
    if (message.seq === seq + 1) seq += 1;
    else if (message.seq > seq) hasGap = true;
  }
  return { messages: merged(log, arrived), seq, hasGap };
}

/**
 * Takes in an answer to `?after=`: the log is whole up to the end of the page. What was pushed from beyond that while the
 * answer was on its way shows a gap again; an answer with nothing in it ends the asking.
 */
export function takePage(log: ChatLog, page: ChatPage): ChatLog {
  const messages = merged(log, page.messages);
  const seq = Math.max(log.seq, page.seq);
  const isBeyond = page.messages.length > 0 && messages.some((message) => message.seq > seq);
  return { messages, seq, hasGap: page.hasMore || isBeyond };
}

function merged(log: ChatLog, arrived: readonly ChatMessage[]): readonly ChatMessage[] {
  const byId = new Map(log.messages.map((message) => [message.id, message]));
  for (const message of arrived) {
    const known = byId.get(message.id);
    if (!known || known.seq <= message.seq) byId.set(message.id, message);
  }
  return [...byId.values()].sort((a, b) => a.atMs - b.atMs || a.seq - b.seq).slice(-KEPT);
}
