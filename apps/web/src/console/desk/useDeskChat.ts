import type { ChatMessage } from '@heliphon/contracts/chat';
import { ask } from '../../data/api.js';
import { useLive } from '../../data/live.js';
import { type FollowedChat, useChatLog } from '../../data/useChatLog.js';

export interface DeskChatHandle extends Omit<FollowedChat, 'take'> {
  readonly answer: (text: string, messageId: string) => Promise<void>;
  /** A person with all they have said and will say. */
  readonly setPersonHidden: (personId: string, hidden: boolean) => Promise<void>;
  readonly setHidden: (message: ChatMessage, hidden: boolean) => Promise<void>;
}

/** An event's chat as the desk has it: everything, hidden messages too, and the means to moderate. */
export function useDeskChat(eventId: string): DeskChatHandle {
  const path = `/api/events/${eventId}/chat`;
  const { log, error, take } = useChatLog(path, eventId, useLive().socket);
  const answer = async (text: string, messageId: string): Promise<void> =>
    take([await ask<ChatMessage>(path, { method: 'POST', body: { text, messageId } })]);
  const setHidden = async (message: ChatMessage, hidden: boolean): Promise<void> =>
    take([
      await ask<ChatMessage>(`${path}/${message.id}/${hidden ? 'hide' : 'restore'}`, { method: 'POST' }),
    ]);
  const setPersonHidden = async (personId: string, hidden: boolean): Promise<void> => {
    await ask(`${path}/people/${personId}/${hidden ? 'hide' : 'restore'}`, { method: 'POST' });
  };
  return { log, error, answer, setHidden, setPersonHidden };
}
