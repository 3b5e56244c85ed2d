import { type FormEvent, useState } from 'react';
import type { WebsiteFinding } from '@heliphon/contracts/websites';
import { checkWebsite } from '../../data/websites.js';
import { Button } from '../../ui/Button.js';
import { TextField } from '../../ui/Field.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { findingWords, WEBSITES_TEXT } from '../../words/console/websites.js';
import { fieldSentence } from '../../words/problems.js';

/** Looks at a page of the house's website, and says in words whether it shows there. */
export function CheckPart({ path }: { path: string }) {
  const [address, setAddress] = useState('');
  const [finding, setFinding] = useState<WebsiteFinding | null>(null);
  const action = useAction();
  const look = (submitted: FormEvent): void => {
    submitted.preventDefault();
    setFinding(null);
    void action.run(async () => {
      const { websites } = await checkWebsite(path, address.trim());
      const latest = websites.reduce((one, other) =>
        (other.checkedAtMs ?? 0) > (one.checkedAtMs ?? 0) ? other : one,
      );
      setFinding(latest.finding);
    });
  };
  return (
    <section aria-label={WEBSITES_TEXT.doesItShow} className="grid gap-3 border-t border-line pt-4">
      <h2 className="text-[19px]">{WEBSITES_TEXT.doesItShow}</h2>
      <form onSubmit={look} className="flex max-w-[680px] flex-wrap items-start gap-3">
        <div className="min-w-[260px] flex-1">
          <TextField
            label={WEBSITES_TEXT.pageAddress}
            hint={WEBSITES_TEXT.pageAddressHint}
            error={fieldSentence(action.error, 'address')}
            value={address}
            inputMode="url"
            autoComplete="url"
            spellCheck={false}
            onChange={({ target }) => setAddress(target.value)}
          />
        </div>
        <Button type="submit" kind="main" className="mt-7" disabled={action.isBusy || address.trim() === ''}>
          {action.isBusy ? WEBSITES_TEXT.looking : WEBSITES_TEXT.look}
        </Button>
      </form>
      <div role="status">{finding && <Finding finding={finding} />}</div>
      <Fault error={action.error} exceptAt={['address']} />
    </section>
  );
}

/** What was found, and what to do about it. */
export function Finding({ finding }: { finding: WebsiteFinding }) {
  const { isGood, says, todo } = findingWords(finding);
  return (
    <p className="flex max-w-[70ch] items-start gap-2">
      <span className="mt-0.5">
        <Mark name={isGood ? 'passed' : 'caution'} sizePx={18} />
      </span>
      <span>
        <span className="font-semibold">{says}</span> {todo}
      </span>
    </p>
  );
}
