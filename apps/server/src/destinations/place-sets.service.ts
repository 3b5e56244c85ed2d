import Joi from 'joi';
import { Injectable } from '@nestjs/common';
import type { AddPlaceSet, EditPlaceSet, PlaceSetView } from '@heliphon/contracts/place-sets';
import type { Page } from '@heliphon/contracts/problem';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { newId } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { PlaceSetEntity } from '../tables/place-set.entity.js';

const MOST = 100;

const WHOLE = payload(
  having<PlaceSetEntity>({
    id: idKey.required(),
    name: textKey.required(),
    destinationIds: Joi.array().items(idKey).required(),
  }),
);

/** Places that are chosen together, under a name. */
@Injectable()
export class PlaceSetsService {
  constructor(
    private readonly database: Database,
    undo: UndoRegistry,
  ) {
    undo.register('place-set-added', 'events.edit', payload(), (scope, { subjectId }) =>
      scope.remove(PlaceSetEntity, { id: subjectId }),
    );
    undo.register('place-set-edited', 'events.edit', WHOLE, async (scope, { subjectId, before }) => {
      const row = await scope.lock(PlaceSetEntity, { id: subjectId }, 'place-set');
      const { name, destinationIds } = before;
      if (await isTaken(scope, name, subjectId)) throw new ProblemError(409, 'changed-since');
      await scope.save(Object.assign(row, { name, destinationIds }));
    });
    undo.register('place-set-deleted', 'events.edit', WHOLE, async (scope, { before }) => {
      if (await isTaken(scope, before.name, null)) throw new ProblemError(409, 'changed-since');
      await scope.add(PlaceSetEntity, before);
    });
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<PlaceSetView>> {
    const scope = this.database.house(ctx);
    const { rows, next } = await scope.page(PlaceSetEntity, { by: 'name' }, wish);
    const there = await idsThere(scope);
    return { items: rows.map((row) => view(row, there)), next };
  }

  async add(ctx: Context, { name, destinationIds }: AddPlaceSet): Promise<PlaceSetView> {
    return this.database.transaction(ctx, async (scope) => {
      const there = await checked(scope, destinationIds);
      if ((await scope.count(PlaceSetEntity, {})) >= MOST)
        throw new ProblemError(409, 'too-many-place-sets', { most: MOST });
      if (await isTaken(scope, name, null)) throw refusedField('name', 'name-taken');
      const row = await scope.add(PlaceSetEntity, { id: newId(), name, destinationIds: [...destinationIds] });
      await happened(scope, 'place-set-added', null, row);
      return view(row, there);
    });
  }

  async edit(ctx: Context, id: string, version: number, change: EditPlaceSet): Promise<PlaceSetView> {
    return this.database.transaction(ctx, async (scope) => {
      const there = await checked(scope, change.destinationIds ?? []);
      const row = await scope.lockVersion(PlaceSetEntity, id, version, 'place-set', (now) =>
        view(now, there),
      );
      const before = { ...row };
      if (change.destinationIds) row.destinationIds = [...change.destinationIds];
      if (change.name !== undefined) {
        if (await isTaken(scope, change.name, id)) throw refusedField('name', 'name-taken');
        row.name = change.name;
      }
      const saved = await scope.save(row);
      await happened(scope, 'place-set-edited', before, saved);
      return view(saved, there);
    });
  }

  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(PlaceSetEntity, { id }, 'place-set');
      await scope.remove(PlaceSetEntity, { id });
      await happened(scope, 'place-set-deleted', row, null);
    });
  }
}

async function idsThere(scope: HouseScope): Promise<ReadonlySet<string>> {
  const rows = await scope.find(DestinationEntity, { select: { id: true } });
  return new Set(rows.map(({ id }) => id));
}

/** @throws ProblemError 422 where one of them is none of the house's */
async function checked(scope: HouseScope, wanted: readonly string[]): Promise<ReadonlySet<string>> {
  const there = await idsThere(scope);
  if (wanted.some((id) => !there.has(id))) throw refusedField('destinationIds', 'unknown-place');
  return there;
}

/** As the database compares names: without regard to case and accents. */
async function isTaken(scope: HouseScope, name: string, ownId: string | null): Promise<boolean> {
  const other = await scope.findOne(PlaceSetEntity, { name });
  return other !== null && other.id !== ownId;
}

const view = (
  { id, version, name, destinationIds }: PlaceSetEntity,
  there: ReadonlySet<string>,
): PlaceSetView => ({
  id,
  version,
  name,
  destinationIds: destinationIds.filter((one) => there.has(one)),
});

function happened(
  scope: HouseScope,
  kind: 'place-set-added' | 'place-set-edited' | 'place-set-deleted',
  before: PlaceSetEntity | null,
  after: PlaceSetEntity | null,
): Promise<unknown> {
  const { id } = (after ?? before)!;
  return scope.happened({ subjectKind: 'place-set', subjectId: id, kind, before, after });
}
