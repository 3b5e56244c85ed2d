import { type ReactNode, useRef } from 'react';
import { logoUrl } from '@heliphon/core/appearance/palette';
import type { LookPart } from '@heliphon/core/appearance/look';
import { uploadLogo } from '../../data/looks.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { LOOK_TEXT } from '../../words/console/look.js';

interface LogoFieldProps {
  readonly part: LookPart;
  readonly label: string;
  readonly value: string | null;
  /** What is said where there is none. */
  readonly none: string;
  readonly hint: string;
  readonly ground: string;
  readonly origin: ReactNode;
  readonly onChange: (logo: string | null) => void;
}

/** The logo on the ground that it will stand on; another one is chosen from this device. */
export function LogoField({ part, label, value, none, hint, ground, origin, onChange }: LogoFieldProps) {
  const input = useRef<HTMLInputElement>(null);
  const action = useAction();
  const take = (file: File | undefined): void => {
    if (file) void action.run(async () => onChange(await uploadLogo(file)));
  };
  return (
    <div className="grid gap-2" data-part={part} tabIndex={-1}>
      {value ? (
        <img
          src={logoUrl(value)}
          alt={label}
          className="h-20 w-40 rounded-md border border-line object-contain p-2"
          style={{ background: ground }}
        />
      ) : (
        <p className="text-ink-soft">{none}</p>
      )}
      <div className="flex flex-wrap items-center gap-2">
        <Button disabled={action.isBusy} onClick={() => input.current?.click()}>
          {LOOK_TEXT.chooseALogo}
        </Button>
        {value && (
          <Button kind="quiet" onClick={() => onChange(null)}>
            {LOOK_TEXT.withoutALogo}
          </Button>
        )}
        {origin}
      </div>
      <input
        ref={input}
        type="file"
        accept="image/svg+xml,image/png,image/jpeg,image/webp,image/gif,image/avif"
        aria-label={`${LOOK_TEXT.chooseALogo}: ${label}`}
        className="sr-only"
        tabIndex={-1}
        onChange={({ target }) => {
          take(target.files?.[0]);
          // The same file may be chosen again once it has been put right.
          target.value = '';
        }}
      />
      <p className="text-[13px] text-ink-soft">{hint}</p>
      <Fault error={action.error} />
    </div>
  );
}
