import { type ReactNode, useState } from 'react';
import { useParams } from 'react-router';
import type { WatchRulePart, WatchRules } from '@heliphon/core/access/watch-rules';
import { LEVELS, type Level } from '@heliphon/core/inherited';
import type { WatchingView } from '@heliphon/contracts/watching';
import { useCan, useSession } from '../../data/session.js';
import { setWatching, useWatching, watchingPath } from '../../data/watching.js';
import { Button } from '../../ui/Button.js';
import { CheckField } from '../../ui/Field.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';
import { NotHere } from '../frame/NotHere.js';
import { changedParts, type PartsChange } from '../inherited/changed-parts.js';
import { Origin } from '../inherited/Origin.js';
import { AdmissionChoice } from './AdmissionChoice.js';
import { CountryRuleField } from './CountryRuleField.js';
import { InvitedPart } from './InvitedPart.js';
import { PasswordPart } from './PasswordPart.js';
import { SeenAsPart } from './SeenAsPart.js';
import { SiteRuleField } from './SiteRuleField.js';

/** `/watching/house`, or `/watching/channel|series|event/ID`. */
export function WatchingPage() {
  const { level: named, id } = useParams();
  const { data: session } = useSession();
  const level = LEVELS.find((known) => known === named);
  if (!level || (level !== 'house') !== (id !== undefined)) return <NotHere />;
  const subjectId = id ?? session?.house.id;
  return subjectId ? <WatchingAt key={subjectId} level={level} id={subjectId} /> : null;
}

function WatchingAt({ level, id }: { level: Level; id: string }) {
  const path = watchingPath(level, id);
  const { data, error, mutate } = useWatching(path);
  if (data) return <WatchingEditor view={data} path={path} />;
  return (
    <div className="p-5">
      {error ? (
        <Failed error={error} onRetry={() => void mutate()} />
      ) : (
        <Loading what={WATCHING_TEXT.whoMayWatch} rows={6} />
      )}
    </div>
  );
}

interface WatchingEditorProps {
  readonly view: WatchingView;
  readonly path: string;
}

function WatchingEditor({ view, path }: WatchingEditorProps) {
  const [change, setChange] = useState<PartsChange<WatchRules>>({});
  const isHouse = view.level === 'house';
  const canEdit = useCan(isHouse ? 'house.edit' : 'events.edit');
  const action = useAction();
  const { own, shown } = changedParts<WatchRules>(view, change);
  const kept = { ...view.above.value, ...view.own };
  const isChanged = Object.keys(change).length > 0;
  const isIncomplete = shown.value.sites?.hosts.length === 0 || shown.value.countries?.codes.length === 0;
  const needs = (admission: string): boolean =>
    [kept.live, kept.replay, shown.value.live, shown.value.replay].some((one) => one === admission);
  const say = (said: Partial<WatchRules>): void => setChange({ ...change, ...said });
  const origin = (part: WatchRulePart, what: string): ReactNode => (
    <Origin
      what={what}
      from={shown.from[part]}
      isOwn={own[part] !== undefined}
      onTakeBack={() => setChange({ ...change, [part]: undefined })}
    />
  );
  const keep = (): Promise<void> =>
    action.run(async () => {
      await setWatching(path, view.version, own);
      setChange({});
      toldWithUndo(WATCHING_TEXT.isKept, view.id);
    });
  return (
    <div className="px-5 pt-4 pb-8">
      <h1 className="text-[27px]">{WATCHING_TEXT.whoMayWatchOf(view.name)}</h1>
      <p className="mb-4 max-w-[70ch] text-ink-soft">
        {canEdit
          ? isHouse
            ? WATCHING_TEXT.forChannelSeriesEvent
            : WATCHING_TEXT.fromAboveUnlessChanged
          : isHouse
            ? WATCHING_TEXT.onlyAnOwner
            : WATCHING_TEXT.youCannotChange}
      </p>
      <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(360px,480px)]">
        <div className="grid min-w-0 content-start gap-6">
          <fieldset disabled={!canEdit} className="grid min-w-0 gap-6">
            <div className="grid gap-6 md:grid-cols-2">
              <AdmissionChoice
                label={WATCHING_TEXT.live}
                value={shown.value.live}
                origin={origin('live', WATCHING_TEXT.live)}
                onChoose={(live) => say({ live })}
              />
              <AdmissionChoice
                label={WATCHING_TEXT.replay}
                value={shown.value.replay}
                origin={origin('replay', WATCHING_TEXT.replay)}
                onChoose={(replay) => say({ replay })}
              />
            </div>
            <div className="grid items-start gap-6 border-t border-line pt-4 md:grid-cols-2">
              <SiteRuleField
                key={String(change.sites === undefined)}
                value={shown.value.sites}
                origin={origin('sites', WATCHING_TEXT.websites)}
                error={fieldSentence(action.error, 'own.sites.hosts')}
                onChange={(sites) => say({ sites })}
              />
              <CountryRuleField
                value={shown.value.countries}
                origin={origin('countries', WATCHING_TEXT.countries)}
                onChange={(countries) => say({ countries })}
              />
            </div>
            <div className="flex flex-wrap items-center gap-x-4 border-t border-line pt-3">
              <CheckField
                label={WATCHING_TEXT.showsTitle}
                value={shown.value.showsTitle}
                onChange={(showsTitle) => say({ showsTitle })}
              />
              {origin('showsTitle', WATCHING_TEXT.title)}
            </div>
            {isChanged && (
              <div className="sticky bottom-0 grid gap-2 border-t border-line bg-ground py-3">
                <Fault error={action.error} />
                <div className="flex flex-wrap gap-3">
                  <Button kind="main" disabled={action.isBusy || isIncomplete} onClick={() => void keep()}>
                    {WATCHING_TEXT.keep}
                  </Button>
                  <Button onClick={() => setChange({})}>{WATCHING_TEXT.discard}</Button>
                </div>
              </div>
            )}
          </fieldset>
          {canEdit && needs('password') && <PasswordPart view={view} path={path} />}
          {canEdit && needs('invited') && <InvitedPart view={view} path={path} />}
        </div>
        <SeenAsPart path={path} rules={kept} version={view.version} />
      </div>
    </div>
  );
}
