import { CHECK_WORDS } from '@heliphon/contracts/check-words';
import { shortDay, timeOfDay } from '@heliphon/contracts/time-words';
import type { Duty } from '@heliphon/core/duties/duties';
import type { Check } from '@heliphon/core/readiness/readiness';
import { openChecks } from '@heliphon/core/readiness/open-checks';
import { type LetterText, SIGN } from '../letters/letter-texts.js';

export interface MorningEvent {
  readonly title: string;
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
  readonly isCancelled: boolean;
  readonly checks: readonly Check[];
  readonly people: readonly { readonly duty: Duty; readonly name: string; readonly isSure: boolean }[];
  /** Its page in the console. */
  readonly link: string;
}

const WEIGHTS = { stops: 'must be put right', warns: 'should be put right', advises: 'to know' } as const;

/** What is on today and what is still to do for it, and what is open in the days after. */
export function morningLetter(facts: {
  readonly name: string;
  readonly houseName: string;
  readonly zone: string;
  readonly today: readonly MorningEvent[];
  /** Of the days after, only what has something open. */
  readonly soon: readonly MorningEvent[];
}): LetterText {
  const { name, houseName, zone, today, soon } = facts;
  const open = today.flatMap(({ checks }) => openChecks(checks)).length;
  const parts = [
    today.length > 0 ? `Today:\n\n${today.map((event) => eventText(event, zone, false)).join('\n\n')}` : '',
    soon.length > 0 ? `Coming up:\n\n${soon.map((event) => eventText(event, zone, true)).join('\n\n')}` : '',
  ].filter(Boolean);
  const count = today.length === 1 ? '“' + today[0]!.title + '”' : `${today.length} events`;
  const toDo = open === 0 ? 'nothing left to do' : `${open} still to do`;
  return {
    subject: today.length > 0 ? `${count} today: ${toDo}` : `Something to do for ${houseName}`,
    text: `Dear ${name},

${parts.join('\n\n')}

You get this email in the morning when something is on or needs doing. Switch it off under Our house, My access.

${SIGN}`,
  };
}

function eventText(event: MorningEvent, zone: string, hasDay: boolean): string {
  const { title, startsAtMs, stopsAtMs, isCancelled, checks, people, link } = event;
  const day = hasDay ? `${shortDay(startsAtMs, zone)}, ` : '';
  const when = `${day}${timeOfDay(startsAtMs, zone)} to ${timeOfDay(stopsAtMs, zone)}`;
  if (isCancelled) return `${when}  ${title}: cancelled`;
  const open = openChecks(checks).map(({ code, status, detail }) => {
    const words = CHECK_WORDS[code];
    return `  - ${words.open(detail)} (${WEIGHTS[status as keyof typeof WEIGHTS]}). ${words.reason(detail)}`;
  });
  const onDuty = people.map(({ duty, name, isSure }) => `${name} (${duty}${isSure ? '' : ', not answered'})`);
  return [
    `${when}  ${title}`,
    onDuty.length > 0 ? `  On duty: ${onDuty.join(', ')}` : '',
    ...(open.length > 0 ? open : ['  Everything is ready.']),
    `  ${link}`,
  ]
    .filter(Boolean)
    .join('\n');
}
