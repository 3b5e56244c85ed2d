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
import { inheritLook } from '@heliphon/core/appearance/look';
import { resolveLook, type ResolvedLook } from '@heliphon/core/appearance/palette';
import { type GrantTurns, NO_TURNS } from '@heliphon/core/access/guarded-grant';
import {
  inheritWatchRules,
  isGuarded,
  USUAL_WATCH_RULES,
  type WatchPhase,
  type WatchRefusal,
  type WatchRules,
} from '@heliphon/core/access/watch-rules';
import { type Levels, levelsOfEvent, saidOf } from '../inherited/levels-of.js';
import { type Asking, type Guarded, Visitors } from '../watching/visitors.js';
import { publicHouse } from '../house/public-house.js';
import { OrderService } from '../order/order.service.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { AddressEntity, HouseEntity } from '../platform/entities.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { RecordingEntity } from '../tables/recording.entity.js';
import { nextOf } from './next-of.js';
import { ShortMemory } from '../platform/short-memory.js';

export interface Known {
  /** By which it was asked for. */
  readonly address: AddressEntity;
  readonly event: EventEntity;
  readonly house: HouseEntity;
  readonly look: ResolvedLook;
  readonly levels: Levels;
  readonly rules: WatchRules;
  readonly next: PublicEvent['next'];
  readonly channel: ChannelEntity | null;
  readonly hasRecording: boolean;
  /** Where the address is that of a clip of the event. */
  readonly clip: RecordingEntity | null;
  readonly order: PublicOrder & { readonly seq: string };
}

const phaseOf = ({ clip, event }: Known): WatchPhase => (clip || event.state === 'kept' ? 'replay' : 'live');
const turnsOf = ({ house }: Known): GrantTurns => house.grantTurns ?? NO_TURNS;
export const guardedOf = (known: Known): Guarded => {
  const { house, levels, rules } = known;
  return { houseId: house.id, levels, rules, phase: phaseOf(known) };
};

/** Whether search engines may list it. */
export const isPublic = (known: Known): boolean => known.rules[phaseOf(known)] === 'everyone';

/** What somebody sees who may not watch: that there is something, when, and why they may not. */
const withheld = (event: PublicEvent, refusal: WatchRefusal, { showsTitle }: WatchRules): PublicEvent => ({
  ...event,
  ...(showsTitle ? {} : { title: event.house.name, description: '', notice: null, clipOf: null }),
  refusal,
  pass: null,
  playback: null,
  signal: null,
  orderSeq: null,
  chat: { ...event.chat, state: 'off' },
});

/** What the public may know of an event. */
@Injectable()
export class PublicEventsService {
  readonly #memory = new ShortMemory<Known>((slug) => this.#read(slug));

  constructor(
    private readonly database: Database,
    private readonly grants: Grants,
    private readonly figures: LiveFigures,
    private readonly order: OrderService,
    private readonly visitors: Visitors,
    private readonly clock: Clock,
  ) {}

  /**
   * @param asking - `null` for what anybody may know
   * @throws ProblemError 404 when nothing is at this address.
   */
  async get(slug: string, requestHost: string, asking: Asking | null): Promise<PublicEvent> {
    const known = await this.find(slug);
    return this.shownTo(known, await this.visitors.refusal(guardedOf(known), asking), requestHost);
  }

  /** @param refusal - why they may not watch; `null`: they may */
  shownTo(known: Known, refusal: WatchRefusal | null, requestHost: string): PublicEvent {
    const shown = known.clip ? this.#clip(known, known.clip, requestHost) : this.#event(known, requestHost);
    return refusal ? withheld(shown, refusal, known.rules) : shown;
  }

  /** @throws ProblemError 403 for somebody who shows no pass where one is needed */
  requirePass(known: Known, pass: string | undefined): void {
    if (!this.isFor(known, pass)) throw new ProblemError(403, 'not-admitted');
  }

  /** Whether somebody may read what stands beside the picture. */
  isFor(known: Known, pass: string | undefined): boolean {
    return (
      !isGuarded(known.rules, phaseOf(known)) ||
      this.grants.isPass(pass ?? '', known.event.id, turnsOf(known))
    );
  }

  /** A clip is shown as an event that is over: its page, embed and card are the same. */
  #clip(known: Known, clip: RecordingEntity, requestHost: string): PublicEvent {
    const { event } = known;
    const isThere = clip.binnedAtMs === null && clip.durationMs > 0;
    const granted = { ...event, programmeId: clip.programmeId };
    return {
      ...this.#event(known, requestHost),
      slug: clip.slug!,
      title: clip.title ?? event.title,
      description: clip.description ?? event.description,
      posterUrl: posterUrl(clip.posterId ?? event.posterId),
      state: 'kept',
      clipOf: { title: event.title, slug: event.slug },
      notice: null,
      startsAtMs: clip.airAtMs,
      endsAtMs: clip.airAtMs + clip.durationMs,
      airAtMs: clip.airAtMs,
      playback: isThere
        ? { kind: 'replay', hasSizes: false, ...this.#granted(known, granted, 'replay', requestHost) }
        : null,
      signal: null,
      orderSeq: null,
      chat: { state: 'off', eventId: event.id },
    };
  }

  #event(known: Known, requestHost: string): PublicEvent {
    const { event, house, look, channel, order } = known;
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
      clipOf: null,
      notice: event.notice,
      startsAtMs: event.startsAtMs,
      endsAtMs: event.endAtMs ?? event.stopsAtMs,
      doorsAtMs: event.doorsAtMs ?? event.doorsDueAtMs,
      airAtMs: event.airAtMs,
      beginsAtMs: event.startsAtMs - event.filmMs,
      zone: event.zone,
      rewindMs: event.rewindMinutes * 60_000,
      house: publicHouse(house),
      look,
      channel: channel && { name: channel.name, slug: channel.slug },
      refusal: null,
      pass: isGuarded(known.rules, phaseOf(known)) ? this.grants.pass(event.id, turnsOf(known)) : null,
      playback: this.#playback(known, requestHost),
      next: known.next,
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

  #playback(known: Known, requestHost: string): PublicPlayback | null {
    const { event, hasRecording } = known;
    const hasSizes = event.renditions !== 'off';
    if (event.state === 'air')
      return { kind: 'live', hasSizes, ...this.#granted(known, event, 'live', requestHost) };
    if (event.state === 'kept' && hasRecording)
      return { kind: 'replay', hasSizes, ...this.#granted(known, event, 'replay', requestHost) };
    return null;
  }

  #granted(known: Known, event: EventEntity, phase: WatchPhase, requestHost: string) {
    const turns = turnsOf(known);
    if (isGuarded(known.rules, phase)) return this.grants.guarded(event, turns, `${phase}.m3u8`, requestHost);
    const grantsValidFromMs = Math.max(event.grantsValidFromMs, turns.publicAtMs ?? 0);
    const granted = { ...event, grantsValidFromMs };
    return phase === 'live'
      ? this.grants.live(granted, 'public', requestHost)
      : this.grants.replay(granted, requestHost);
  }

  /** A series has one address for all its dates, a channel one for all its events. */
  async #at({ kind, targetId }: AddressEntity): Promise<EventEntity | null> {
    const manager = this.database.installation;
    if (kind === 'event') return manager.findOneBy(EventEntity, { id: targetId, isDraft: false });
    if (kind === 'clip') return null; // deleted
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
    const clip =
      address?.kind === 'clip' ? await manager.findOneBy(RecordingEntity, { id: address.targetId }) : null;
    const event = clip
      ? await manager.findOneBy(EventEntity, { id: clip.eventId })
      : address && (await this.#at(address));
    if (!address || !event) throw notFound('event');
    const scope = this.database.house(systemContext(event.houseId, 'system'));
    const [house, channel, recording, order, levels] = await Promise.all([
      manager.findOneByOrFail(HouseEntity, { id: event.houseId }),
      event.channelId && !event.rehearsalOf
        ? manager.findOneBy(ChannelEntity, { id: event.channelId })
        : null,
      manager.findOneBy(RecordingEntity, { houseId: event.houseId, eventId: event.id, kind: 'whole' }),
      this.order.ofPublic(event),
      levelsOfEvent(scope, event),
    ]);
    const look = inheritLook(saidOf(levels, 'look')).value;
    return {
      next: look.companions.includes('dates') ? await nextOf(scope, event, this.clock.nowMs()) : [],
      address,
      event,
      house,
      look: resolveLook(look),
      levels,
      // A rehearsal is for everybody who has its address, which nobody finds.
      rules: event.rehearsalOf ? USUAL_WATCH_RULES : inheritWatchRules(saidOf(levels, 'watching')).value,
      channel,
      hasRecording: recording !== null && recording.binnedAtMs === null,
      clip,
      order,
    };
  }
}
