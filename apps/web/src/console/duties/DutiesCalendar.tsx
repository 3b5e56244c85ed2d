import type { ReactNode } from 'react';
import { CopyField } from '../../ui/CopyField.js';
import { DUTIES_TEXT } from '../../words/console/duties.js';

interface DutiesCalendarProps {
  readonly address: string;
  /** What to do with it. */
  readonly words: string;
  readonly children?: ReactNode;
}

/** The address by which one's dates stand in a calendar program. */
export function DutiesCalendar({ address, words, children }: DutiesCalendarProps) {
  return (
    <section
      aria-label={DUTIES_TEXT.addToMyCalendar}
      className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-3 border-t border-line pt-4"
    >
      <h2 className="text-[19px]">{DUTIES_TEXT.addToMyCalendar}</h2>
      <p className="text-ink-soft">{words}</p>
      <CopyField
        secret
        label={DUTIES_TEXT.privateAddress}
        value={address}
        what={DUTIES_TEXT.theCalendarsAddress}
      />
      {children}
    </section>
  );
}
