import { CHECK_WORDS } from '@heliphon/contracts/check-words';
import { shortDay, timeOfDay } from '@heliphon/contracts/time-words';
import type { Check } from '@heliphon/core/readiness/readiness';
import { type LetterText, SIGN } from '../letters/letter-texts.js';

/** An event that a linked account has to be in order for. */
export interface AwaitedEvent {
  readonly title: string;
  readonly startsAtMs: number;
}

/** That something is wrong with a linked account, in time to do something about it. */
export function accountLetter(facts: {
  readonly name: string;
  readonly houseName: string;
  readonly zone: string;
  /** Each trouble once, as readiness has it. */
  readonly troubles: readonly Check['detail'][];
  readonly events: readonly AwaitedEvent[];
  readonly link: string;
}): LetterText {
  const { name, houseName, zone, troubles, events, link } = facts;
  const { open, reason } = CHECK_WORDS.accounts;
  const wrong = troubles.map((detail) => `- ${open(detail)}. ${reason(detail)}`);
  const awaited = events.map(
    ({ title, startsAtMs }) => `- ${shortDay(startsAtMs, zone)}, ${timeOfDay(startsAtMs, zone)}  ${title}`,
  );
  return {
    subject: `${open(troubles[0]!)} (${houseName})`,
    text: `Dear ${name},

something has to be put right with a linked account of ${houseName}:

${wrong.join('\n')}

It matters for:

${awaited.join('\n')}

Link the account again, or see what is the matter, under “Where it goes”:
${link}

${SIGN}`,
  };
}
