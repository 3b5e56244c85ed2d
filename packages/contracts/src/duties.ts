import type { Answer, Duty } from '@heliphon/core/duties/duties';
import type { EventState } from '@heliphon/core/schedule/event-life';

/** Somebody's own duties, as they see them: at the console, or by the private address of a letter. */
export interface OwnDuties {
  readonly personName: string;
  readonly houseName: string;
  /** The same in a calendar program; at this address by anyone who has it. */
  readonly calendar: string;
  /** From today on, by their start; the next hundred. */
  readonly items: readonly OwnDuty[];
}

export interface OwnDuty {
  readonly eventId: string;
  readonly title: string;
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
  readonly zone: string;
  readonly state: EventState;
  readonly duty: Duty;
  readonly answer: Answer | null;
  readonly note: string;
  /** Who does it instead, once somebody does. */
  readonly standIn: string | null;
}

export interface AnswerDuty {
  readonly eventId: string;
  readonly duty: Duty;
  readonly answer: Answer;
  readonly note: string;
}

export const DUTY_NOTE_LENGTH = 200;
