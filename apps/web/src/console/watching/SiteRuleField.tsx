import { type ReactNode, useState } from 'react';
import type { SiteRule } from '@heliphon/core/access/watch-rules';
import { SelectField, TextArea } from '../../ui/Field.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';

type Kind = SiteRule['kind'] | 'anywhere';
const KINDS: readonly { readonly value: Kind; readonly label: string }[] = [
  { value: 'anywhere', label: WATCHING_TEXT.anywhere },
  { value: 'only', label: WATCHING_TEXT.onlyOn },
  { value: 'not', label: WATCHING_TEXT.notOn },
];

interface SiteRuleFieldProps {
  readonly value: SiteRule | null;
  readonly origin: ReactNode;
  readonly error: string | null;
  readonly onChange: (rule: SiteRule | null) => void;
}

/** On which websites an event may be shown. Addresses may be pasted whole: only their hosts count. */
export function SiteRuleField({ value, origin, error, onChange }: SiteRuleFieldProps) {
  const [typed, setTyped] = useState(value?.hosts.join('\n') ?? '');
  const choose = (chosen: string): void => {
    const kind = KINDS.find((known) => known.value === chosen)!.value;
    onChange(kind === 'anywhere' ? null : { kind, hosts: hostsIn(typed) });
  };
  return (
    <div className="grid gap-3">
      <SelectField
        label={WATCHING_TEXT.websites}
        value={value?.kind ?? 'anywhere'}
        onChange={choose}
        options={KINDS}
        hint={
          <>
            {value?.kind === 'only' && `${WATCHING_TEXT.onlyOnMeans} `}
            {origin}
          </>
        }
      />
      {value && (
        <TextArea
          label={WATCHING_TEXT.websitesList}
          hint={WATCHING_TEXT.websitesHint}
          error={error ?? (value.hosts.length === 0 ? WATCHING_TEXT.chooseOne : null)}
          rows={3}
          spellCheck={false}
          value={typed}
          onChange={({ target }) => {
            setTyped(target.value);
            onChange({ kind: value.kind, hosts: hostsIn(target.value) });
          }}
        />
      )}
    </div>
  );
}

/** @returns each host once, as browsers name it */
export const hostsIn = (text: string): string[] => [
  ...new Set(
    text
      .split(/[\s,;]+/)
      .map((word) =>
        word
          .replace(/^[a-z]+:\/\//i, '')
          .replace(/[/?#].*$/, '')
          .toLowerCase(),
      )
      .filter((host) => host !== ''),
  ),
];
