import { localOf } from '@heliphon/core/schedule/civil-time';
import type { EditEvent, EventView } from '@heliphon/contracts/events';
import { dayAndTime } from '@heliphon/contracts/time-words';
import { Link } from 'react-router';
import { editEvent, useRemedies } from '../../data/events.js';
import { useCan } from '../../data/session.js';
import { Button } from '../../ui/Button.js';
import { Mark } from '../../ui/Mark.js';
import { Fault } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { Sentence } from '../../ui/Sentence.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** Two events want the same at the same time: another source, or the nearest time that is free, in one step. */
export function ClashRemedy({ event }: { event: EventView }) {
  const canEdit = useCan('events.edit') && event.state === 'planned';
  const { data } = useRemedies(event.clash && canEdit ? event.id : null);
  const action = useAction();
  if (!event.clash) return null;
  const mend = (words: string, change: EditEvent) => (): void =>
    void action.run(async () => {
      await editEvent(event.id, event.version, change);
      toldWithUndo(words, event.id);
    });
  const { title, eventId, over } = event.clash;
  return (
    <section
      aria-label={EVENT_TEXT.clash}
      className="grid gap-2.5 rounded-md border border-plum bg-plum-wash px-3.5 py-3"
    >
      <p className="flex items-start gap-2">
        <Mark name="caution" />
        <span>
          <Sentence
            words={over === 'source' ? EVENT_TEXT.otherNeedsTheSource : EVENT_TEXT.otherNeedsAPlace}
            other={
              <Link to={`/events/${eventId}`} className="font-semibold underline underline-offset-2">
                {title}
              </Link>
            }
          />
        </span>
      </p>
      {canEdit && data && (
        <div className="flex flex-wrap gap-2">
          {over === 'source' &&
            data.sources.map(({ id, name }) => (
              <Button
                key={id}
                disabled={action.isBusy}
                onClick={mend(EVENT_TEXT.thePictureComesFrom(name), { sourceId: id })}
              >
                {EVENT_TEXT.take(name)}
              </Button>
            ))}
          {data.times.map(({ startsAtMs, stopsAtMs }) => (
            <Button
              key={startsAtMs}
              disabled={action.isBusy}
              onClick={mend(EVENT_TEXT.itBegins(dayAndTime(startsAtMs, event.zone)), {
                startsAtLocal: localOf(startsAtMs, event.zone),
                stopsAtLocal: localOf(stopsAtMs, event.zone),
              })}
            >
              {EVENT_TEXT.begin(dayAndTime(startsAtMs, event.zone))}
            </Button>
          ))}
          {data.times.length + data.sources.length === 0 && (
            <p className="text-ink-soft">{EVENT_TEXT.nothingIsFreeWithinA}</p>
          )}
        </div>
      )}
      <Fault error={action.error} isSmall />
    </section>
  );
}
