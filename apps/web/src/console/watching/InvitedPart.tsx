import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { INVITED_LIMITS } from '@heliphon/core/access/invited-list';
import { shortDay } from '@heliphon/contracts/time-words';
import type { InvitedView, InviteOutcome, WatchingView } from '@heliphon/contracts/watching';
import { useZone } from '../../data/session.js';
import { invitePeopleToWatch, linkOfInvited, useInvited, withdrawInvited } from '../../data/watching.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { CheckField, TextArea, TextField } from '../../ui/Field.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';

interface InvitedPartProps {
  readonly view: WatchingView;
  readonly path: string;
}

/** Who is invited to watch, with their links; a list is pasted, and any one of them withdrawn. */
export function InvitedPart({ view, path }: InvitedPartProps) {
  const [after, setAfter] = useState<string | null>(null);
  const { data, error, mutate } = useInvited(path, after);
  return (
    <section aria-label={WATCHING_TEXT.invited} className="grid gap-3 border-t border-line pt-4">
      <h2 className="font-sans text-[15px] font-semibold">{WATCHING_TEXT.invited}</h2>
      {view.invitedAbove > 0 && (
        <p className="text-ink-soft">{WATCHING_TEXT.invitedAbove(view.invitedAbove)}</p>
      )}
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={WATCHING_TEXT.invited} />}
      {data && data.items.length === 0 && after === null && (
        <p className="text-ink-soft">{WATCHING_TEXT.nobodyInvited}</p>
      )}
      <ul>
        {data?.items.map((invited) => (
          <InvitedRow key={invited.id} invited={invited} path={path} after={after} subjectId={view.id} />
        ))}
      </ul>
      <div className="flex flex-wrap gap-3">
        {after !== null && <Button onClick={() => setAfter(null)}>{WATCHING_TEXT.earlier}</Button>}
        {data?.next && <Button onClick={() => setAfter(data.next)}>{WATCHING_TEXT.more}</Button>}
      </div>
      <InviteForm path={path} onInvited={() => setAfter(null)} />
    </section>
  );
}

interface InvitedRowProps {
  readonly invited: InvitedView;
  readonly path: string;
  readonly after: string | null;
  readonly subjectId: string;
}

function InvitedRow({ invited, path, after, subjectId }: InvitedRowProps) {
  const { id, name, email, lastCameAtMs, withdrawnAtMs } = invited;
  const zone = useZone();
  const action = useAction();
  const [link, setLink] = useState<string | null>(null);
  const copy = (): Promise<void> =>
    action.run(async () => {
      const url = await linkOfInvited(path, id);
      // Where a browser hands no clipboard out, it can be copied by hand.
      if (!navigator.clipboard) return setLink(url);
      await navigator.clipboard.writeText(url);
      toast(WATCHING_TEXT.linkIsCopied(name));
    });
  const withdraw = (): Promise<void> =>
    action.run(async () => {
      await withdrawInvited(path, id, after);
      toldWithUndo(WATCHING_TEXT.isWithdrawn(name), subjectId);
    });
  const came =
    withdrawnAtMs !== null
      ? WATCHING_TEXT.withdrawn
      : lastCameAtMs === null
        ? WATCHING_TEXT.neverCame
        : WATCHING_TEXT.lastCame(shortDay(lastCameAtMs, zone));
  return (
    <li className="border-t border-line py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="min-w-0 flex-1 basis-56">
          <span className="block font-semibold break-words">{name}</span>
          <span className="block text-[13px] break-all text-ink-soft">{email}</span>
        </span>
        <span className="text-[13px] text-ink-soft">{came}</span>
        {withdrawnAtMs === null && (
          <span className="flex gap-2">
            <Button
              aria-label={WATCHING_TEXT.copyLinkOf(name)}
              disabled={action.isBusy}
              onClick={() => void copy()}
            >
              {WATCHING_TEXT.copyLink}
            </Button>
            <Button
              kind="quiet"
              aria-label={WATCHING_TEXT.withdrawOf(name)}
              disabled={action.isBusy}
              onClick={() => void withdraw()}
            >
              {WATCHING_TEXT.withdraw}
            </Button>
          </span>
        )}
      </div>
      {link && <CopyField label={WATCHING_TEXT.linkOf(name)} value={link} what={WATCHING_TEXT.theLink} />}
      <Fault error={action.error} />
    </li>
  );
}

function InviteForm({ path, onInvited }: { path: string; onInvited: () => void }) {
  const [list, setList] = useState('');
  const [devices, setDevices] = useState('2');
  const [sendsLetters, setSendsLetters] = useState(true);
  const [outcome, setOutcome] = useState<InviteOutcome | null>(null);
  const action = useAction();
  const submit = (submitted: FormEvent): void => {
    submitted.preventDefault();
    setOutcome(null);
    void action.run(async () => {
      const told = await invitePeopleToWatch(path, { list, devicesMost: Number(devices), sendsLetters });
      setOutcome(told);
      // What could not be read stays, to be put right.
      const lines = list.split(/\r\n?|\n/);
      setList(told.unreadableLines.map((line) => lines[line - 1]).join('\n'));
      onInvited();
    });
  };
  return (
    <form onSubmit={submit} className="grid max-w-[620px] gap-3" aria-label={WATCHING_TEXT.invitePeople}>
      <TextArea
        label={WATCHING_TEXT.list}
        hint={WATCHING_TEXT.listHint}
        error={fieldSentence(action.error, 'list')}
        rows={4}
        value={list}
        maxLength={INVITED_LIMITS.listLength}
        onChange={({ target }) => setList(target.value)}
      />
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <div className="w-[240px]">
          <TextField
            label={WATCHING_TEXT.devicesMost}
            type="number"
            min={1}
            max={INVITED_LIMITS.devices}
            value={devices}
            error={fieldSentence(action.error, 'devicesMost')}
            onChange={({ target }) => setDevices(target.value)}
          />
        </div>
        <CheckField label={WATCHING_TEXT.sendsLetters} value={sendsLetters} onChange={setSendsLetters} />
      </div>
      <div className="flex flex-wrap items-center gap-4">
        <Button type="submit" disabled={action.isBusy || list.trim() === ''}>
          {WATCHING_TEXT.invite}
        </Button>
        {outcome && (
          <p role="status">
            {WATCHING_TEXT.outcome(outcome.added, outcome.alreadyThere)}{' '}
            {outcome.unreadableLines.length > 0 && WATCHING_TEXT.unreadable}
          </p>
        )}
      </div>
      <Fault error={action.error} exceptAt={['list', 'devicesMost']} />
    </form>
  );
}
