import { Injectable } from '@nestjs/common';
import type { GroundPicture } from '@heliphon/core/appearance/ground-picture';
import { inheritLook, type OwnLook } from '@heliphon/core/appearance/look';
import type { Level } from '@heliphon/core/inherited';
import type { LookView } from '@heliphon/contracts/look';
import { ownLookSchema } from '@heliphon/contracts/look.schema';
import { saidOf } from '../inherited/levels-of.js';
import { pageOf } from '../inherited/page-of.js';
import { above, type LevelRow, placed, readLevel, SaidDocument } from '../inherited/said-document.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { refusedField } from '../platform/problems.js';
import { GroundPictureEntity } from '../tables/ground-picture.entity.js';
import { LogoEntity } from '../tables/logo.entity.js';
import { UndoRegistry } from '../platform/undo-registry.js';

/** What a house, its channels, series and events say of how their pages look. */
@Injectable()
export class LooksService {
  readonly #looks: SaidDocument<'look'>;

  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    this.#looks = new SaidDocument(
      'look',
      { house: 'house-look-set', below: 'look-set' },
      ownLookSchema,
      undo,
    );
  }

  async of(ctx: Context, level: Level, id: string): Promise<LookView> {
    const scope = this.database.house(ctx);
    return this.#view(scope, await readLevel(scope, level, id));
  }

  async set(ctx: Context, level: Level, id: string, version: number, own: OwnLook): Promise<LookView> {
    return this.database.inHouse(ctx, async (scope, manager) => {
      for (const part of ['logo', 'nightLogo'] as const) {
        const id = own[part];
        if (id && !(await scope.findOne(LogoEntity, { id })))
          throw refusedField(`own.${part}`, 'logo-missing');
      }
      const said = own.picture ? { ...own, picture: await pictureOf(scope, own.picture) } : own;
      const view = (row: LevelRow): Promise<LookView> => this.#view(scope, row);
      return view(await this.#looks.set(scope, manager, { level, id, version }, said, view));
    });
  }

  async #view(scope: HouseScope, row: LevelRow): Promise<LookView> {
    const { name, level, levels } = await placed(scope, row);
    return {
      id: row.id,
      level,
      name,
      own: row.look ?? {},
      above: inheritLook(saidOf(above(levels, level), 'look')),
      version: row.version,
      slug: await pageOf(scope, row, level, this.clock.nowMs()),
    };
  }
}

/** With the extremes that the picture really has. */
async function pictureOf(scope: HouseScope, picture: GroundPicture): Promise<GroundPicture> {
  const row = await scope.findOne(GroundPictureEntity, { id: picture.id });
  if (!row) throw refusedField('own.picture', 'ground-missing');
  return { ...picture, spots: row.spots };
}
