import type { EventView } from '@heliphon/contracts/events';
import type { PostingView } from '@heliphon/contracts/postings';
import { dayAndTime, timeOfDay } from '@heliphon/contracts/time-words';
import { usePostings } from '../../data/postings.js';
import { useServerNow } from '../../data/server-clock.js';
import { useZone } from '../../data/session.js';
import type { MarkName } from '../../ui/Mark.js';
import { POSTINGS_TEXT } from '../../words/console/postings.js';
import { OutletWords } from '../places/OutletWords.js';

/** How an event stands at the outlets of linked accounts: posted, and where that is seen, or why it is not. */
export function Postings({ event }: { event: EventView }) {
  const { data } = usePostings(event.id);
  if (!data || data.items.length === 0) return null;
  const usual = { title: event.title, text: event.description };
  return (
    <ul aria-label={POSTINGS_TEXT.postings} className="grid gap-1 text-sm">
      {data.items.map((posting) => (
        <OutletWords
          key={posting.destinationId}
          of="events"
          id={event.id}
          outlet={posting}
          usual={usual}
          mark={markOf(posting)}
          isOpen={event.state !== 'kept' && event.state !== 'cancelled'}
        >
          <Standing posting={posting} />
        </OutletWords>
      ))}
    </ul>
  );
}

const MARKS: Readonly<Record<NonNullable<PostingView['state']>, MarkName>> = {
  planned: 'passed',
  open: 'out',
  ended: 'kept',
};

const markOf = ({ trouble, state }: PostingView): MarkName =>
  trouble ? 'trouble' : state ? MARKS[state] : 'planned';

function Standing({ posting }: { posting: PostingView }) {
  const { state, audience, link, trouble, nextTryAtMs, postsAtMs } = posting;
  const zone = useZone();
  const nowMs = useServerNow();
  const isEarly = postsAtMs !== null && postsAtMs > nowMs;
  const planned = isEarly
    ? POSTINGS_TEXT.isPostedOn(dayAndTime(postsAtMs, zone))
    : POSTINGS_TEXT.isBeingPosted;
  return (
    <>
      <span>{trouble ? POSTINGS_TEXT.trouble(trouble) : state ? POSTINGS_TEXT.state(state) : planned}</span>
      {trouble && nextTryAtMs !== null && (
        <span className="text-ink-soft">{POSTINGS_TEXT.triedAgain(timeOfDay(nextTryAtMs, zone))}</span>
      )}
      {audience !== 'everyone' && <span className="text-plum">{POSTINGS_TEXT.seenBy(audience)}</span>}
      {link && (
        <a href={link} target="_blank" rel="noreferrer" className="text-pine underline underline-offset-2">
          {POSTINGS_TEXT.seeItThere}
        </a>
      )}
    </>
  );
}
