import type { Fault } from '@heliphon/core/faults/fault';
import { type FaultNames, faultSentences, noticedSentence } from '@heliphon/contracts/fault-words';
import { timeOfDay } from '@heliphon/contracts/time-words';
import { type LetterText, SIGN } from '../letters/letter-texts.js';

/** Something has been wrong with an event for a minute. @param facts - the heaviest fault comes first. */
export function faultLetter(facts: {
  readonly name: string;
  readonly houseName: string;
  readonly zone: string;
  readonly title: string;
  readonly faults: readonly { readonly fault: Fault; readonly names: FaultNames }[];
  readonly link: string;
}): LetterText {
  const [first] = facts.faults;
  const told = facts.faults.map(({ fault, names }) => {
    const { now, help } = faultSentences(fault, names);
    return `- Since ${timeOfDay(fault.fromMs, facts.zone)}: ${now} ${noticedSentence(fault)}\n  What helps: ${help}`;
  });
  return {
    subject: `${facts.title}: ${first ? faultSentences(first.fault, first.names).now : ''}`,
    text: `Dear ${facts.name},

you are on duty for ${facts.title} at ${facts.houseName}, which is on air. Something needs attention:

${told.join('\n')}

The desk shows how it stands:
${facts.link}

${SIGN}`,
  };
}
