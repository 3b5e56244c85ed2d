import type { EditEvent } from '@heliphon/contracts/events';
import { Button } from '../../ui/Button.js';
import { type Autosave, asEdit } from './useAutosave.js';

const FIELD_WORDS: Readonly<Record<keyof EditEvent, string>> = {
  title: 'Title',
  description: 'What people should know',
  slug: 'Address of its page',
  isDraft: 'Draft',
  startsAtLocal: 'Starts',
  stopsAtLocal: 'Stops',
  zone: 'Time zone',
  filmId: 'Film before the start',
  channelId: 'Channel',
  sourceId: 'Where the picture comes from',
  destinationIds: 'Where it goes',
  duties: 'On duty',
  chatOpen: 'Chat',
  doorsMinutes: 'Doors',
  overrunMinutes: 'Run over',
  deadAirMinutes: 'Dead air',
  rewindMinutes: 'Viewers may go back',
};

const shown = (value: unknown): string => {
  if (value === null || value === undefined || value === '') return 'nothing';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return `${value.length} of them`;
  return String(value).replace(/^(\d{4}-\d\d-\d\d)T/, '$1, ');
};

/** Two people changed the same: both versions side by side, and neither is lost until one is chosen. */
export function BothVersions({ autosave }: { autosave: Autosave }) {
  const { state, draft, choose } = autosave;
  if (state.status !== 'both') return null;
  const theirs = asEdit(state.theirs);
  return (
    <section
      role="alert"
      aria-label="Two versions"
      className="mt-4 rounded-md border border-plum bg-plum-wash p-4"
    >
      <h2 className="text-[19px]">Somebody else changed this at the same moment</h2>
      <table className="my-3 w-full max-w-4xl text-left">
        <thead>
          <tr className="text-[13px] text-ink-soft">
            <th className="pr-4 font-normal">Field</th>
            <th className="pr-4 font-normal">Yours, not saved</th>
            <th className="font-normal">Theirs, saved</th>
          </tr>
        </thead>
        <tbody>
          {state.fields.map((field) => (
            <tr key={field} className="align-top">
              <th scope="row" className="pr-4 font-semibold">
                {FIELD_WORDS[field]}
              </th>
              <td className="pr-4 whitespace-pre-line">{shown(draft[field])}</td>
              <td className="whitespace-pre-line">{shown(theirs[field])}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="flex flex-wrap gap-3">
        <Button kind="main" onClick={() => choose('ours')}>
          Save yours over theirs
        </Button>
        <Button onClick={() => choose('theirs')}>Keep theirs</Button>
      </div>
    </section>
  );
}
