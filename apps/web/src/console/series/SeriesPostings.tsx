import type { SeriesSettings } from '@heliphon/contracts/series';
import { useSeriesOutlets } from '../../data/postings.js';
import { POSTINGS_TEXT } from '../../words/console/postings.js';
import { OutletWords } from '../places/OutletWords.js';

interface SeriesPostingsProps {
  readonly id: string;
  readonly value: Pick<SeriesSettings, 'title' | 'description'>;
}

/** What every date of a series says at its outlets. */
export function SeriesPostings({ id, value }: SeriesPostingsProps) {
  const { data } = useSeriesOutlets(id);
  if (!data || data.items.length === 0) return null;
  return (
    <ul aria-label={POSTINGS_TEXT.postings} className="grid gap-1 text-sm">
      {data.items.map((outlet) => (
        <OutletWords
          key={outlet.destinationId}
          of="series"
          id={id}
          outlet={outlet}
          usual={{ title: value.title, text: value.description }}
          isOpen
        />
      ))}
    </ul>
  );
}
