import { having, payload } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { isZone } from '@heliphon/core/schedule/civil-time';
import type { EditHouse, HouseView } from '@heliphon/contracts/house';
import { USUAL_SLATE_WORDS } from '@heliphon/contracts/slate';
import { type Context, Database } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';

const EDITABLE = ['name', 'zone', 'rules', 'accent', 'accentWarm', 'slateWords'] as const;

/** Some of its settings, as they were. */
const EDITED = payload(having<EditHouse>({}));

@Injectable()
export class HouseService {
  constructor(
    private readonly database: Database,
    undo: UndoRegistry,
  ) {
    undo.register('house-edited', 'house.edit', EDITED, async (_scope, { houseId, before }, manager) => {
      const row = await manager.findOneByOrFail(HouseEntity, { id: houseId });
      await manager.save(Object.assign(row, before));
    });
  }

  async get(ctx: Context): Promise<HouseView> {
    return view(await this.database.installation.findOneByOrFail(HouseEntity, { id: ctx.houseId }));
  }

  async edit(ctx: Context, version: number, change: EditHouse): Promise<HouseView> {
    if (change.zone !== undefined && !isZone(change.zone)) throw refusedField('zone', 'no-such-zone');
    return this.database.inHouse(ctx, async (scope, manager) => {
      const row = await lockHouse(manager, ctx.houseId);
      if (row.version !== version)
        throw new ProblemError(412, 'changed-meanwhile', { version: row.version }, { current: view(row) });
      const fields = EDITABLE.filter((field) => change[field] !== undefined);
      const before = Object.fromEntries(fields.map((field) => [field, row[field]]));
      const saved = await manager.save(Object.assign(row, change));
      const happening = { subjectKind: 'house', subjectId: row.id, kind: 'house-edited' } as const;
      await scope.happened({ ...happening, before, after: change });
      return view(saved);
    });
  }
}

async function lockHouse(manager: EntityManager, id: string): Promise<HouseEntity> {
  return manager.findOneOrFail(HouseEntity, { where: { id }, lock: { mode: 'pessimistic_write' } });
}

const view = (row: HouseEntity): HouseView => ({
  id: row.id,
  version: row.version,
  name: row.name,
  zone: row.zone,
  logoSvg: row.logoSvg,
  accent: row.accent,
  accentWarm: row.accentWarm,
  rules: row.rules,
  slateWords: row.slateWords ?? USUAL_SLATE_WORDS,
});
