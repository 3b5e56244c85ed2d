import { Injectable } from '@nestjs/common';
import { IsNull, MoreThan, Not } from 'typeorm';
import { FIRST_STEPS, type FirstServiceView, type FirstStep } from '@heliphon/contracts/first-service';
import { ChannelEntity } from '../tables/channel.entity.js';
import { EventEntity } from '../tables/event.entity.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database } from '../platform/database.js';
import { HouseEntity, InvitationEntity, MembershipEntity } from '../platform/entities.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { SourceEntity } from '../tables/source.entity.js';

/** How far a house is on the way to its first service: read from what is there, so that nobody ticks anything. */
@Injectable()
export class FirstService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  async get(ctx: Context): Promise<FirstServiceView> {
    const manager = this.database.installation;
    const scope = this.database.house(ctx);
    const { houseId } = ctx;
    const [house, members, invitation, seen, silent, channel, series, event] = await Promise.all([
      manager.findOneByOrFail(HouseEntity, { id: houseId }),
      manager.countBy(MembershipEntity, { houseId }),
      manager.findOneBy(InvitationEntity, {
        houseId,
        kind: 'join',
        usedAtMs: IsNull(),
        expiresAtMs: MoreThan(this.clock.nowMs()),
      }),
      scope.find(SourceEntity, { where: { lastSeenAtMs: Not(IsNull()) }, take: 1 }),
      scope.find(SourceEntity, { where: { lastSeenAtMs: IsNull() }, take: 1 }),
      scope.find(ChannelEntity, { take: 1 }),
      scope.find(SeriesEntity, { take: 1 }),
      scope.find(EventEntity, { where: { rehearsalOf: IsNull() }, order: { startsAtMs: 'DESC' }, take: 1 }),
    ]);
    const isDone: Readonly<Record<FirstStep, boolean>> = {
      // A house is made with the usual colours: an owner who saves its look has looked at it.
      look: house.version > 1 || Boolean(house.look?.logo),
      source: seen.length > 0,
      event: event.length > 0 || series.length > 0,
      website: house.siteSeenAtMs !== null,
      help: members > 1,
    };
    return {
      done: FIRST_STEPS.filter((step) => isDone[step]),
      silentSource: silent[0]?.name ?? null,
      slug: (channel[0] ?? series[0] ?? event[0])?.slug ?? null,
      siteHost: house.siteHost,
      invited: invitation?.name ?? null,
    };
  }
}
