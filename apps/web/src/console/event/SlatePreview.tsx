import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { Sentence } from '../../ui/Sentence.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** What viewers see while the picture is away. */
export function SlatePreview({ event }: { event: EventView }) {
  return (
    <section aria-label={EVENT_TEXT.whileThePictureIsAway} className="grid gap-x-5 gap-y-2 md:grid-cols-2">
      <div>
        <h2 className="font-sans text-[15px] font-semibold">{EVENT_TEXT.whileThePictureIsAway}</h2>
        <p className="max-w-[44ch] text-ink-soft">
          <Sentence
            words={EVENT_TEXT.viewersSeeThisSlate}
            link={
              <Link to="/house/look" className="underline">
                {EVENT_TEXT.nameAndLook}
              </Link>
            }
          />
        </p>
      </div>
      <img
        src={`/api/events/${event.id}/slate/back?version=${event.version}`}
        alt={EVENT_TEXT.theSlate}
        className="aspect-video w-full max-w-[360px] rounded-md border border-line bg-sunk"
      />
    </section>
  );
}
