import { useCallback, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { type Look, type LookPart, type OwnLook } from '@heliphon/core/appearance/look';
import { LEVELS } from '@heliphon/core/inherited';
import { checkLook } from '@heliphon/core/appearance/look-check';
import { resolveLook, type ResolvedLook } from '@heliphon/core/appearance/palette';
import { TRY_OUT_STATES, type TryOutState } from '@heliphon/contracts/try-out';
import type { LookView } from '@heliphon/contracts/look';
import { lookPath, setLook, useLook } from '../../data/looks.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { SelectField } from '../../ui/Field.js';
import { Empty, Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { LOOK_TEXT, TRY_OUT_WORDS, WIDTH_WORDS } from '../../words/console/look.js';
import { NotHere } from '../frame/NotHere.js';
import { LookFields } from './LookFields.js';
import { changedParts, type PartsChange } from '../inherited/changed-parts.js';
import { PageFrame } from '../inherited/PageFrame.js';

/** `/look/house`, or `/look/channel|series|event/ID`. */
export function LookPage() {
  const { level: named, id = '' } = useParams();
  const level = LEVELS.find((known) => known === named);
  if (!level || (level !== 'house') !== (id !== '')) return <NotHere />;
  return <LookAt key={`${level} ${id}`} path={lookPath(level, id)} />;
}

function LookAt({ path }: { path: string }) {
  const { data, error, mutate } = useLook(path);
  if (data) return <LookEditor view={data} path={path} />;
  return (
    <div className="p-5">
      {error ? (
        <Failed error={error} onRetry={() => void mutate()} />
      ) : (
        <Loading what={LOOK_TEXT.theLook} rows={6} />
      )}
    </div>
  );
}

interface LookEditorProps {
  readonly view: LookView;
  readonly path: string;
}

function LookEditor({ view, path }: LookEditorProps) {
  const [change, setChange] = useState<PartsChange<Look>>({});
  const isHouse = view.level === 'house';
  const canEdit = useCan(isHouse ? 'house.edit' : 'events.edit');
  const action = useAction();
  const { own, shown } = changedParts<Look>(view, change);
  const poor = checkLook(shown.value);
  const isChanged = Object.keys(change).length > 0;
  const column = useRef<HTMLFieldSetElement>(null);
  const turnTo = useCallback((part: LookPart) => {
    column.current?.querySelector<HTMLElement>(`[data-part="${part}"]`)?.focus();
  }, []);
  const keep = (): Promise<void> =>
    action.run(async () => {
      const kept = await setLook(path, view.version, own);
      setChange({});
      toldWithUndo(LOOK_TEXT.theLookIsKept, kept.id);
    });
  return (
    <div className="px-5 pt-4 pb-8">
      <h1 className="text-[27px]">{LOOK_TEXT.lookOf(view.name)}</h1>
      <p className="mb-4 text-ink-soft">
        {!canEdit
          ? isHouse
            ? LOOK_TEXT.onlyAnOwnerCanChange
            : LOOK_TEXT.youCannotChange
          : isHouse
            ? LOOK_TEXT.forChannelSeriesEvent
            : LOOK_TEXT.fromAboveUnlessChanged}
      </p>
      <div className="grid gap-6 lg:grid-cols-[minmax(0,1fr)_340px]">
        <SeenAs view={view} look={resolveLook(shown.value)} onPressed={turnTo} />
        <fieldset ref={column} disabled={!canEdit} className="grid min-w-0 content-start gap-4">
          <LookFields
            shown={shown}
            own={own}
            poor={poor}
            onSay={(said: OwnLook) => setChange({ ...change, ...said })}
            onTakeBack={(part) => setChange({ ...change, [part]: undefined })}
            error={(part) => fieldSentence(action.error, `own.${part}`)}
          />
          {isChanged && (
            <div className="sticky bottom-0 grid gap-2 border-t border-line bg-ground py-3">
              {poor.length > 0 && <p className="text-plum">{LOOK_TEXT.someCannotBeRead(poor.length)}</p>}
              <Fault error={action.error} />
              <div className="flex flex-wrap gap-3">
                <Button kind="main" disabled={action.isBusy} onClick={() => void keep()}>
                  {poor.length > 0 ? LOOK_TEXT.keepItAllTheSame : LOOK_TEXT.keepTheLook}
                </Button>
                <Button onClick={() => setChange({})}>{LOOK_TEXT.discardTheChanges}</Button>
              </div>
            </div>
          )}
        </fieldset>
      </div>
    </div>
  );
}

const WIDTHS_PX = [1280, 820, 390] as const;

interface SeenAsProps {
  readonly view: LookView;
  readonly look: ResolvedLook;
  readonly onPressed: (part: LookPart) => void;
}

/** The page, in one of three widths and in any state of its life. */
function SeenAs({ view, look, onPressed }: SeenAsProps) {
  const [widthPx, setWidthPx] = useState<(typeof WIDTHS_PX)[number]>(1280);
  const [state, setState] = useState<TryOutState>('now');
  const [kind, setKind] = useState<'watch' | 'embed'>('watch');
  const [light, setLight] = useState<'day' | 'night'>('day');
  const tryOut = useMemo(() => ({ type: 'try-out', look, state, light }) as const, [look, state, light]);
  if (!view.slug) return <Empty>{LOOK_TEXT.noPageYet}</Empty>;
  return (
    <section aria-label={LOOK_TEXT.thePage} className="min-w-0">
      <div className="mb-3 grid gap-4 sm:grid-cols-2 xl:grid-cols-4">
        <SelectField
          label={LOOK_TEXT.shownAs}
          value={kind}
          onChange={(value) => setKind(value === 'embed' ? 'embed' : 'watch')}
          options={[
            { value: 'watch', label: LOOK_TEXT.asPage },
            { value: 'embed', label: LOOK_TEXT.asEmbed },
          ]}
        />
        <SelectField
          label={LOOK_TEXT.widthOfThePage}
          value={String(widthPx)}
          onChange={(value) => setWidthPx(WIDTHS_PX.find((width) => String(width) === value)!)}
          options={WIDTHS_PX.map((width) => ({ value: String(width), label: WIDTH_WORDS[width] }))}
        />
        <SelectField
          label={LOOK_TEXT.asItIs}
          value={state}
          onChange={(value) => setState(TRY_OUT_STATES.find((known) => known === value)!)}
          options={TRY_OUT_STATES.map((known) => ({ value: known, label: TRY_OUT_WORDS[known] }))}
        />
        <SelectField
          label={LOOK_TEXT.onDevices}
          value={light}
          onChange={(value) => setLight(value === 'night' ? 'night' : 'day')}
          options={[
            { value: 'day', label: LOOK_TEXT.setToLight },
            { value: 'night', label: LOOK_TEXT.setToDark },
          ]}
        />
      </div>
      <p className="mb-2 text-[13px] text-ink-soft">{LOOK_TEXT.pressOnIt}</p>
      <PageFrame
        key={kind}
        kind={kind}
        slug={view.slug}
        title={LOOK_TEXT.thePage}
        tryOut={tryOut}
        widthPx={widthPx}
        onPressed={onPressed}
      />
    </section>
  );
}
