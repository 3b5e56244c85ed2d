import type { EventEntity } from '../tables/event.entity.js';

export type ChatState = 'off' | 'before' | 'open' | 'closed';

/** Whether one can talk: from the doors to the end, where the event has a chat. */
export function chatStateOf(event: Pick<EventEntity, 'chatOpen' | 'state'>): ChatState {
  if (!event.chatOpen || event.state === 'cancelled') return 'off';
  if (event.state === 'planned') return 'before';
  return event.state === 'kept' ? 'closed' : 'open';
}
