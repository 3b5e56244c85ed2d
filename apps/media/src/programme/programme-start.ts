import type { TakenOver } from '@heliphon/core/control/desired-state';
import type { ActualFilm, DesiredFilm } from '@heliphon/core/control/film';
import type { SlateFormat } from '@heliphon/core/media/slate-format';
import type { TakenUp } from '@heliphon/core/faults/fault-rules';
import type { TallyState } from '@heliphon/core/loudness/loudness-tally';
import { startOfLeg } from '@heliphon/core/packaging/legs';
import type { EventLife } from '@heliphon/core/schedule/event-life';
import {
  type IndexedSegment,
  type ProgrammeFacts,
  startAfter,
  type StoppedAt,
} from '../recording/recording-folder.js';

/** How a programme comes from another node. */
export interface Arrival extends TakenOver {
  readonly film: DesiredFilm | null;
}

/** How a programme stands when it is opened. */
export interface ProgrammeStart {
  readonly life: EventLife;
  readonly lastCommandId: string | null;
  /** On the programme's own time. */
  readonly airAtMs: number | null;
  readonly endAtMs: number | null;
  readonly film: ActualFilm | null;
  readonly leg: number;
  readonly partTargetSeconds: number | undefined;
  readonly slateFormat: SlateFormat | null;
  readonly loudness: TallyState | null;
  readonly stoppedAt: StoppedAt;
  /** It goes on here where another node stopped. */
  readonly hasArrived: boolean;
  /** When the node that had it was last heard; `null` where it was here, or nobody knows. */
  readonly lastHeardMs: number | null;
}

/** Whether it was on air already, and when it was last seen there. */
export function takenUpOf(
  { life, lastHeardMs, hasArrived }: ProgrammeStart,
  segments: readonly IndexedSegment[],
  nowMs: number,
): TakenUp | null {
  if (life.state !== 'air') return null;
  const last = segments.at(-1);
  const keptUntilMs = last ? last.utcMs + last.durationSeconds * 1000 : nowMs;
  return {
    lastSeenMs: Math.round(Math.min(nowMs, lastHeardMs ?? keptUntilMs)),
    atMs: nowMs,
    hasMoved: hasArrived,
  };
}

/** Where a programme goes on: as its folder left it, or, where another node had it since, as that one left it. */
export function startOf(
  facts: ProgrammeFacts | null,
  segments: readonly IndexedSegment[],
  arrival: Arrival | null,
): ProgrammeStart {
  const partTargetSeconds = facts?.partTargetSeconds;
  const kept: ProgrammeStart = {
    life: facts?.life ?? { state: 'planned' },
    lastCommandId: facts?.lastCommandId ?? null,
    airAtMs: facts?.airAtProgrammeMs ?? null,
    endAtMs: facts?.endAtProgrammeMs ?? null,
    film: facts?.film ?? null,
    leg: facts?.leg ?? 0,
    partTargetSeconds,
    slateFormat: facts?.slateFormat ?? null,
    loudness: facts?.loudness ?? null,
    stoppedAt: startAfter(segments, partTargetSeconds),
    hasArrived: false,
    lastHeardMs: null,
  };
  if (!arrival || arrival.leg <= kept.leg) return kept;
  const { leg, life, film, lastHeardMs } = arrival;
  return {
    ...kept,
    leg,
    life,
    film: film && life.state === 'air' ? { fileId: film.fileId, state: 'playing' } : null,
    airAtMs: kept.airAtMs ?? ('airAtMs' in life ? life.airAtMs - life.doorsAtMs : null),
    stoppedAt: startOfLeg(leg, kept.stoppedAt),
    hasArrived: true,
    lastHeardMs,
  };
}
