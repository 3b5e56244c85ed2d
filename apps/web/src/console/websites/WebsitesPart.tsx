import { withSite } from '@heliphon/core/access/watch-rules';
import { mayShow } from '@heliphon/core/websites/judge-page';
import { dayAndTime } from '@heliphon/contracts/time-words';
import type { WebsitesView, WebsiteView } from '@heliphon/contracts/websites';
import { useZone } from '../../data/session.js';
import { setWatching, useWatching, watchingPath } from '../../data/watching.js';
import { checkWebsite, forgetWebsite, useWebsites } from '../../data/websites.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { WEBSITES_TEXT } from '../../words/console/websites.js';
import { Finding } from './CheckPart.js';

interface WebsitesPartProps {
  readonly view: WebsitesView;
  readonly path: string;
  readonly canEdit: boolean;
}

/** On which websites it stands, how many watched there, and one step to allow or refuse each. */
export function WebsitesPart({ view, path, canEdit }: WebsitesPartProps) {
  return (
    <section aria-label={WEBSITES_TEXT.whereItShows} className="border-t border-line pt-4">
      <h2 className="mb-2 text-[19px]">{WEBSITES_TEXT.whereItShows}</h2>
      {view.websites.length === 0 && <p className="text-ink-soft">{WEBSITES_TEXT.nowhereYet}</p>}
      <ul>
        {view.websites.map((website) => (
          <WebsiteRow key={website.id} website={website} view={view} path={path} canEdit={canEdit} />
        ))}
      </ul>
    </section>
  );
}

interface WebsiteRowProps extends WebsitesPartProps {
  readonly website: WebsiteView;
}

function WebsiteRow({ website, view, path, canEdit }: WebsiteRowProps) {
  const { host, address, finding, checkedAtMs, seenAtMs, mostViewers } = website;
  const zone = useZone();
  const action = useAction();
  const watching = watchingPath(view.level, view.id);
  const { data: rules } = useWatching(watching);
  const { mutate } = useWebsites(path);
  const isAllowed = mayShow(view.sites, host);
  const changed = withSite(view.sites, host, !isAllowed);
  const allow = (): Promise<void> =>
    action.run(async () => {
      await setWatching(watching, rules!.version, { ...rules!.own, sites: changed! });
      await mutate();
      toldWithUndo(WEBSITES_TEXT.changed, view.id);
    });
  const facts = [
    seenAtMs === null ? WEBSITES_TEXT.neverOpened : WEBSITES_TEXT.lastOpened(dayAndTime(seenAtMs, zone)),
    ...(mostViewers > 0 ? [WEBSITES_TEXT.mostViewers(mostViewers)] : []),
    ...(isAllowed ? [] : [WEBSITES_TEXT.notAllowed]),
  ];
  return (
    <li className="grid gap-1 border-t border-line py-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <div className="min-w-0 flex-1 basis-64">
          <p className="font-semibold break-all">{address ?? host}</p>
          <p className="text-[13px] text-ink-soft">{facts.join(' · ')}</p>
        </div>
        {canEdit && (
          <div className="flex flex-wrap gap-2">
            {address && (
              <Button
                aria-label={WEBSITES_TEXT.lookAgainAt(host)}
                disabled={action.isBusy}
                onClick={() => void action.run(async () => void (await checkWebsite(path, address)))}
              >
                {WEBSITES_TEXT.lookAgain}
              </Button>
            )}
            {rules && changed !== undefined && (
              <Button
                aria-label={isAllowed ? WEBSITES_TEXT.refuseAt(host) : WEBSITES_TEXT.allowAt(host)}
                disabled={action.isBusy}
                onClick={() => void allow()}
              >
                {isAllowed ? WEBSITES_TEXT.refuse : WEBSITES_TEXT.allow}
              </Button>
            )}
            <Button
              kind="quiet"
              aria-label={WEBSITES_TEXT.forgetAt(host)}
              disabled={action.isBusy}
              onClick={() => void action.run(async () => void (await forgetWebsite(path, website.id)))}
            >
              {WEBSITES_TEXT.forget}
            </Button>
          </div>
        )}
      </div>
      {finding && checkedAtMs !== null && (
        <div className="flex flex-wrap items-baseline gap-x-4">
          <Finding finding={finding} />
          <span className="text-[13px] text-ink-soft">
            {WEBSITES_TEXT.lookedAt(dayAndTime(checkedAtMs, zone))}
          </span>
        </div>
      )}
      <Fault error={action.error} />
    </li>
  );
}
