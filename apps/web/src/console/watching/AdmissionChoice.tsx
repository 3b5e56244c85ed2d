import { type ReactNode, useId } from 'react';
import { type Admission, ADMISSIONS } from '@heliphon/core/access/watch-rules';
import { ADMISSION_WORDS } from '../../words/console/watching.js';

interface AdmissionChoiceProps {
  readonly label: string;
  readonly value: Admission;
  readonly origin: ReactNode;
  readonly onChoose: (admission: Admission) => void;
}

/** Whom an event is for, each choice with what it means. */
export function AdmissionChoice({ label, value, origin, onChoose }: AdmissionChoiceProps) {
  const name = useId();
  return (
    <fieldset className="grid min-w-0 content-start gap-1">
      <legend className="mb-1 font-sans text-[15px] font-semibold">{label}</legend>
      {ADMISSIONS.map((admission) => (
        <label
          key={admission}
          className="flex min-h-11 items-start gap-3 rounded-md border border-transparent px-2 py-1.5 hover:bg-hover has-checked:border-edge has-checked:bg-surface"
        >
          <input
            type="radio"
            name={name}
            className="mt-0.5 size-5 shrink-0"
            checked={value === admission}
            onChange={() => onChoose(admission)}
          />
          <span>
            <span className="block font-semibold">{ADMISSION_WORDS[admission].name}</span>
            <span className="block text-[13px] text-ink-soft">{ADMISSION_WORDS[admission].means}</span>
          </span>
        </label>
      ))}
      {origin}
    </fieldset>
  );
}
