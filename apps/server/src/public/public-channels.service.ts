import { Injectable } from '@nestjs/common';
import { In, IsNull, MoreThan } from 'typeorm';
import type { PublicChannel, PublicGlance, PublicReplay } from '@heliphon/contracts/channels';
import type { Page } from '@heliphon/contracts/problem';
import { CalendarsService } from '../calendars/calendars.service.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { EventEntity } from '../tables/event.entity.js';
import { posterUrl } from '../events/event-view.js';
import { inheritLook } from '@heliphon/core/appearance/look';
import { levelsOfChannel, saidOf } from '../inherited/levels-of.js';
import { resolveLook } from '@heliphon/core/appearance/palette';
import { publicHouse } from '../house/public-house.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { AddressEntity, HouseEntity } from '../platform/entities.js';
import { notFound } from '../platform/problems.js';
import { replaysOf } from '../recordings/replays.js';
import { listedOnly } from './listed-only.js';
import { ShortMemory } from '../platform/short-memory.js';

const COMING = 6;
const REPLAYS = 12;

/** What the public may know of a channel. */
@Injectable()
export class PublicChannelsService {
  readonly #memory = new ShortMemory((slug: string) => this.#read(slug));

  constructor(
    private readonly database: Database,
    private readonly calendars: CalendarsService,
    private readonly clock: Clock,
  ) {}

  /** @throws ProblemError 404 when no channel is at this address. */
  async get(slug: string): Promise<PublicChannel> {
    return { ...(await this.#memory.get(slug)), serverNowMs: this.clock.nowMs() };
  }

  /** More of what can be watched again. @throws ProblemError 404, or 422 for a cursor that is none of ours */
  async replays(slug: string, after: string | null): Promise<Page<PublicReplay>> {
    return this.#replays(await this.#find(slug), after);
  }

  /** What is planned here, for anybody's calendar program. @throws ProblemError 404 */
  async calendar(slug: string, publicUrl: string): Promise<string> {
    const { houseId, id, name } = await this.#find(slug);
    const isListed = await listedOnly(this.database.house(systemContext(houseId, 'system')));
    return this.calendars.planOf(houseId, publicUrl, { id, name }, (event) => isListed(event, 'live'));
  }

  async #find(slug: string): Promise<ChannelEntity> {
    const manager = this.database.installation;
    const address = await manager.findOneBy(AddressEntity, { slug, kind: 'channel' });
    const channel = address && (await manager.findOneBy(ChannelEntity, { id: address.targetId }));
    if (!channel) throw notFound('channel');
    return channel;
  }

  async #read(slug: string): Promise<Omit<PublicChannel, 'serverNowMs'>> {
    const manager = this.database.installation;
    const channel = await this.#find(slug);
    const { houseId } = channel;
    const of = { houseId, channelId: channel.id, isDraft: false, rehearsalOf: IsNull() };
    const scope = this.database.house(systemContext(houseId, 'system'));
    const [isListed, house, present, coming, replays, levels] = await Promise.all([
      listedOnly(scope),
      manager.findOneByOrFail(HouseEntity, { id: houseId }),
      manager.find(EventEntity, {
        where: { ...of, state: In(['doors', 'air']) },
        order: { startsAtMs: 'ASC' },
      }),
      manager.find(EventEntity, {
        where: { ...of, state: In(['planned', 'cancelled']), stopsAtMs: MoreThan(this.clock.nowMs()) },
        order: { startsAtMs: 'ASC' },
        take: COMING,
      }),
      this.#replays(channel, null),
      levelsOfChannel(scope, channel),
    ]);
    return {
      slug: channel.slug,
      name: channel.name,
      description: channel.description,
      house: publicHouse(house),
      look: resolveLook(inheritLook(saidOf(levels, 'look')).value),
      present: present.filter((event) => isListed(event, 'live')).map(glance),
      coming: coming.filter((event) => isListed(event, 'live')).map(glance),
      replays,
    };
  }

  async #replays({ houseId, id }: ChannelEntity, after: string | null): Promise<Page<PublicReplay>> {
    const scope = this.database.house(systemContext(houseId, 'system'));
    const isListed = await listedOnly(scope);
    return replaysOf(scope, id, { after, limit: REPLAYS }, (event) => isListed(event, 'replay'));
  }
}

const glance = (event: EventEntity): PublicGlance => ({
  slug: event.slug,
  title: event.title,
  state: event.state,
  startsAtMs: event.startsAtMs,
  endsAtMs: event.endAtMs ?? event.stopsAtMs,
  posterUrl: posterUrl(event.posterId),
});
