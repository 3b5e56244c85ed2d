/** Where an event is in its life. What is not stored here (ending, trouble) is derived. */
export const EVENT_STATES = ['planned', 'doors', 'air', 'kept', 'cancelled'] as const;
export type EventState = (typeof EVENT_STATES)[number];

export const END_CAUSES = ['by-hand', 'stop-without-signal', 'overrun-used-up', 'dead-air'] as const;
export type EndCause = (typeof END_CAUSES)[number];

export type EventLife =
  | { readonly state: 'planned' }
  | { readonly state: 'doors'; readonly doorsAtMs: number }
  | { readonly state: 'air'; readonly doorsAtMs: number; readonly airAtMs: number }
  | {
      readonly state: 'kept';
      readonly doorsAtMs: number;
      readonly airAtMs: number;
      readonly endAtMs: number;
      readonly cause: EndCause;
    }
  | { readonly state: 'cancelled'; readonly atMs: number };

/** The instants by which an event moves by itself, in UTC ms. */
export interface EventPlan {
  readonly doorsAtMs: number;
  readonly airAtMs: number;
  readonly stopAtMs: number;
  /** Stop and overrun: the end whatever comes. */
  readonly hardStopAtMs: number;
  readonly deadAirMs: number;
}

/** What is known of the picture: `unknown` where nobody has heard of the media node. */
export type SignalKnowledge =
  | { readonly known: false }
  | { readonly known: true; readonly present: boolean; readonly lastFrameAtMs: number | null };

export const COMMAND_KINDS = ['open-doors', 'go-on-air', 'end'] as const;
export type CommandKind = (typeof COMMAND_KINDS)[number];

/** From which states each command moves; all else is refused. */
export const COMMANDS_FROM: Readonly<Record<EventState, readonly CommandKind[]>> = {
  planned: ['open-doors', 'go-on-air'],
  doors: ['go-on-air', 'end'],
  air: ['end'],
  kept: [],
  cancelled: [],
};

export type LifeEvent =
  | {
      readonly type: 'clock';
      readonly nowMs: number;
      readonly plan: EventPlan;
      readonly signal: SignalKnowledge;
    }
  | { readonly type: 'command'; readonly kind: CommandKind; readonly nowMs: number }
  | { readonly type: 'cancel'; readonly nowMs: number };

/** How long nobody's word of the picture is waited for before the clock alone ends an event. */
const UNKNOWN_SIGNAL_GRACE_MS = 60_000;

/**
 * Moves an event by the clock, by hand and by dead air. One reducer for server and media node: either may move first,
 * and the other comes to the same. What does not apply returns the same object, so that a repeat does nothing.
 */
export function moveEvent(life: EventLife, event: LifeEvent): EventLife {
  switch (event.type) {
    case 'command':
      return COMMANDS_FROM[life.state].includes(event.kind)
        ? moveByHand(life, event.kind, event.nowMs)
        : life;
    case 'cancel':
      return life.state === 'planned' || life.state === 'doors'
        ? { state: 'cancelled', atMs: event.nowMs }
        : life;
    case 'clock':
      return moveByClock(life, event);
  }
}

function moveByHand(life: EventLife, kind: CommandKind, nowMs: number): EventLife {
  const doorsAtMs = life.state === 'doors' || life.state === 'air' ? life.doorsAtMs : nowMs;
  if (kind === 'open-doors') return { state: 'doors', doorsAtMs };
  if (kind === 'go-on-air') return { state: 'air', doorsAtMs, airAtMs: nowMs };
  const airAtMs = life.state === 'air' ? life.airAtMs : nowMs;
  return { state: 'kept', doorsAtMs, airAtMs, endAtMs: nowMs, cause: 'by-hand' };
}

function moveByClock(life: EventLife, event: Extract<LifeEvent, { type: 'clock' }>): EventLife {
  const { nowMs, plan, signal } = event;
  switch (life.state) {
    case 'planned':
      return nowMs >= plan.doorsAtMs
        ? moveByClock({ state: 'doors', doorsAtMs: plan.doorsAtMs }, event)
        : life;
    case 'doors': {
      if (nowMs < plan.airAtMs) return life;
      const airAtMs = Math.max(plan.airAtMs, life.doorsAtMs);
      return moveByClock({ state: 'air', doorsAtMs: life.doorsAtMs, airAtMs }, event);
    }
    case 'air': {
      const end = endByClock(life.airAtMs, nowMs, plan, signal);
      return end ? { ...life, state: 'kept', endAtMs: end.atMs, cause: end.cause } : life;
    }
    case 'kept':
    case 'cancelled':
      return life;
  }
}

function endByClock(
  airAtMs: number,
  nowMs: number,
  plan: EventPlan,
  signal: SignalKnowledge,
): { atMs: number; cause: EndCause } | null {
  if (!signal.known) {
    const isOver = nowMs >= plan.hardStopAtMs + UNKNOWN_SIGNAL_GRACE_MS;
    return isOver ? { atMs: plan.hardStopAtMs, cause: 'overrun-used-up' } : null;
  }
  if (nowMs >= plan.hardStopAtMs)
    return { atMs: Math.max(plan.hardStopAtMs, airAtMs), cause: 'overrun-used-up' };
  if (signal.present) return null;
  const silentSinceMs = Math.max(airAtMs, signal.lastFrameAtMs ?? 0);
  const deadAtMs = silentSinceMs + plan.deadAirMs;
  if (nowMs >= plan.stopAtMs) return { atMs: Math.max(plan.stopAtMs, airAtMs), cause: 'stop-without-signal' };
  return nowMs >= deadAtMs ? { atMs: deadAtMs, cause: 'dead-air' } : null;
}

/** The instants of an event from what people set. */
export function planOf(settings: {
  readonly startsAtMs: number;
  readonly stopsAtMs: number;
  readonly doorsMinutes: number;
  readonly overrunMinutes: number;
  readonly deadAirMinutes: number;
  /** An opening film; it ends as the event starts. */
  readonly filmMs: number;
}): EventPlan {
  const minuteMs = 60_000;
  const airAtMs = settings.startsAtMs - settings.filmMs;
  return {
    doorsAtMs: Math.min(airAtMs, settings.startsAtMs - settings.doorsMinutes * minuteMs),
    airAtMs,
    stopAtMs: settings.stopsAtMs,
    hardStopAtMs: settings.stopsAtMs + settings.overrunMinutes * minuteMs,
    deadAirMs: settings.deadAirMinutes * minuteMs,
  };
}
