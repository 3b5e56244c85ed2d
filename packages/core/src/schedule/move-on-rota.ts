import { addDays, instantOf, localOf } from './civil-time.js';

/** A move on the rota sheet: whole days down, hours across; or its end alone. */
export interface RotaMove {
  readonly days: number;
  readonly hours: number;
  readonly edge: 'whole' | 'end';
}

/** Moves snap to the quarter hour that a printed rota would have. */
export const ROTA_STEP_HOURS = 0.25;
const MINUTE_MS = 60_000;
const LEAST_MS = 15 * MINUTE_MS;

export const snapHours = (hours: number): number => Math.round(hours / ROTA_STEP_HOURS) * ROTA_STEP_HOURS;

/**
 * Where an event stands after a move, by the wall clock of its zone: moved over a change of the clocks it keeps its
 * time of day and its length. `null` where it would end before it has begun, or at a time that does not exist.
 */
export function moveOnRota(
  event: { readonly startsAtMs: number; readonly stopsAtMs: number; readonly zone: string },
  move: RotaMove,
): { readonly startsAtLocal: string; readonly stopsAtLocal: string } | null {
  const { startsAtMs, stopsAtMs, zone } = event;
  const shift = (ms: number): number => addDays(ms, move.days, zone) + move.hours * 60 * MINUTE_MS;
  const starts = move.edge === 'whole' ? shift(startsAtMs) : startsAtMs;
  const stops = move.edge === 'whole' ? starts + (stopsAtMs - startsAtMs) : shift(stopsAtMs);
  if (stops - starts < LEAST_MS) return null;
  const [startsAtLocal, stopsAtLocal] = [localOf(starts, zone), localOf(stops, zone)];
  const exist = [startsAtLocal, stopsAtLocal].every((local) => instantOf(local, zone).ok);
  return exist ? { startsAtLocal, stopsAtLocal } : null;
}
