import type { TakenOver } from '@heliphon/core/control/desired-state';
import type { ActualFilm, DesiredFilm } from '@heliphon/core/control/film';
import type { SlateFormat } from '@heliphon/core/media/slate-format';
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
  readonly stoppedAt: StoppedAt;
  /** It goes on here where another node stopped. */
  readonly hasArrived: boolean;
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
    stoppedAt: startAfter(segments, partTargetSeconds),
    hasArrived: false,
  };
  if (!arrival || arrival.leg <= kept.leg) return kept;
  const { leg, life, film } = arrival;
  return {
    ...kept,
    leg,
    life,
    film: film && life.state === 'air' ? { fileId: film.fileId, state: 'playing' } : null,
    airAtMs: kept.airAtMs ?? ('airAtMs' in life ? life.airAtMs - life.doorsAtMs : null),
    stoppedAt: startOfLeg(leg, kept.stoppedAt),
    hasArrived: true,
  };
}
