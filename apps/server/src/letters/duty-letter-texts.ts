import type { Duty, DutyDate, DutyNews } from '@heliphon/core/duties/duties';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { type LetterText, SIGN } from './letter-texts.js';

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
      `You are asked for ${asked.length === 1 ? 'this date' : 'these dates'}:\n${asked.map((date) => line(date)).join('\n')}`,
    changed.length > 0 &&
      `This has changed:\n${changed.map((date) => line(date, date.isOff ? ' (cancelled: you need not come)' : ' (this is the time now)')).join('\n')}`,
    released.length > 0 && `You are not needed any more:\n${released.map((date) => line(date)).join('\n')}`,
  ].filter(Boolean);
  const subject =
    asked.length > 0
      ? `Can you come? ${asked.length === 1 ? dayAndTime(asked[0]!.startsAtMs, zone) : `${asked.length} dates`} at ${houseName}`
      : `Your duties at ${houseName} have changed`;
  return {
    subject,
    text: `Dear ${name},

${parts.join('\n\n')}

Say whether you can come, or see all your dates:
${link}

The address is yours alone: whoever has it can answer for you.

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

${facts.who} cannot come as ${facts.duty} to “${facts.title}” on ${dayAndTime(facts.startsAtMs, facts.zone)}.${facts.note ? `\nThey say: “${facts.note}”` : ''}

${
  facts.standIn
    ? `${facts.standIn} comes next in turn and has been asked.`
    : 'Nobody has been asked instead. Choose somebody in the plan of the event.'
}

${SIGN}`,
});
