import { Injectable } from '@nestjs/common';
import { type FindOptionsWhere, In, IsNull, MoreThan } from 'typeorm';
import { shownOf } from '@heliphon/core/schedule/series-plan';
import type { PublicOrder } from '@heliphon/contracts/order';
import type { PublicEvent, PublicPlayback } from '@heliphon/contracts/public-event';
import { ChannelEntity } from '../tables/channel.entity.js';
import { chatStateOf } from '../chat/chat-state.js';
import { EventEntity } from '../tables/event.entity.js';
import { posterUrl } from '../events/event-view.js';
import { Grants } from '../nodes/grants.js';
import { LiveFigures } from '../live/live-figures.js';
import { lookOf } from '../house/house-look.js';
import { OrderService } from '../order/order.service.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { AddressEntity, HouseEntity } from '../platform/entities.js';
import { notFound } from '../platform/problems.js';
import { RecordingEntity } from '../tables/recording.entity.js';
import { ShortMemory } from './short-memory.js';

interface Known {
  readonly event: EventEntity;
  readonly house: HouseEntity;
  readonly channel: ChannelEntity | null;
  readonly hasRecording: boolean;
  readonly order: PublicOrder & { readonly seq: string };
}

/** What the public may know of an event. */
@Injectable()
export class PublicEventsService {
  readonly #memory = new ShortMemory<Known>((slug) => this.#read(slug));

  constructor(
    private readonly database: Database,
    private readonly grants: Grants,
    private readonly figures: LiveFigures,
    private readonly order: OrderService,
    private readonly clock: Clock,
  ) {}

  /** @throws ProblemError 404 when nothing is at this address. */
  async get(slug: string, requestHost: string): Promise<PublicEvent> {
    const { event, house, channel, hasRecording, order } = await this.find(slug);
    const figures = this.figures.programmeOf(event);
    return {
      slug: event.slug,
      seq: event.version,
      serverNowMs: this.clock.nowMs(),
      title: event.title,
      description: event.description,
      posterUrl: posterUrl(event.posterId),
      state: event.state,
      isRehearsal: event.rehearsalOf !== null,
      notice: event.notice,
      startsAtMs: event.startsAtMs,
      endsAtMs: event.endAtMs ?? event.stopsAtMs,
      doorsAtMs: event.doorsAtMs ?? event.doorsDueAtMs,
      airAtMs: event.airAtMs,
      beginsAtMs: event.startsAtMs - event.filmMs,
      zone: event.zone,
      rewindMs: event.rewindMinutes * 60_000,
      house: lookOf(house),
      channel: channel && { name: channel.name, slug: channel.slug },
      playback: this.#playback(event, hasRecording, requestHost),
      signal: figures?.signal ?? null,
      orderSeq: order.seq || null,
      chat: { state: chatStateOf(event), eventId: event.id },
    };
  }

  find(slug: string): Promise<Known> {
    return this.#memory.get(slug);
  }

  /** Something changed: the next question reads again. */
  forget(): void {
    this.#memory.forget();
  }

  #playback(event: EventEntity, hasRecording: boolean, requestHost: string): PublicPlayback | null {
    if (event.state === 'air') return { kind: 'live', ...this.grants.live(event, 'public', requestHost) };
    if (event.state === 'kept' && hasRecording)
      return { kind: 'replay', ...this.grants.replay(event, requestHost) };
    return null;
  }

  /** A series has one address for all its dates, a channel one for all its events. */
  async #at({ kind, targetId }: AddressEntity): Promise<EventEntity | null> {
    const manager = this.database.installation;
    if (kind === 'event') return manager.findOneBy(EventEntity, { id: targetId, isDraft: false });
    const nowMs = this.clock.nowMs();
    const of: FindOptionsWhere<EventEntity> = {
      ...(kind === 'series' ? { seriesId: targetId } : { channelId: targetId }),
      isDraft: false,
      rehearsalOf: IsNull(),
    };
    const around = await Promise.all([
      manager.findBy(EventEntity, { ...of, state: In(['doors', 'air']) }),
      manager.find(EventEntity, {
        where: { ...of, state: In(['planned', 'cancelled']), stopsAtMs: MoreThan(nowMs) },
        order: { startsAtMs: 'ASC' },
        take: 1,
      }),
      manager.find(EventEntity, {
        where: { ...of, state: 'kept' },
        order: { startsAtMs: 'DESC' },
        take: 1,
      }),
    ]);
    return shownOf(around.flat(), nowMs);
  }

  async #read(slug: string): Promise<Known> {
    const manager = this.database.installation;
    const address = await manager.findOneBy(AddressEntity, { slug });
    const event = address && (await this.#at(address));
    if (!event) throw notFound('event');
    const [house, channel, recording, order] = await Promise.all([
      manager.findOneByOrFail(HouseEntity, { id: event.houseId }),
      event.channelId && !event.rehearsalOf
        ? manager.findOneBy(ChannelEntity, { id: event.channelId })
        : null,
      manager.findOneBy(RecordingEntity, { houseId: event.houseId, eventId: event.id }),
      this.order.ofPublic(event),
    ]);
    return {
      event,
      house,
      channel,
      hasRecording: recording !== null && recording.binnedAtMs === null,
      order,
    };
  }
}
