import { useChannels } from '../../data/channels.js';
import { useDestinations } from '../../data/destinations.js';
import { usePeople } from '../../data/people.js';
import { useSources } from '../../data/sources.js';
import { Button } from '../../ui/Button.js';
import { type FilterName, type useWeekView, VIEWS, type WeekView } from './useWeekView.js';
import { WEEK_TEXT } from '../../words/console/week.js';

const BOX = 'min-h-9 rounded-md border border-edge bg-surface px-2.5';
const STATES = [
  { id: 'draft', name: 'Drafts' },
  { id: 'planned', name: 'Planned' },
  { id: 'kept', name: 'Over' },
  { id: 'cancelled', name: 'Cancelled' },
] as const;
const VIEW_WORDS: Readonly<Record<WeekView, string>> = { week: 'Week', list: 'List', month: 'Month' };

/** Searching, leaving out what is not wanted, and the three ways to look at a plan. */
export function WeekFilters({ address }: { address: ReturnType<typeof useWeekView> }) {
  const { filter, choose, view, show } = address;
  const { data: channels } = useChannels();
  const { data: sources } = useSources();
  const { data: places } = useDestinations();
  const { data: people } = usePeople();
  const select = (
    name: FilterName,
    label: string,
    all: string,
    options: readonly { readonly id: string; readonly name: string }[] | undefined,
  ) => (
    <select
      aria-label={label}
      className={`${BOX} max-w-[150px]`}
      value={filter[name] ?? ''}
      onChange={(chosen) => choose(name, chosen.target.value)}
    >
      <option value="">{all}</option>
      {options?.map((option) => (
        <option key={option.id} value={option.id}>
          {option.name}
        </option>
      ))}
    </select>
  );
  return (
    <search className="mb-3 flex flex-wrap items-center gap-2">
      <input
        type="search"
        aria-label={WEEK_TEXT.searchAllEventsByTitle}
        placeholder={WEEK_TEXT.searchAllEvents}
        className={`${BOX} w-52 placeholder:text-ink-soft`}
        value={filter.q ?? ''}
        onChange={(typed) => choose('q', typed.target.value)}
      />
      {channels &&
        channels.items.length > 0 &&
        select('channelId', WEEK_TEXT.whichChannel, WEEK_TEXT.allChannels, channels.items)}
      {select('sourceId', WEEK_TEXT.fromWhichSource, WEEK_TEXT.anySource, sources?.items)}
      {select('destinationId', WEEK_TEXT.toWhichPlace, WEEK_TEXT.anyPlace, places?.items)}
      {select('personId', WEEK_TEXT.whoIsOnDuty, 'Anybody', people?.items)}
      {select('state', WEEK_TEXT.inWhichState, WEEK_TEXT.anyState, STATES)}
      {address.isFiltered && (
        <Button kind="quiet" onClick={address.clear}>
          {WEEK_TEXT.showEverything}
        </Button>
      )}
      <span className="flex-1" />
      <div
        role="group"
        aria-label={WEEK_TEXT.view}
        hidden={filter.q !== undefined}
        className="flex gap-1 max-md:hidden [&[hidden]]:hidden"
      >
        {VIEWS.map((name) => (
          <Button
            key={name}
            kind={view === name ? 'plain' : 'quiet'}
            aria-pressed={view === name}
            onClick={() => show(name)}
          >
            {VIEW_WORDS[name]}
          </Button>
        ))}
      </div>
    </search>
  );
}
