import { useState } from 'react';
import type { SeriesView } from '@heliphon/contracts/series';
import { choosePoster, removeSeriesPoster } from '../../data/files.js';
import { Button } from '../../ui/Button.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { ChooseFile } from '../files/ChooseFile.js';
import { SERIES_TEXT } from '../../words/console/series.js';

/** The poster of all dates that have none of their own; out of the house's files. */
export function SeriesPoster({ series: { id, posterUrl } }: { series: SeriesView }) {
  const [isChoosing, setChoosing] = useState(false);
  const action = useAction();
  const change = (work: () => Promise<unknown>): Promise<void> =>
    action.run(async () => {
      await work();
      toldWithUndo(SERIES_TEXT.allFutureDatesHaveThe, id);
    });
  return (
    <div role="group" aria-label={SERIES_TEXT.poster} className="grid gap-1">
      <span className="font-semibold">{SERIES_TEXT.poster}</span>
      <div className="flex flex-wrap items-center gap-3">
        {posterUrl ? (
          <img
            src={posterUrl.replace('1280', '640')}
            alt={SERIES_TEXT.thePoster}
            className="h-[72px] rounded-md object-cover"
          />
        ) : (
          <p className="flex-1 text-ink-soft">{SERIES_TEXT.nonePeopleWhoArriveEarly}</p>
        )}
        <Button disabled={action.isBusy} onClick={() => setChoosing(true)}>
          {posterUrl ? SERIES_TEXT.chooseAnotherPoster : SERIES_TEXT.chooseAPoster}
        </Button>
        {posterUrl && (
          <Button
            kind="quiet"
            disabled={action.isBusy}
            onClick={() => void change(() => removeSeriesPoster(id))}
          >
            {SERIES_TEXT.removeIt}
          </Button>
        )}
      </div>
      <Fault error={action.error} isSmall />
      {isChoosing && (
        <ChooseFile
          kind="picture"
          onClose={() => setChoosing(false)}
          onChoose={(file) => {
            setChoosing(false);
            void change(() => choosePoster('series', id, file.id));
          }}
        />
      )}
    </div>
  );
}
