import { Injectable } from '@nestjs/common';
import { parseRtmpAddress } from '@heliphon/core/destinations/rtmp-address';
import type { AddDestination, DestinationView, EditDestination } from '@heliphon/contracts/destinations';
import { EventDestinationEntity, EventEntity } from '../events/event.entity.js';
import { type Context, Database } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { DestinationEntity } from './destination.entity.js';

export const streamNamePlace = ({ houseId, id }: Pick<DestinationEntity, 'houseId' | 'id'>): SealPlace => ({
  houseId,
  table: 'destinations',
  column: 'sealed_stream_name',
  id,
});

@Injectable()
export class DestinationsService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
  ) {}

  async list(ctx: Context): Promise<DestinationView[]> {
    const rows = await this.database
      .house(ctx)
      .find(DestinationEntity, { order: { name: 'ASC' }, take: 200 });
    return rows.map(view);
  }

  async add(ctx: Context, { name, address }: AddDestination): Promise<DestinationView> {
    return this.database.transaction(ctx, async (scope) => {
      const named = { id: newId(), houseId: ctx.houseId };
      const row = await scope.add(DestinationEntity, { ...named, name, ...this.#takeApart(named, address) });
      await scope.happened({
        subjectKind: 'destination',
        subjectId: row.id,
        kind: 'destination-added',
        after: view(row),
      });
      return view(row);
    });
  }

  async edit(
    ctx: Context,
    id: string,
    version: number,
    { name, address }: EditDestination,
  ): Promise<DestinationView> {
    return this.database.transaction(ctx, async (scope) => {
      const row = await scope.lockVersion(DestinationEntity, id, version, 'destination');
      const before = view(row);
      if (name !== undefined) row.name = name;
      if (address !== undefined) Object.assign(row, this.#takeApart(row, address));
      const saved = await scope.save(row);
      const after = view(saved);
      await scope.happened({
        subjectKind: 'destination',
        subjectId: id,
        kind: 'destination-edited',
        before,
        after,
      });
      return after;
    });
  }

  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(DestinationEntity, { id }, 'destination');
      const link = await scope.findOne(EventDestinationEntity, { destinationId: id });
      const event = link && (await scope.findOne(EventEntity, { id: link.eventId }));
      if (event) throw new ProblemError(409, 'place-in-use', { title: event.title });
      await scope.happened({
        subjectKind: 'destination',
        subjectId: id,
        kind: 'destination-deleted',
        before: view(row),
      });
      await scope.remove(DestinationEntity, { id });
    });
  }

  #takeApart(
    named: Pick<DestinationEntity, 'houseId' | 'id'>,
    pasted: string,
  ): Pick<DestinationEntity, 'host' | 'port' | 'application' | 'sealedStreamName'> {
    const address = parseRtmpAddress(pasted);
    if (!address.ok) throw refusedField('address', `address-${address.error.code}`);
    const { host, port, application, streamName } = address.value;
    return {
      host,
      port,
      application,
      sealedStreamName: this.secrets.seal(streamName, streamNamePlace(named)),
    };
  }
}

const view = ({ id, version, name, host, port, application }: DestinationEntity): DestinationView => ({
  id,
  version,
  name,
  host,
  port,
  application,
});
