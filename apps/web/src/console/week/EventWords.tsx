import type { EventView } from '@heliphon/contracts/events';
import type { SourceView } from '@heliphon/contracts/sources';
import { useProgrammeNow } from '../../data/live.js';
import { Mark, STATE_WORDS } from '../../ui/Mark.js';
import { WEEK_TEXT } from '../../words/console/week.js';

/** An event's state as mark and hidden words, and its title. */
export const EventTitle = ({ view }: { view: EventView }) => (
  <span className="flex items-center gap-2 font-semibold">
    <Mark name={view.clash ? 'caution' : view.state} />
    <span className="sr-only">{STATE_WORDS[view.state]}, </span>
    {view.title}
    {view.isDraft && (
      <span className="rounded-sm border border-dashed border-edge px-1.5 text-[13px] font-normal">
        {WEEK_TEXT.draft}
      </span>
    )}
  </span>
);

/** What is still to do comes first, then where the picture comes from and goes. */
export function Particulars({ view, sources }: { view: EventView; sources: readonly SourceView[] }) {
  const now = useProgrammeNow(view.id);
  if (view.clash)
    return (
      <b className="text-plum">
        {(view.clash.over === 'source' ? WEEK_TEXT.needsTheSameSource : WEEK_TEXT.needsTheSamePlace)(
          view.clash.title,
        )}
      </b>
    );
  const source = sources.find((candidate) => candidate.id === view.sourceId)?.name;
  const places = view.destinationIds.length;
  const facts = [
    source,
    places === 0 ? WEEK_TEXT.website : WEEK_TEXT.websiteAndMore(places),
    view.state === 'air' && now && now.viewers > 0 ? WEEK_TEXT.watching(now.viewers) : null,
  ].filter(Boolean);
  return (
    <>
      {view.openChecks > 0 && <b className="text-plum">{WEEK_TEXT.toDo(view.openChecks)}</b>}
      {facts.join(' · ')}
    </>
  );
}
