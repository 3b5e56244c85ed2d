import type { HappeningKind } from '@heliphon/contracts/happenings';
import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { Injectable } from '@nestjs/common';
import type {
  AddDestination,
  DestinationAddress,
  DestinationView,
  EditDestination,
} from '@heliphon/contracts/destinations';
import type { Page } from '@heliphon/contracts/problem';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import type { HappeningEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { type UndoHandler, UndoRegistry } from '../platform/undo-registry.js';
import { DestinationEntity, isAddressed } from '../tables/destination.entity.js';
import { DestinationSecrets } from './destination-secrets.js';
import { removePlace } from './place-rows.js';

const WHOLE = payload(
  having<DestinationEntity>({
    id: idKey.required(),
    name: textKey.required(),
    host: textKey.allow(null).required(),
  }),
);

@Injectable()
export class DestinationsService {
  constructor(
    private readonly database: Database,
    private readonly secrets: DestinationSecrets,
    undo: UndoRegistry,
  ) {
    undo.register('destination-added', 'destinations.edit', payload(), (scope, { subjectId }) =>
      removePlace(scope, subjectId),
    );
    undo.register('destination-edited', 'destinations.edit', WHOLE, this.#takeBackEdit);
    undo.register('destination-deleted', 'destinations.edit', WHOLE, async (scope, { before }) => {
      await scope.add(DestinationEntity, before);
    });
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<DestinationView>> {
    const { rows, next } = await this.database.house(ctx).page(DestinationEntity, { by: 'name' }, wish);
    return { items: rows.map((row) => this.#view(row)), next };
  }

  async add(ctx: Context, { name, address, parts }: AddDestination): Promise<DestinationView> {
    return this.database.transaction(ctx, async (scope) => {
      const named = { id: newId(), houseId: ctx.houseId };
      const sealed = parts
        ? this.secrets.sealParts(named, parts, null)
        : this.secrets.sealPasted(named, address ?? '');
      const row = await scope.add(DestinationEntity, { ...named, name, ...sealed });
      await happened(scope, 'destination-added', row.id, null, row);
      return this.#view(row);
    });
  }

  async edit(
    ctx: Context,
    id: string,
    version: number,
    { name, address, parts, postAheadHours }: EditDestination,
  ): Promise<DestinationView> {
    return this.database.transaction(ctx, async (scope) => {
      const row = await scope.lockVersion(DestinationEntity, id, version, 'destination', (current) =>
        this.#view(current),
      );
      const before = { ...row };
      if (name !== undefined) row.name = name;
      if (!isAddressed(row) && (address !== undefined || parts))
        throw new ProblemError(409, 'place-of-outlet');
      if (postAheadHours !== undefined) {
        if (isAddressed(row)) throw new ProblemError(409, 'place-of-address');
        row.postAheadHours = postAheadHours;
      }
      if (address !== undefined) Object.assign(row, this.secrets.sealPasted(row, address));
      if (parts && isAddressed(row)) Object.assign(row, this.secrets.sealParts(row, parts, row));
      const saved = await scope.save(row);
      await happened(scope, 'destination-edited', id, before, saved);
      return this.#view(saved);
    });
  }

  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const place = await scope.get(DestinationEntity, id, 'destination');
      if (!isAddressed(place)) throw new ProblemError(409, 'place-of-outlet');
      const row = await removePlace(scope, id);
      await happened(scope, 'destination-deleted', id, row, null);
    });
  }

  /** The whole address, key included; that somebody looked is written down. */
  async address(ctx: Context, id: string): Promise<DestinationAddress> {
    return this.database.transaction(ctx, async (scope) => {
      const row = await scope.get(DestinationEntity, id, 'destination');
      if (!isAddressed(row)) throw new ProblemError(409, 'place-of-outlet');
      await happened(scope, 'destination-key-shown', id, null, null);
      return { address: this.secrets.addressOf(row) };
    });
  }

  readonly #takeBackEdit: UndoHandler<DestinationEntity> = async (scope, happening) => {
    const row = await scope.lock(DestinationEntity, { id: happening.subjectId }, 'destination');
    const { id: _id, houseId: _houseId, version: _version, ...before } = happening.before;
    await scope.save(Object.assign(row, before));
  };

  #view(row: DestinationEntity): DestinationView {
    const { id, version, name, outletId, postAheadHours } = row;
    if (!isAddressed(row)) return { kind: 'outlet', id, version, name, outletId: outletId!, postAheadHours };
    const { scheme, host, port, application } = row;
    const user = row.sealedLogin ? (this.secrets.open(row).login?.user ?? null) : null;
    return { kind: 'address', id, version, name, scheme, host, port, application, user };
  }
}

function happened(
  scope: HouseScope,
  kind: HappeningKind,
  subjectId: string,
  before: DestinationEntity | null,
  after: DestinationEntity | null,
): Promise<HappeningEntity> {
  return scope.happened({ subjectKind: 'destination', subjectId, kind, before, after });
}
