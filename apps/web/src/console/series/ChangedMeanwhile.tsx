import type { EditSeries, SeriesView } from '@heliphon/contracts/series';
import { Button } from '../../ui/Button.js';
import { fieldWords } from '../../words/repeats.js';
import { seriesFieldOf } from './series-fields.js';
import { SERIES_TEXT } from '../../words/console/series.js';

interface ChangedMeanwhileProps {
  /** Fields that both have changed. */
  readonly fields: readonly (keyof EditSeries)[];
  readonly theirs: SeriesView;
  readonly onTakeTheirs: () => void;
}

/** Somebody else has saved the same meanwhile: theirs beside one's own, and neither is lost until one is chosen. */
export function ChangedMeanwhile({ fields, theirs, onTakeTheirs }: ChangedMeanwhileProps) {
  if (fields.length === 0) return null;
  const words = fieldWords([...new Set(fields.map(seriesFieldOf))]);
  const texts = fields.flatMap((field) => (typeof theirs[field] === 'string' ? [`“${theirs[field]}”`] : []));
  return (
    <div
      role="alert"
      aria-label={SERIES_TEXT.twoVersions}
      className="flex w-full flex-wrap items-center gap-3 rounded-md border border-plum bg-plum-wash px-3 py-2"
    >
      <p className="flex-1">
        {texts.length > 0
          ? SERIES_TEXT.changedMeanwhileTo(words, texts.join(', '))
          : SERIES_TEXT.changedMeanwhile(words)}{' '}
        {SERIES_TEXT.yoursIsStillHere}
      </p>
      <Button onClick={onTakeTheirs}>{SERIES_TEXT.takeTheirs}</Button>
    </div>
  );
}
