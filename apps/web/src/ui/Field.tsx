import { type InputHTMLAttributes, type ReactNode, type TextareaHTMLAttributes, useId } from 'react';
import { UI_TEXT } from '../words/ui.js';

const BOX =
  'w-full rounded-md border border-edge bg-surface px-3 text-ink aria-invalid:border-rust aria-invalid:border-2 disabled:border-line disabled:bg-sunk disabled:text-ink-soft';

interface FieldProps {
  readonly label: string;
  readonly needed?: boolean;
  readonly hint?: ReactNode;
  readonly error?: string | null;
  readonly children: (props: {
    id: string;
    'aria-describedby': string | undefined;
    'aria-invalid': boolean;
  }) => ReactNode;
}

/** A visible label, what is to be known about it, and what is wrong with it. */
export function Field({ label, needed = false, hint, error, children }: FieldProps) {
  const id = useId();
  const noteId = error || hint ? `${id}-note` : undefined;
  return (
    <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-1">
      <label htmlFor={id} className="font-semibold">
        {label} {needed && <span className="font-normal text-ink-soft">{UI_TEXT.needed}</span>}
      </label>
      {children({ id, 'aria-describedby': noteId, 'aria-invalid': Boolean(error) })}
      {noteId && (
        <p
          id={noteId}
          className={`text-[13px] ${error ? 'text-rust' : 'text-ink-soft'}`}
          role={error ? 'alert' : undefined}
        >
          {error ?? hint}
        </p>
      )}
    </div>
  );
}

type Common = Omit<FieldProps, 'children'>;

export function TextField({
  label,
  needed,
  hint,
  error,
  className = '',
  ...rest
}: Common & InputHTMLAttributes<HTMLInputElement>) {
  return (
    <Field label={label} needed={needed ?? false} hint={hint} error={error ?? null}>
      {(wiring) => <input {...rest} {...wiring} className={`${BOX} min-h-10 ${className}`} />}
    </Field>
  );
}

export function TextArea({
  label,
  needed,
  hint,
  error,
  ...rest
}: Common & TextareaHTMLAttributes<HTMLTextAreaElement>) {
  return (
    <Field label={label} needed={needed ?? false} hint={hint} error={error ?? null}>
      {(wiring) => <textarea {...rest} {...wiring} className={`${BOX} min-h-20 py-2`} />}
    </Field>
  );
}

interface SelectProps extends Common {
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly options: readonly { readonly value: string; readonly label: string }[];
  readonly disabled?: boolean;
}

export function SelectField({ label, needed, hint, error, value, onChange, options, disabled }: SelectProps) {
  return (
    <Field label={label} needed={needed ?? false} hint={hint} error={error ?? null}>
      {(wiring) => (
        <select
          {...wiring}
          value={value}
          disabled={disabled}
          onChange={(event) => onChange(event.target.value)}
          className={`${BOX} min-h-10`}
        >
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.label}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}

interface CheckFieldProps {
  readonly label: string;
  readonly value: boolean;
  readonly onChange: (value: boolean) => void;
}

/** Yes or no, with the whole line to press on. */
export const CheckField = ({ label, value, onChange }: CheckFieldProps) => (
  <label className="flex min-h-10 items-center gap-3">
    <input
      type="checkbox"
      className="size-5 shrink-0"
      checked={value}
      onChange={({ target }) => onChange(target.checked)}
    />
    {label}
  </label>
);
