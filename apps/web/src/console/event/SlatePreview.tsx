import { Link } from 'react-router';
import type { EventView } from '@heliphon/contracts/events';
import { useFile } from '../../data/files.js';
import { useHouse } from '../../data/house.js';
import { Sentence } from '../../ui/Sentence.js';
import { EVENT_TEXT } from '../../words/console/event.js';

/** What viewers see while the picture is away. */
export function SlatePreview({ event }: { event: EventView }) {
  const { data: house } = useHouse();
  const { data: sound } = useFile(house?.slateSoundId ?? null);
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
        {sound?.playUrl && (
          <p className="mt-2 grid gap-1 text-ink-soft">
            {EVENT_TEXT.andHear(sound.name)}
            <audio controls preload="none" src={sound.playUrl} aria-label={EVENT_TEXT.andHear(sound.name)} />
          </p>
        )}
      </div>
      <img
        src={`/api/events/${event.id}/slate/back?version=${event.version}`}
        alt={EVENT_TEXT.theSlate}
        className="aspect-video w-full max-w-[360px] rounded-md border border-line bg-sunk"
      />
    </section>
  );
}
