import { settingWords, sizesInWords } from '../../words/event-settings.js';
import type { EditEvent } from '@heliphon/contracts/events';
import { Button } from '../../ui/Button.js';
import { type Autosave, asEdit } from './useAutosave.js';
import { EVENT_TEXT } from '../../words/console/event.js';

const FIELD_WORDS: Readonly<Record<keyof EditEvent, string>> = {
  title: 'Title',
  description: 'Description',
  slug: EVENT_TEXT.addressOfItsPage,
  isDraft: 'Draft',
  startsAtLocal: 'Starts',
  stopsAtLocal: 'Stops',
  zone: EVENT_TEXT.timeZone,
  filmId: EVENT_TEXT.openingFilm,
  channelId: 'Channel',
  sourceId: EVENT_TEXT.whereThePictureComesFrom,
  standbySourceId: EVENT_TEXT.secondSource,
  destinationIds: EVENT_TEXT.whereItGoes,
  duties: EVENT_TEXT.onDuty,
  ...settingWords('name'),
};

const shown = (field: keyof EditEvent, value: unknown): string => {
  if (value === null || value === undefined || value === '') return 'nothing';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return EVENT_TEXT.ofThem(value.length);
  if (field === 'renditions') return sizesInWords(String(value));
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
      aria-label={EVENT_TEXT.twoVersions}
      className="mt-4 rounded-md border border-plum bg-plum-wash p-4"
    >
      <h2 className="text-[19px]">{EVENT_TEXT.somebodyElseChangedThisAt}</h2>
      <table className="my-3 w-full max-w-4xl text-left">
        <thead>
          <tr className="text-[13px] text-ink-soft">
            <th className="pr-4 font-normal">{EVENT_TEXT.field}</th>
            <th className="pr-4 font-normal">{EVENT_TEXT.yoursNotSaved}</th>
            <th className="font-normal">{EVENT_TEXT.theirsSaved}</th>
          </tr>
        </thead>
        <tbody>
          {state.fields.map((field) => (
            <tr key={field} className="align-top">
              <th scope="row" className="pr-4 font-semibold">
                {FIELD_WORDS[field]}
              </th>
              <td className="pr-4 whitespace-pre-line">{shown(field, draft[field])}</td>
              <td className="whitespace-pre-line">{shown(field, theirs[field])}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="flex flex-wrap gap-3">
        <Button kind="main" onClick={() => choose('ours')}>
          {EVENT_TEXT.keepYours}
        </Button>
        <Button onClick={() => choose('theirs')}>{EVENT_TEXT.keepTheirs}</Button>
      </div>
    </section>
  );
}
