import { FILE_LIMITS } from '@heliphon/core/files/file-kinds';
import type { HouseScope } from '../platform/database.js';
import { FileEntity } from '../tables/file.entity.js';

type Arrived = Pick<FileEntity, 'id' | 'name' | 'sizeBytes' | 'addedAtMs'>;

/** Writes down a file whose bytes are there, and that waits to be looked into. */
export async function addArrived(scope: HouseScope, { name, ...arrived }: Arrived): Promise<void> {
  const short = name.trim().slice(-FILE_LIMITS.nameLength) || 'A file';
  await scope.add(FileEntity, {
    ...arrived,
    name: short,
    kind: null,
    state: 'waiting',
    refusal: null,
    facts: null,
    madePercent: 0,
  });
  await scope.happened({
    subjectKind: 'file',
    subjectId: arrived.id,
    kind: 'file-added',
    after: { name: short },
  });
}
