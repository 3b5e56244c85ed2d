import { useParams } from 'react-router';
import { SHOWN_LEVELS, type ShownLevel } from '@heliphon/contracts/websites';
import { useCan } from '../../data/session.js';
import { useWebsites, websitesPath } from '../../data/websites.js';
import { Failed, Loading } from '../../ui/states.js';
import { WEBSITES_TEXT } from '../../words/console/websites.js';
import { NotHere } from '../frame/NotHere.js';
import { AddressPart } from './AddressPart.js';
import { CheckPart } from './CheckPart.js';
import { EmbedPart } from './EmbedPart.js';
import { WebsitesPart } from './WebsitesPart.js';

const LEVEL_WORDS: Readonly<Record<ShownLevel, string>> = {
  event: '',
  series: WEBSITES_TEXT.seriesShows,
  channel: WEBSITES_TEXT.channelShows,
};

/** `/websites/event|series|channel/ID`: how something comes to stand on the house's website, and whether it does. */
export function WebsitesPage() {
  const { level: named, id = '' } = useParams();
  const level = SHOWN_LEVELS.find((known) => known === named);
  return level ? <WebsitesOf key={id} level={level} id={id} /> : <NotHere />;
}

function WebsitesOf({ level, id }: { level: ShownLevel; id: string }) {
  const path = websitesPath(level, id);
  const { data, error, mutate } = useWebsites(path);
  const canEdit = useCan('events.edit');
  if (!data)
    return (
      <div className="p-5">
        {error ? (
          <Failed error={error} onRetry={() => void mutate()} />
        ) : (
          <Loading what={WEBSITES_TEXT.websites} rows={6} />
        )}
      </div>
    );
  return (
    <div className="grid max-w-4xl gap-6 px-5 pt-4 pb-8">
      <div>
        <h1 className="text-[27px]">{WEBSITES_TEXT.onYourWebsiteOf(data.name)}</h1>
        <p className="max-w-[70ch] text-ink-soft">
          {WEBSITES_TEXT.whatItIs} {LEVEL_WORDS[level]}
        </p>
      </div>
      <AddressPart name={data.name} slug={data.slug} sheetPath={`/websites/${level}/${id}/sheet`} />
      <EmbedPart name={data.name} slug={data.slug} />
      {canEdit && <CheckPart path={path} />}
      <WebsitesPart view={data} path={path} canEdit={canEdit} />
    </div>
  );
}
