import type { Answer, Duty } from '@heliphon/core/duties/duties';

/** What each duty is on the day. */
export const DUTY_WORDS: Readonly<Record<Duty, { readonly name: string; readonly does: string }>> = {
  producer: { name: 'Producer', does: 'is responsible for the event' },
  operator: { name: 'Operator', does: 'runs the desk' },
  moderator: { name: 'Moderator', does: 'looks after the chat' },
};

export const answerWords = (answer: Answer | null): string =>
  answer === 'yes' ? 'will come' : answer === 'no' ? 'cannot come' : 'has not answered yet';
