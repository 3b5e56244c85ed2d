import type { EventSettings } from '@heliphon/core/schedule/event-settings';
import type { Answer, Duty, OnDuty } from '@heliphon/core/duties/duties';
import type { EndCause, EventState, CommandKind } from '@heliphon/core/schedule/event-life';
import type { SeriesField } from '@heliphon/core/schedule/series-plan';
import type { Check } from '@heliphon/core/readiness/readiness';

/** An event as the console sees it. Instants are UTC ms; `zone` is the house's IANA zone at the time of planning. */
export interface EventView extends EventSettings {
  readonly id: string;
  readonly version: number;
  readonly title: string;
  readonly description: string;
  readonly slug: string;
  readonly posterUrl: string | null;
  /** A film of the house that it begins with; it goes on air so much earlier, and starts as the film ends. */
  readonly filmId: string | null;
  readonly filmMs: number;
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
  readonly zone: string;
  readonly channelId: string | null;
  readonly sourceId: string | null;
  /** A second source that can take over. */
  readonly standbySourceId: string | null;
  /** The desk has chosen it over the first. */
  readonly prefersStandby: boolean;
  readonly destinationIds: readonly string[];
  /** Of these, the ones left out for now. */
  readonly pausedDestinationIds: readonly string[];
  /** The smaller pictures that places get, by the places' ids; all others get the original. */
  readonly placeSizes: Readonly<Record<string, string>>;
  /** Who was asked for what; anyone who cannot come stays in sight. */
  readonly duties: readonly EventDuty[];
  readonly state: EventState;
  /** The date of its series that it is; `null` for an event of its own. */
  readonly series: EventSeries | null;
  /** A private rehearsal of this event. */
  readonly rehearsalOf: string | null;
  /** Only its planners see it; it does not go on air before it is published. */
  readonly isDraft: boolean;
  readonly programmeId: string;
  readonly doorsAtMs: number;
  readonly airAtMs: number | null;
  readonly endAtMs: number | null;
  readonly endCause: EndCause | null;
  /** What viewers are told when it was cancelled. */
  readonly notice: string | null;
  /** Another event that needs the same source, or one of the same places, at the same time. */
  readonly clash: {
    readonly eventId: string;
    readonly title: string;
    readonly over: 'source' | 'place';
  } | null;
  /** How many checks stop or warn; for events still to come. */
  readonly openChecks: number;
}

export interface EventDuty {
  readonly duty: Duty;
  readonly personId: string;
  readonly answer: Answer | null;
  /** What they said with it. */
  readonly note: string;
}

export interface EventSeries {
  readonly id: string;
  /** The day by the rule. */
  readonly date: string;
  /** What this date changed by itself. */
  readonly ownFields: readonly SeriesField[];
}

/** Local times are `2026-03-07T10:30` in the event's zone. */
export interface PlanEvent {
  readonly title: string;
  readonly startsAtLocal: string;
  readonly stopsAtLocal: string;
  readonly sourceId: string | null;
  /** Another event, whose description, poster, places and settings this one takes; `null` for our usual ones. */
  readonly likeEventId: string | null;
  readonly channelId: string | null;
  readonly isDraft: boolean;
}

/** Any part of an event; what is absent stays. */
export interface EditEvent extends Partial<EventSettings> {
  readonly title?: string;
  readonly description?: string;
  readonly slug?: string;
  readonly startsAtLocal?: string;
  readonly stopsAtLocal?: string;
  readonly zone?: string;
  readonly isDraft?: boolean;
  readonly filmId?: string | null;
  readonly channelId?: string | null;
  readonly sourceId?: string | null;
  readonly standbySourceId?: string | null;
  readonly destinationIds?: readonly string[];
  /** One a duty. */
  readonly duties?: readonly OnDuty[];
}

/** A command by hand: its id makes a repeat harmless, `fromState` makes a stale one fail. */
export interface MoveEvent {
  readonly commandId: string;
  readonly fromState: EventState;
}
export type { CommandKind };

/** Calls an event off; its pages say so, with what else there is to say. */
export interface CancelEvent {
  readonly fromState: EventState;
  readonly notice: string;
}

/** A private rehearsal, with what was recorded of it. */
export interface RehearsalView {
  readonly event: EventView;
  readonly recording: { readonly id: string; readonly durationMs: number } | null;
}

/** What would end a clash in one step. */
export interface RemediesView {
  /** Nobody wants these then. */
  readonly sources: readonly { readonly id: string; readonly name: string }[];
  /** The nearest before and after at which nothing clashes. */
  readonly times: readonly { readonly startsAtMs: number; readonly stopsAtMs: number }[];
}

/** An event in few words, for a glance at a month. */
export type EventGlance = Pick<EventView, 'id' | 'title' | 'startsAtMs' | 'state' | 'isDraft'>;

/** Which events of a list are wanted; what is absent does not matter. */
export interface EventFilter {
  /** Part of the title. */
  readonly q?: string;
  readonly channelId?: string;
  readonly sourceId?: string;
  readonly destinationId?: string;
  /** Somebody who is on duty. */
  readonly personId?: string;
  /** Planned ones are those that have been published. */
  readonly state?: EventState | 'draft';
}

/** What a list of events is asked for: instants as UTC ms or in ISO 8601, the earliest first unless said otherwise. */
export interface EventQuery extends EventFilter {
  readonly from?: string;
  readonly to?: string;
  readonly order?: 'earliest' | 'latest';
}

export interface ReadinessView {
  readonly checks: readonly Check[];
}

/** Playback under the desk's grant: the private picture before air, what viewers get after. */
export interface DeskView {
  readonly hls: string;
  readonly main: string;
  readonly expiresAtMs: number;
}

/** What the desk answers when the planned end comes near. */
export interface ChooseEnd {
  /** `longer`: a quarter of an hour more; `on-time`: it does not run over. */
  readonly wish: 'longer' | 'on-time';
}

/** Which of its two sources feeds an event whenever it can. */
export interface ChooseFeed {
  readonly from: 'first' | 'standby';
}

/** What a place gets: a smaller picture by its name, or the original. */
export interface ChoosePlaceSize {
  readonly rendition: string | null;
}

export interface PausePlace {
  readonly paused: boolean;
}

export const EVENT_LIMITS = {
  titleLength: 120,
  descriptionLength: 5000,
  noticeLength: 300,
  longestHours: 24,
  /** So much more, whenever the desk asks for it. */
  longerMinutes: 15,
} as const;
