import type { SignalReportView } from '@heliphon/contracts/signal';
import { namesIn } from '@heliphon/contracts/fault-words';
import {
  changeSentence,
  faultAccount,
  loudnessSentence,
  repeatedSentence,
  verdictSentence,
} from '@heliphon/contracts/report-words';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { type LetterText, SIGN } from '../letters/letter-texts.js';

/** In a letter only the dearest; the page has all of them. */
const MOST_FAULTS = 8;

/** How an event's signal was, for those who were on duty. */
export function reportLetter(facts: {
  readonly name: string;
  readonly houseName: string;
  readonly zone: string;
  readonly view: SignalReportView;
  readonly link: string;
}): LetterText {
  const { view, zone } = facts;
  const { report, names, endAtMs } = view;
  const faults = report.faults.slice(0, MOST_FAULTS).map((fault) => {
    const account = faultAccount(fault, namesIn(names, fault.subjectId), endAtMs);
    return `- ${timeOfDay(fault.fromMs, zone)}  ${account}`;
  });
  const repeated = view.repeated.map((one) => `- ${repeatedSentence(one, namesIn(names, one.subjectId))}`);
  const parts = [
    verdictSentence(report),
    faults.length > 0 ? `What went wrong:\n${faults.join('\n')}` : 'Nothing went wrong.',
    repeated.length > 0 ? `Not for the first time:\n${repeated.join('\n')}` : '',
    loudnessSentence(report),
    `Before next time: ${changeSentence(report, (fault) => namesIn(names, fault.subjectId))}`,
    `The whole report:\n${facts.link}`,
  ].filter(Boolean);
  return {
    subject: `How ${view.title} went`,
    text: `Dear ${facts.name},

thank you for looking after ${view.title} at ${facts.houseName}.

${parts.join('\n\n')}

${SIGN}`,
  };
}
