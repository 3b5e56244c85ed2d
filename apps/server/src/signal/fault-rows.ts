import type { Fault } from '@heliphon/core/faults/fault';
import { IsNull } from 'typeorm';
import type { HouseScope } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { FaultEntity } from '../tables/fault.entity.js';

/** An encoder that comes and goes all day: more than these nobody reads. */
const MOST_FAULTS = 500;

export const faultOf = (row: FaultEntity): Fault => ({
  kind: row.kind,
  subjectId: row.subjectId,
  detail: row.detail,
  fromMs: row.fromAtMs,
  toMs: row.toAtMs,
  noticed: {
    slateMs: row.slateMs,
    nothingMs: row.nothingMs,
    pictureMs: row.pictureMs,
    soundMs: row.soundMs,
  },
  viewerMs: row.viewerMs,
});

const columnsOf = ({ kind, subjectId, detail, fromMs, toMs, noticed, viewerMs }: Fault) => ({
  kind,
  subjectId,
  detail,
  fromAtMs: fromMs,
  toAtMs: toMs,
  ...noticed,
  viewerMs: Math.round(viewerMs),
});

/** Records that a fault began or is over; a late report of one that is already over changes nothing. */
export async function writeFault(scope: HouseScope, eventId: string, fault: Fault): Promise<void> {
  const { kind, subjectId, fromMs: fromAtMs } = fault;
  const known = await scope.findOne(FaultEntity, { eventId, kind, subjectId, fromAtMs });
  if (known && known.toAtMs !== null) return;
  if (known) await scope.save(Object.assign(known, columnsOf(fault)));
  else await scope.add(FaultEntity, { id: newId(), eventId, toldAtMs: null, ...columnsOf(fault) });
  if (known && fault.toMs === null) return;
  await scope.happened({
    subjectKind: 'event',
    subjectId: eventId,
    kind: fault.toMs === null ? 'fault-began' : 'fault-over',
    after: { fault },
  });
}

/** Everything that was wrong with an event, in order of its beginning. */
export async function faultsOf(scope: HouseScope, eventId: string): Promise<Fault[]> {
  const rows = await scope.find(FaultEntity, {
    where: { eventId },
    order: { fromAtMs: 'ASC', id: 'ASC' },
    take: MOST_FAULTS,
  });
  return rows.map(faultOf);
}

export const openFaultRows = (scope: HouseScope, eventId: string): Promise<FaultEntity[]> =>
  scope.find(FaultEntity, { where: { eventId, toAtMs: IsNull() }, order: { fromAtMs: 'ASC' } });
