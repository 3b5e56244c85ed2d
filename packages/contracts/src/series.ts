import type { EventSettings } from '@heliphon/core/schedule/event-settings';
import type { DutyTurns } from '@heliphon/core/duties/duties';
import type { EventState } from '@heliphon/core/schedule/event-life';
import type { Rule } from '@heliphon/core/schedule/rule-choices';
import type { SeriesField } from '@heliphon/core/schedule/series-plan';

import type { EventDuty } from './events.js';

/** When the dates of a series are: a rule (RFC 5545), and by the clock on the wall of its zone. */
export interface SeriesWhen {
  /** `FREQ=WEEKLY;BYDAY=SU`. */
  readonly rule: string;
  /** `2026-03-01`; dates count from here on. */
  readonly firstDate: string;
  /** `10:30`. */
  readonly timeOfDay: string;
  readonly lengthMinutes: number;
}

/** What every date of a series takes from it. */
export interface SeriesSettings extends EventSettings {
  readonly title: string;
  readonly description: string;
  readonly filmId: string | null;
  readonly channelId: string | null;
  readonly sourceId: string | null;
  readonly standbySourceId: string | null;
  readonly destinationIds: readonly string[];
  /** Who takes turns at what, date by date. */
  readonly duties: readonly DutyTurns[];
}

/** One of the next dates. */
export interface SeriesDate {
  readonly date: string;
  readonly startsAtMs: number;
  /** The clocks skip the time wished for: it begins at this one. */
  readonly shiftedTo: string | null;
  /** The event that has come into being for it. */
  readonly event: {
    readonly id: string;
    readonly title: string;
    readonly startsAtMs: number;
    readonly state: EventState;
    readonly ownFields: readonly SeriesField[];
    readonly duties: readonly EventDuty[];
  } | null;
  readonly isSkipped: boolean;
}

export interface SeriesView extends SeriesWhen, SeriesSettings {
  readonly id: string;
  readonly posterUrl: string | null;
  readonly version: number;
  readonly slug: string;
  readonly zone: string;
  readonly parsed: Rule;
  /** The next ten, skipped ones among them. */
  readonly dates: readonly SeriesDate[];
}

export interface PlanSeries extends SeriesWhen {
  readonly title: string;
  readonly sourceId: string | null;
  /** An event whose description, poster, places and settings it takes. */
  readonly likeEventId: string | null;
  readonly channelId: string | null;
}

export type EditSeries = Partial<SeriesWhen & SeriesSettings & Pick<SeriesView, 'slug'>>;

/** A wish to see dates before anything is made: of a new series, or of one as it would become. */
export interface PreviewSeries extends SeriesWhen {
  readonly seriesId: string | null;
}

export interface SeriesPreview {
  readonly parsed: Rule;
  readonly dates: readonly Pick<SeriesDate, 'date' | 'startsAtMs' | 'shiftedTo'>[];
  /** What would become of the events there are. */
  readonly made: number;
  readonly moved: number;
  readonly removed: number;
  /** Changed by somebody, on days that are no dates any more: they stay. */
  readonly left: number;
}

/** Brings what one date changed by itself to others. */
export interface SpreadChange {
  readonly to: 'later' | 'all';
}
