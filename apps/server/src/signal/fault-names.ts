import { In } from 'typeorm';
import type { Fault } from '@heliphon/core/faults/fault';
import { type FaultNames, namesIn } from '@heliphon/contracts/fault-words';
import type { HouseScope } from '../platform/database.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { SourceEntity } from '../tables/source.entity.js';

/** The names of sources and places by their ids; one that was deleted since has none any more. */
export async function namesById(
  scope: HouseScope,
  ids: readonly string[],
): Promise<Readonly<Record<string, string>>> {
  const where = { id: In([...new Set(ids)].filter(Boolean)) };
  const [sources, places] = await Promise.all([
    scope.find(SourceEntity, { where }),
    scope.find(DestinationEntity, { where }),
  ]);
  return Object.fromEntries([...sources, ...places].map(({ id, name }) => [id, name]));
}

/** How the sources and places of faults are called. */
export async function namesOf(
  scope: HouseScope,
  faults: readonly Fault[],
): Promise<(fault: Pick<Fault, 'subjectId'>) => FaultNames> {
  const names = await namesById(
    scope,
    faults.map(({ subjectId }) => subjectId),
  );
  return ({ subjectId }) => namesIn(names, subjectId);
}
