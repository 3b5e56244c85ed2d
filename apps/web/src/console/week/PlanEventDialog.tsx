import { Dialog } from 'radix-ui';
import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { addDays, localOf, startOfDay } from '@heliphon/core/schedule/civil-time';
import { EVENT_LIMITS, type EventView } from '@heliphon/contracts/events';
import { planEvent } from '../../data/events.js';
import { planSeries } from '../../data/series.js';
import { useSources } from '../../data/sources.js';
import { useZone } from '../../data/session.js';
import { serverNowMs } from '../../data/server-clock.js';
import { Button } from '../../ui/Button.js';
import { SelectField, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { fieldSentence } from '../../words/problems.js';
import { ChannelChoice } from '../event/plan-fields.js';
import { PreviewDates } from '../series/PreviewDates.js';
import { newRepeat, type Repeat, ruleOf } from '../series/repeat.js';
import { RepeatFields } from '../series/RepeatFields.js';
import { usePreview } from '../series/usePreview.js';
import { WEEK_TEXT } from '../../words/console/week.js';

const DAYS_OF_WEEK = 7;
const DAY_MINUTES = 24 * 60;

interface PlanEventDialogProps {
  /** An event to take everything else from: poster, words, places, settings. */
  readonly like?: EventView;
  /** What a new one begins with. */
  readonly channelId?: string | null;
  readonly onClose: () => void;
}

/** The least an event needs; everything else has a sensible beginning and can be changed after. */
export function PlanEventDialog({ like, channelId = null, onClose }: PlanEventDialogProps) {
  const zone = useZone();
  const { data: sources } = useSources();
  const navigate = useNavigate();
  const [wish, setWish] = useState(() => (like ? weekAfter(like, zone) : tomorrow(zone, channelId)));
  const [repeat, setRepeat] = useState<Repeat | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [isSaving, setSaving] = useState(false);
  const set = (change: Partial<typeof wish>): void => setWish({ ...wish, ...change });

  const when = repeat && {
    rule: ruleOf(repeat, wish.day),
    firstDate: wish.day,
    timeOfDay: wish.starts,
    lengthMinutes: minutesBetween(wish.starts, wish.stops),
  };
  const preview = usePreview(when && { ...when, seriesId: null });

  const save = async (isDraft: boolean): Promise<void> => {
    setSaving(true);
    setError(null);
    const { title, day, starts, stops } = wish;
    const common = {
      title,
      sourceId: wish.sourceId || null,
      likeEventId: like?.id ?? null,
      channelId: wish.channelId,
    };
    try {
      const path = when
        ? await planSeries({ ...common, ...when }).then(({ id }) => `/series/${id}`)
        : await planEvent({
            ...common,
            isDraft,
            startsAtLocal: `${day}T${starts}`,
            stopsAtLocal: `${stops < starts ? dayAfter(day) : day}T${stops}`,
          }).then(({ id }) => `/events/${id}/plan`);
      onClose();
      void navigate(path);
    } catch (failed) {
      setError(failed);
      setSaving(false);
    }
  };

  const told = error ?? preview.error;
  const fields = ['title', 'startsAtLocal', 'stopsAtLocal'].map((field) => fieldSentence(told, field));
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Overlay className="fixed inset-0 z-20 bg-[rgb(8_13_24/45%)]" />
      <Dialog.Content
        aria-describedby={undefined}
        className="fixed top-1/2 left-1/2 z-30 max-h-[92vh] w-[min(560px,94vw)] -translate-1/2 overflow-y-auto rounded-md border border-edge bg-ground p-6 text-ink"
      >
        <Dialog.Title className="mb-4 text-2xl">
          {like ? WEEK_TEXT.planAnotherLikeIt : WEEK_TEXT.planAnEvent}
        </Dialog.Title>
        {like && <p className="mb-4 text-ink-soft">{WEEK_TEXT.itCopies(like.title)}</p>}
        <form
          className="grid gap-4"
          onSubmit={(event: FormEvent) => {
            event.preventDefault();
            void save(false);
          }}
        >
          <TextField
            label={WEEK_TEXT.title}
            needed
            value={wish.title}
            error={fields[0] ?? null}
            onChange={(event) => set({ title: event.target.value })}
            maxLength={EVENT_LIMITS.titleLength}
            autoFocus
          />
          <div className="grid grid-cols-[1.4fr_1fr_1fr] gap-3">
            <TextField
              label={WEEK_TEXT.day}
              needed
              type="date"
              value={wish.day}
              error={fieldSentence(told, 'firstDate')}
              onChange={(event) => event.target.value && set({ day: event.target.value })}
            />
            <TextField
              label={WEEK_TEXT.starts}
              needed
              type="time"
              value={wish.starts}
              error={fields[1] ?? null}
              onChange={(event) => set({ starts: event.target.value })}
            />
            <TextField
              label={WEEK_TEXT.stops}
              needed
              type="time"
              value={wish.stops}
              error={fields[2] ?? null}
              hint={wish.stops < wish.starts ? WEEK_TEXT.onTheNextDay : undefined}
              onChange={(event) => set({ stops: event.target.value })}
            />
          </div>
          <RepeatFields
            firstDate={wish.day}
            repeat={repeat}
            canBeOnce
            onChange={(kind) => setRepeat(kind === '' ? null : { ...(repeat ?? newRepeat(wish.day)), kind })}
            onEdit={(change) => repeat && setRepeat({ ...repeat, ...change })}
            error={fieldSentence(told, 'rule')}
          />
          <PreviewDates shown={preview.shown} />
          <SelectField
            label={WEEK_TEXT.whereThePictureComesFrom}
            value={wish.sourceId}
            onChange={(sourceId) => set({ sourceId })}
            options={[
              { value: '', label: WEEK_TEXT.chooseLater },
              ...(sources?.items ?? []).map(({ id, name }) => ({ value: id, label: name })),
            ]}
          />
          <ChannelChoice channelId={wish.channelId} onChange={(channelId) => set({ channelId })} />
          {fields.every((sentence) => sentence === null) && <Fault error={error} />}
          <div className="flex justify-end gap-3">
            <Button kind="quiet" onClick={onClose}>
              {WEEK_TEXT.cancel}
            </Button>
            {!repeat && (
              <Button
                disabled={isSaving}
                onClick={(event) => event.currentTarget.form!.reportValidity() && void save(true)}
              >
                {WEEK_TEXT.keepAsADraft}
              </Button>
            )}
            <Button kind="main" type="submit" disabled={isSaving}>
              {repeat ? WEEK_TEXT.planTheSeries : WEEK_TEXT.planTheEvent}
            </Button>
          </div>
        </form>
      </Dialog.Content>
    </Dialog.Root>
  );
}

interface Wish {
  readonly title: string;
  readonly day: string;
  readonly starts: string;
  readonly stops: string;
  readonly sourceId: string;
  readonly channelId: string | null;
}

const tomorrow = (zone: string, channelId: string | null): Wish => ({
  channelId,
  title: '',
  day: localOf(addDays(startOfDay(serverNowMs(), zone), 1, zone), zone).slice(0, 10),
  starts: '10:30',
  stops: '12:00',
  sourceId: '',
});

/** The same weekday and times, in the first week that is still to come. */
function weekAfter(like: EventView, zone: string): Wish {
  const nowMs = serverNowMs();
  let dayMs = addDays(startOfDay(like.startsAtMs, zone), DAYS_OF_WEEK, zone);
  while (dayMs < nowMs) dayMs = addDays(dayMs, DAYS_OF_WEEK, zone);
  return {
    title: like.title,
    day: localOf(dayMs, zone).slice(0, 10),
    starts: localOf(like.startsAtMs, zone).slice(11),
    stops: localOf(like.stopsAtMs, zone).slice(11),
    sourceId: like.sourceId ?? '',
    channelId: like.channelId,
  };
}

/** From one time of day to another, which is on the next day where it is earlier. */
function minutesBetween(starts: string, stops: string): number {
  const at = (time: string): number => Number(time.slice(0, 2)) * 60 + Number(time.slice(3));
  return (at(stops) - at(starts) + DAY_MINUTES) % DAY_MINUTES || DAY_MINUTES;
}

const dayAfter = (day: string): string =>
  new Date(Date.parse(`${day}T00:00Z`) + 86_400_000).toISOString().slice(0, 10);
