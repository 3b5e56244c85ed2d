import { useState } from 'react';
import { useParams } from 'react-router';
import type { EditSeries, SeriesView } from '@heliphon/contracts/series';
import { editSeries, undoLast } from '../../data/commands.js';
import { refreshTopic, useCan, useSeries } from '../../data/house.js';
import { Button } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Failed, Fault, Loading } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { repeatWords } from '../../words/repeats.js';
import { SeriesDates } from './SeriesDates.js';
import { ChangedMeanwhile } from './ChangedMeanwhile.js';
import { changedByBoth, without } from './series-fields.js';
import { SeriesForm } from './SeriesForm.js';
import { SeriesPoster } from './SeriesPoster.js';
import { WhenForm } from './WhenForm.js';

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
        <Loading what="the series" rows={6} />
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
          A series: {repeatWords(series.parsed)}, at {series.timeOfDay}
          {hasSaved && !isChanged && (
            <>
              {' · '}
              <span role="status">saved for all dates to come</span>{' '}
              <Button
                kind="quiet"
                className="!min-h-7 text-[13px]"
                disabled={undoing.isBusy}
                onClick={() => void undoing.run(() => undoLast(series.id)).then(() => setSaved(false))}
              >
                Undo the last change
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
              aria-label="Not saved yet"
              className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t border-line bg-ground py-3"
            >
              <ChangedMeanwhile
                fields={both}
                theirs={series}
                onTakeTheirs={() => setDraft(without(draft, both))}
              />
              <p className="flex-1 text-ink-soft">
                Not saved yet. What a date changed by itself stays as it is.
              </p>
              <Fault error={saving.error} />
              <Button onClick={() => setDraft({})}>Leave it as it was</Button>
              <Button kind="main" disabled={saving.isBusy} onClick={() => void save()}>
                Save for all dates to come
              </Button>
            </div>
          )}
        </fieldset>
        <div className="grid content-start gap-6">
          <SeriesDates series={series} canEdit={canEdit} />
          <section aria-label="Its address" className="grid gap-2">
            <h2 className="font-sans text-[15px] font-semibold">One address for all dates</h2>
            <p className="text-[13px] text-ink-soft">
              It shows what is on, what has just ended, or what comes next. Once on your website, it stays.
            </p>
            <CopyField
              label="Page"
              value={`${location.origin}/watch/${series.slug}`}
              what="Copy the address of the page"
            />
            <CopyField
              label="For your website"
              value={`<script async src="${location.origin}/embed.js" data-event="${series.slug}"></script>`}
              what="Copy the line for your website"
            />
          </section>
        </div>
      </div>
    </div>
  );
}
