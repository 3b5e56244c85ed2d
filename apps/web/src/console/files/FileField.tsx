import { type ReactNode, useState } from 'react';
import type { FileKind } from '@heliphon/core/files/file-kinds';
import { Button } from '../../ui/Button.js';
import { ChooseFile } from './ChooseFile.js';

interface FileFieldProps {
  readonly label: string;
  readonly kind: FileKind;
  /** What was chosen, as it is shown; `null` while nothing is. */
  readonly chosen: ReactNode | null;
  /** What is said while nothing is chosen. */
  readonly empty: string;
  readonly choose: ReactNode;
  readonly remove: string;
  readonly disabled?: boolean;
  readonly error: string | null;
  readonly onChange: (fileId: string | null) => void;
}

/** A file of the house that is used for something: chosen from the files, or none. */
export function FileField({
  label,
  kind,
  chosen,
  empty,
  choose,
  remove,
  disabled = false,
  error,
  onChange,
}: FileFieldProps) {
  const [isChoosing, setChoosing] = useState(false);
  return (
    <div role="group" aria-label={label} className="grid content-start gap-1">
      <span className="font-semibold">{label}</span>
      <div className="flex flex-wrap items-center gap-3">
        {chosen ?? <p className="min-w-40 flex-1 text-ink-soft">{empty}</p>}
        <Button disabled={disabled} onClick={() => setChoosing(true)}>
          {choose}
        </Button>
        {chosen !== null && (
          <Button kind="quiet" disabled={disabled} onClick={() => onChange(null)}>
            {remove}
          </Button>
        )}
      </div>
      {error && (
        <p role="alert" className="text-[13px] text-rust">
          {error}
        </p>
      )}
      {isChoosing && (
        <ChooseFile
          kind={kind}
          onClose={() => setChoosing(false)}
          onChoose={({ id }) => {
            setChoosing(false);
            onChange(id);
          }}
        />
      )}
    </div>
  );
}
