import { rm } from 'node:fs/promises';
import { Injectable } from '@nestjs/common';
import { verify } from '@node-rs/argon2';
import type { EntityManager, EntityTarget, ObjectLiteral } from 'typeorm';
import { isZone } from '@heliphon/core/schedule/civil-time';
import type { DeleteHouse, EditHouse, HouseView } from '@heliphon/contracts/house';
import { BoxEntity } from '../boxes/box.entity.js';
import { ChannelEntity } from '../channels/channel.entity.js';
import { ChatMessageEntity, ChatPersonEntity, ChatRoomEntity } from '../chat/chat.entity.js';
import { DestinationEntity } from '../destinations/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../events/event.entity.js';
import { EventDutyEntity, SeriesDutyEntity, ToldDutyEntity } from '../duties/duty.entity.js';
import { FileEntity } from '../files/file.entity.js';
import { FileFolders } from '../files/file-folders.js';
import { MorningEntity } from '../letters/morning.entity.js';
import { OrderMarkEntity, OrderSheetEntity } from '../order/order.entity.js';
import { LegEntity } from '../nodes/leg.entity.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database } from '../platform/database.js';
import {
  AddressEntity,
  CommandEntity,
  CredentialEntity,
  HappeningEntity,
  HouseEntity,
  InvitationEntity,
  MembershipEntity,
  PersonEntity,
} from '../platform/entities.js';
import { ProblemError, refusedField } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { RecordingEntity, RemovalEntity } from '../recordings/recording.entity.js';
import { SeriesDestinationEntity, SeriesEntity, SeriesSkipEntity } from '../series/series.entity.js';
import { LineEntity } from '../sources/line.entity.js';
import { SourceEntity } from '../sources/source.entity.js';

type OfHouse = EntityTarget<ObjectLiteral & { houseId: string }>;

/** Everything that a house has, in the order in which it can be taken away: what others point at comes last. */
export const HOUSE_TABLES: readonly { readonly name: string; readonly entity: OfHouse }[] = [
  { name: 'chat-messages', entity: ChatMessageEntity },
  { name: 'chat-people', entity: ChatPersonEntity },
  { name: 'chat-rooms', entity: ChatRoomEntity },
  { name: 'recordings', entity: RecordingEntity },
  { name: 'commands', entity: CommandEntity },
  { name: 'order-marks', entity: OrderMarkEntity },
  { name: 'order-sheets', entity: OrderSheetEntity },
  { name: 'told-duties', entity: ToldDutyEntity },
  { name: 'event-duties', entity: EventDutyEntity },
  { name: 'event-places', entity: EventDestinationEntity },
  { name: 'programme-legs', entity: LegEntity },
  { name: 'events', entity: EventEntity },
  { name: 'series-duties', entity: SeriesDutyEntity },
  { name: 'series-skips', entity: SeriesSkipEntity },
  { name: 'series-places', entity: SeriesDestinationEntity },
  { name: 'series', entity: SeriesEntity },
  { name: 'sending-lines', entity: LineEntity },
  { name: 'boxes', entity: BoxEntity },
  { name: 'sources', entity: SourceEntity },
  { name: 'files', entity: FileEntity },
  { name: 'channels', entity: ChannelEntity },
  { name: 'places', entity: DestinationEntity },
  { name: 'addresses', entity: AddressEntity },
  { name: 'invitations', entity: InvitationEntity },
  { name: 'credentials', entity: CredentialEntity },
  { name: 'mornings', entity: MorningEntity },
  { name: 'memberships', entity: MembershipEntity },
  { name: 'happenings', entity: HappeningEntity },
];

const EDITABLE = ['name', 'zone', 'rules', 'accent', 'accentWarm'] as const;

@Injectable()
export class HouseService {
  constructor(
    private readonly database: Database,
    private readonly folders: FileFolders,
    private readonly nodes: MediaNodes,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    undo.register('house-edited', async (_scope, { houseId, before }, manager) => {
      const row = await manager.findOneByOrFail(HouseEntity, { id: houseId });
      await manager.save(Object.assign(row, before as EditHouse));
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

  /** Takes a whole house away, for good. @throws ProblemError 422 unless name and password are right. */
  async delete(ctx: Context, { name, password }: DeleteHouse): Promise<void> {
    const manager = this.database.installation;
    const [house, person] = await Promise.all([
      manager.findOneByOrFail(HouseEntity, { id: ctx.houseId }),
      manager.findOneByOrFail(PersonEntity, { id: ctx.by }),
    ]);
    if (house.name !== name) throw refusedField('name', 'house-name-wrong');
    if (!(await verify(person.passwordHash, password))) throw refusedField('password', 'password-wrong');
    const { houseId } = ctx;
    await manager.transaction(async (inside) => {
      const running = await inside.findOneBy(EventEntity, { houseId, state: 'air' });
      if (running) throw new ProblemError(409, 'house-on-air', { title: running.title });
      for (const { programmeId } of await inside.findBy(RecordingEntity, { houseId }))
        for (const nodeId of this.nodes.ids)
          await inside.save(RemovalEntity, { programmeId, nodeId, houseId, atMs: this.clock.nowMs() });
      for (const { entity } of HOUSE_TABLES) await inside.delete(entity, { houseId });
      await inside.delete(HouseEntity, { id: houseId });
    });
    await rm(this.folders.ofHouse(houseId), { recursive: true, force: true });
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
});
