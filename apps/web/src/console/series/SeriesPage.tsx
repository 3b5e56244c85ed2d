import { useState } from 'react';
import { useParams } from 'react-router';
import type { EditSeries, SeriesView } from '@heliphon/contracts/series';
import { editSeries, useSeries } from '../../data/series.js';
import { undoLast } from '../../data/activity.js';
import { refreshTopic } from '../../data/cache.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { repeatWords } from '../../words/repeats.js';
import { WebsitesLine } from '../websites/WebsitesLine.js';
import { WatchingLine } from '../watching/WatchingLine.js';
import { LookLine } from '../look/LookLine.js';
import { SeriesDates } from './SeriesDates.js';
import { ChangedMeanwhile } from './ChangedMeanwhile.js';
import { changedByBoth, without } from './series-fields.js';
import { SeriesForm } from './SeriesForm.js';
import { SeriesPoster } from './SeriesPoster.js';
import { WhenForm } from './WhenForm.js';
import { SERIES_TEXT } from '../../words/console/series.js';

/** A series: when it is, what its dates take from it, and the dates themselves. */
export function SeriesPage() {
  const { id = '' } = useParams();
  const { data, error, mutate } = useSeries(id);
  if (data) return <Series key={data.id} series={data} />;
  return (
    <div className="p-5">
      {error ? (
        <Failed error={error} onRetry={() => void mutate()} />
      ) : (
        <Loading what={SERIES_TEXT.theSeries} rows={6} />
      )}
    </div>
  );
}

function Series({ series }: { series: SeriesView }) {
  const [draft, setDraft] = useState<EditSeries>({});
  /** As it was when one began to change it. */
  const [base, setBase] = useState<SeriesView | null>(null);
  const [hasSaved, setSaved] = useState(false);
  const canEdit = useCan('events.edit');
  const saving = useAction();
  const undoing = useAction();
  const isChanged = Object.keys(draft).length > 0;
  const both = changedByBoth(draft, base, series);
  const change = (more: EditSeries): void => {
    if (!isChanged) setBase(series);
    setDraft({ ...draft, ...more });
  };
  const save = (): Promise<void> =>
    saving.run(async () => {
      // Somebody was quicker, and we have not heard of it yet: what they did comes, and stands beside this.
      await editSeries(series, draft).catch((error: unknown) => {
        refreshTopic('events');
        throw error;
      });
      setDraft({});
      setSaved(true);
    });
  return (
    <div className="px-5 pt-4 pb-8">
      <header className="mb-5">
        <h1 className="text-[27px]">{draft.title ?? series.title}</h1>
        <p className="text-ink-soft">
          {SERIES_TEXT.aSeries(repeatWords(series.parsed), series.timeOfDay)}
          {hasSaved && !isChanged && (
            <>
              {' · '}
              <span role="status">{SERIES_TEXT.savedForAllDatesTo}</span>{' '}
              <Button
                kind="quiet"
                className="!min-h-7 text-[13px]"
                disabled={undoing.isBusy}
                onClick={() => void undoing.run(() => undoLast(series.id)).then(() => setSaved(false))}
              >
                {SERIES_TEXT.undoTheLastChange}
              </Button>
            </>
          )}
        </p>
        <Fault error={undoing.error} />
      </header>
      <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_400px]">
        <fieldset disabled={!canEdit} className="grid min-w-0 content-start gap-6">
          <WhenForm series={series} draft={draft} error={saving.error} onChange={change} />
          <SeriesPoster series={series} />
          <SeriesForm value={{ ...series, ...draft }} error={saving.error} onChange={change} />
          {isChanged && (
            <div
              role="group"
              aria-label={SERIES_TEXT.notSavedYet}
              className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t border-line bg-ground py-3"
            >
              <ChangedMeanwhile
                fields={both}
                theirs={series}
                onTakeTheirs={() => setDraft(without(draft, both))}
              />
              <p className="flex-1 text-ink-soft">{SERIES_TEXT.notSavedYetDatesYou}</p>
              <Fault error={saving.error} />
              <Button onClick={() => setDraft({})}>{SERIES_TEXT.discardTheChanges}</Button>
              <Button kind="main" disabled={saving.isBusy} onClick={() => void save()}>
                {SERIES_TEXT.saveForAllDatesTo}
              </Button>
            </div>
          )}
        </fieldset>
        <div className="grid content-start gap-6">
          <SeriesDates series={series} canEdit={canEdit} />
          <WatchingLine level="series" id={series.id} />
          <LookLine level="series" id={series.id} />
          <section aria-label={SERIES_TEXT.itsAddress} className="grid gap-2">
            <h2 className="font-sans text-[15px] font-semibold">{SERIES_TEXT.oneAddressForAllDates}</h2>
            <p className="text-[13px] text-ink-soft">{SERIES_TEXT.itShowsWhatIsOn}</p>
            <CopyField
              label={SERIES_TEXT.page}
              value={`${location.origin}/watch/${series.slug}`}
              what={SERIES_TEXT.copyTheAddressOfThe}
            />
            <CopyField
              label={SERIES_TEXT.forYourWebsite}
              value={`<script async src="${location.origin}/embed.js" data-event="${series.slug}"></script>`}
              what={SERIES_TEXT.copyTheLineForYour}
            />
            <WebsitesLine level="series" id={series.id} />
          </section>
        </div>
      </div>
    </div>
  );
}
