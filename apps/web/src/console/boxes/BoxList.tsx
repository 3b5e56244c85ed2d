import { type FormEvent, useState } from 'react';
import type { BoxView } from '@heliphon/contracts/boxes';
import type { SourceView } from '@heliphon/contracts/sources';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { BOX_AWAY_AFTER_MS } from '@heliphon/core/pairing/device-grant';
import { editBox, letBoxGo, useBoxes } from '../../data/sources.js';
import { useCan, useZone } from '../../data/session.js';
import { useServerNow } from '../../data/server-clock.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { HoldButton } from '../../ui/HoldButton.js';
import { Mark } from '../../ui/Mark.js';
import { Failed, Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { boxWords, worryWords } from '../../words/boxes.js';
import { fieldSentence } from '../../words/problems.js';
import { BOXES_TEXT } from '../../words/console/boxes.js';

/** The boxes that were paired, and how each of them is. */
export function BoxList({ sources }: { sources: readonly SourceView[] }) {
  const { data, error, mutate } = useBoxes();
  if (error) return <Failed error={error} onRetry={() => void mutate()} />;
  if (!data || data.items.length === 0) return null;
  return (
    <section aria-label={BOXES_TEXT.boxes} className="mt-8">
      <h2 className="mb-2 text-[21px]">{BOXES_TEXT.boxes}</h2>
      <ul>
        {data.items.map((box) => (
          <Box key={box.id} box={box} sources={sources} />
        ))}
      </ul>
    </section>
  );
}

function Box({ box, sources }: { box: BoxView; sources: readonly SourceView[] }) {
  const nowMs = useServerNow();
  const zone = useZone();
  const canEdit = useCan('sources.edit');
  const [isOpen, setOpen] = useState(false);
  const { report, lastSeenAtMs } = box;
  const isHere = lastSeenAtMs !== null && nowMs - lastSeenAtMs < BOX_AWAY_AFTER_MS;
  const worry = isHere && report ? worryWords(report) : null;
  const source = sources.find(({ id }) => id === box.sourceId);
  return (
    <li className="border-t border-line py-3" aria-label={box.name}>
      <div className="flex flex-wrap items-center gap-4">
        <div className="flex-1">
          <h3 className="text-[17px]">{box.name}</h3>
          <p className="flex items-center gap-2">
            <Mark name={!isHere ? 'planned' : report?.isSending ? 'out' : 'passed'} />
            {isHere && report ? (
              boxWords(report)
            ) : (
              <span className="text-ink-soft">
                {lastSeenAtMs === null
                  ? BOXES_TEXT.notConnectedYet
                  : BOXES_TEXT.awaySince(dayAndTime(lastSeenAtMs, zone))}
              </span>
            )}
          </p>
          {worry && (
            <p className="flex items-center gap-2 text-plum">
              <Mark name="caution" /> {worry}
            </p>
          )}
        </div>
        <p className="text-ink-soft">
          {BOXES_TEXT.modelFor(box.model, source?.name ?? BOXES_TEXT.aDeletedSource)}
        </p>
        {canEdit && (
          <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? 'Close' : BOXES_TEXT.renameOrDisconnect}
          </Button>
        )}
      </div>
      {isOpen && <BoxSettings key={box.version} box={box} sources={sources} />}
    </li>
  );
}

function BoxSettings({ box, sources }: { box: BoxView; sources: readonly SourceView[] }) {
  const [name, setName] = useState(box.name);
  const { error, run } = useAction();
  const rename = (event: FormEvent): void => {
    event.preventDefault();
    void run(async () => {
      await editBox(box, { name });
      toldWithUndo(BOXES_TEXT.theBoxHasBeenRenamed, box.id);
    });
  };
  return (
    <form onSubmit={rename} className="grid max-w-xl gap-3 pt-3">
      <div className="flex items-end gap-2">
        <div className="flex-1">
          <TextField
            label={BOXES_TEXT.nameOfTheBox}
            value={name}
            onChange={(typed) => setName(typed.target.value)}
            error={fieldSentence(error, 'name')}
          />
        </div>
        <Button type="submit" disabled={name === box.name}>
          {BOXES_TEXT.rename}
        </Button>
      </div>
      <SelectField
        label={BOXES_TEXT.sourceForItsPicture}
        value={box.sourceId}
        onChange={(sourceId) => void run(() => editBox(box, { sourceId }))}
        options={sources
          .filter(({ kind }) => kind === 'device')
          .map((source) => ({ value: source.id, label: source.name }))}
      />
      <p className="text-ink-soft">{BOXES_TEXT.disconnectingCutsItOffAt}</p>
      <HoldButton className="justify-self-start" onHeld={() => void run(() => letBoxGo(box))}>
        {BOXES_TEXT.disconnectTheBoxHold}
      </HoldButton>
      <Fault error={error} exceptAt={['name']} />
    </form>
  );
}
