import type { Duty, DutyDate, DutyNews } from '@heliphon/core/duties/duties';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { type LetterText, SIGN } from '../letters/letter-texts.js';

/** What somebody is asked for, what has changed of it, and what they need not do any more. */
export function dutyNewsLetter(
  facts: {
    readonly name: string;
    readonly houseName: string;
    readonly zone: string;
    readonly link: string;
  } & Pick<DutyNews, 'asked' | 'changed' | 'released'>,
): LetterText {
  const { name, houseName, zone, link, asked, changed, released } = facts;
  const line = ({ startsAtMs, title, duty }: DutyDate, more = ''): string =>
    `- ${dayAndTime(startsAtMs, zone)}: ${title}, as ${duty}${more}`;
  const parts = [
    asked.length > 0 &&
      `Could you help on ${asked.length === 1 ? 'this date' : 'these dates'}:\n${asked.map((date) => line(date)).join('\n')}`,
    changed.length > 0 &&
      `This has changed:\n${changed.map((date) => line(date, date.isOff ? ' (cancelled: no need to come)' : ' (new time)')).join('\n')}`,
    released.length > 0 && `You are no longer needed on:\n${released.map((date) => line(date)).join('\n')}`,
  ].filter(Boolean);
  const subject =
    asked.length > 0
      ? `Can you come? ${asked.length === 1 ? dayAndTime(asked[0]!.startsAtMs, zone) : `${asked.length} dates`} at ${houseName}`
      : `Your duties at ${houseName} have changed`;
  return {
    subject,
    text: `Dear ${name},

${parts.join('\n\n')}

Let us know whether you can come, or see all your dates: ${link}

This link is just for you: anyone who has it can answer for you.

${SIGN}`,
  };
}

/** Somebody cannot come: who does it instead, or that nobody was found. */
export const cannotComeLetter = (facts: {
  readonly name: string;
  readonly who: string;
  readonly duty: Duty;
  readonly note: string;
  readonly title: string;
  readonly startsAtMs: number;
  readonly zone: string;
  readonly standIn: string | null;
}): LetterText => ({
  subject: `${facts.who} cannot come: ${facts.title}, ${dayAndTime(facts.startsAtMs, facts.zone)}`,
  text: `Dear ${facts.name},

${facts.who} cannot come as ${facts.duty} for “${facts.title}” on ${dayAndTime(facts.startsAtMs, facts.zone)}.${facts.note ? `\nThey say: “${facts.note}”` : ''}

${
  facts.standIn
    ? `${facts.standIn} is next on the rota and has been asked.`
    : 'Nobody has been asked instead. Choose somebody under Plan.'
}

${SIGN}`,
});
