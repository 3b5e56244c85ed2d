import { having, payload } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import { IsNull } from 'typeorm';
import { isZone } from '@heliphon/core/schedule/civil-time';
import type { EditHouse, HouseView } from '@heliphon/contracts/house';
import { sayShipped } from '../languages/shipped-languages.js';
import { isLanguage } from '../languages/languages.service.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { refusedField } from '../platform/problems.js';
import { LiveFigures } from '../live/live-figures.js';
import { checkOwnSizes } from './own-sizes.js';
import { FileEntity } from '../tables/file.entity.js';
import { UndoRegistry } from '../platform/undo-registry.js';

const EDITABLE = [
  'name',
  'zone',
  'rules',
  'slateWords',
  'slateSoundId',
  'ownSizes',
  'language',
  'visitCounter',
] as const;

/** Some of its settings, as they were. */
const EDITED = payload(having<EditHouse>({}));

@Injectable()
export class HouseService {
  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
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
      if (change.ownSizes) await checkOwnSizes(scope, this.figures, change.ownSizes);
      if (change.slateSoundId) await requireSound(scope, change.slateSoundId);
      if (change.language && !(await isLanguage(scope, change.language)))
        throw refusedField('language', 'no-such-language');
      const row = await scope.lockOwnHouse(version, view);
      const fields = EDITABLE.filter((field) => change[field] !== undefined);
      const before = Object.fromEntries(fields.map((field) => [field, row[field]]));
      const saved = await manager.save(Object.assign(row, change));
      const happening = { subjectKind: 'house', subjectId: row.id, kind: 'house-edited' } as const;
      await scope.happened({ ...happening, before, after: change });
      return view(saved);
    });
  }
}

async function requireSound(scope: HouseScope, id: string): Promise<void> {
  const ready = { kind: 'sound', state: 'ready', binnedAtMs: IsNull() } as const;
  if (!(await scope.findOne(FileEntity, { id, ...ready })))
    throw refusedField('slateSoundId', 'no-such-sound');
}

const view = (row: HouseEntity): HouseView => ({
  id: row.id,
  version: row.version,
  name: row.name,
  zone: row.zone,
  rules: row.rules,
  language: row.language,
  slateWords: row.slateWords ?? sayShipped(row.language)('slate.back'),
  slateSoundId: row.slateSoundId,
  ownSizes: row.ownSizes ?? [],
  visitCounter: row.visitCounter,
});
