import { readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { INestApplicationContext } from '@nestjs/common';
import { hash } from '@node-rs/argon2';
import { type EntityManager, In } from 'typeorm';
import { LogoEntity } from '../tables/logo.entity.js';
import { addDays, instantOf, localOf, startOfDay } from '@heliphon/core/schedule/civil-time';
import { keepNames, readOrder } from '@heliphon/core/order/order-text';
import { usualRules } from '@heliphon/core/schedule/rule-choices';
import { ChannelEntity } from '../tables/channel.entity.js';
import { ChannelsService } from '../channels/channels.service.js';
import { ChatService } from '../chat/chat.service.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { DestinationsService } from '../destinations/destinations.service.js';
import { EventEntity } from '../tables/event.entity.js';
import { EventsService } from '../events/events.service.js';
import { Posters } from '../files/posters.js';
import { FileEntity } from '../tables/file.entity.js';
import { FileWork } from '../files/file-work.js';
import { FilesService } from '../files/files.service.js';
import { Credentials } from '../people/credentials.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { type Context, Database, systemContext } from '../platform/database.js';
import { HouseEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { newId, randomText } from '../platform/ids.js';
import { OrderService } from '../order/order.service.js';
import { dayOf, timeIn } from '../series/series-dates.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { SeriesService } from '../series/series.service.js';
import type { PlanEvent } from '@heliphon/contracts/events';
import { DEVICE } from '@heliphon/contracts/sources';
import { SourceEntity } from '../tables/source.entity.js';
import { SourcesService } from '../sources/sources.service.js';
import {
  BLESSING_ORDER,
  CHANNELS,
  CHAT_LINES,
  type DemoEvent,
  type DemoPerson,
  EVENTS,
  FILM,
  LANTERN_QUAY,
  LANTERN_QUAY_PEOPLE,
  PLACES,
  SERIES_TITLE,
  SERIES_TURNS,
  SOURCES,
  TIDE_MILL,
  TIDE_MILL_PEOPLE,
} from './lantern-quay.js';
import { PAST_YEAR } from './past-year.js';

/** What the keeper has to know of the demo house: whom to let send, what to record, what to print. */
export interface DemoFacts {
  readonly token: string;
  readonly people: readonly { role: string; email: string; password: string }[];
  readonly onAir: { readonly slug: string; readonly sourceId: string };
  readonly spareId: string;
  readonly recordings: readonly { houseId: string; programmeId: string; airAtMs: number; lengthMs: number }[];
  readonly events: readonly { slug: string; state: string }[];
}

/** By names. */
type Ids = Readonly<Record<'sources' | 'channels', Map<string, string>>>;

const PASSWORD = 'lamp-upon-the-water';
const FILM_MS = 60_000;
/** How long the recordings of this week are; those of the year before are short, for the disk's sake. */
const RECORDED_MS = 2 * FILM_MS;
const OLD_RECORDED_MS = 8000;
const DAYS_OF_WEEK = 7;

/** Loads what is missing of the demo house; what people changed stays. Run again, it plans the week again. */
export class DemoLoader {
  readonly #database: Database;
  readonly #nowMs: number;

  constructor(
    private readonly app: INestApplicationContext,
    /** Where the stand-in platform takes pictures in, `rtmp://host:port`. */
    private readonly platformUrl: string,
    /** Posters, drawn by our own scripts, one a light. */
    private readonly postersFolder: string,
    /** The film of the harbour chapel. */
    private readonly filmPath: string,
  ) {
    this.#database = app.get(Database);
    this.#nowMs = app.get(Clock).nowMs();
  }

  async load(): Promise<DemoFacts> {
    const manager = this.#database.installation;
    const ctx = systemContext(await this.#house(manager, LANTERN_QUAY, LANTERN_QUAY_PEOPLE), 'system');
    await this.#house(manager, TIDE_MILL, TIDE_MILL_PEOPLE);
    const sources = await this.#sources(ctx);
    const places = await this.#places(ctx);
    const channels = await this.#channels(ctx);
    await this.#endWhatRanOut(ctx);
    const recordings: DemoFacts['recordings'][number][] = [];
    for (const event of EVENTS) {
      const recording = await this.#event(ctx, event, { sources, places, channels });
      if (recording) recordings.push(recording);
    }
    recordings.push(...(await this.#pastYear(ctx, { sources, channels })));
    await this.#series(ctx);
    await this.#film(ctx);
    const producer = await manager.findOneByOrFail(PersonEntity, { email: LANTERN_QUAY_PEOPLE[1]!.email });
    const rows = await this.#database
      .house(ctx)
      .find(EventEntity, { order: { startsAtMs: 'ASC' }, take: 100 });
    const onAir = rows.find(
      (row) => row.state !== 'kept' && row.startsAtMs <= this.#nowMs && row.stopsAtMs > this.#nowMs,
    );
    return {
      token: await this.app.get(Credentials).issue('token', producer.id, ctx.houseId, 'Demo'),
      people: [...LANTERN_QUAY_PEOPLE, ...TIDE_MILL_PEOPLE].map(({ role, email }) => ({
        role,
        email,
        password: PASSWORD,
      })),
      onAir: { slug: onAir!.slug, sourceId: sources.get('Pier camera')! },
      spareId: sources.get('Spare encoder')!,
      recordings,
      events: rows.map(({ slug, id, state }) => ({ slug, state: id === onAir!.id ? 'air' : state })),
    };
  }

  async #house(
    manager: EntityManager,
    wish: typeof LANTERN_QUAY | typeof TIDE_MILL,
    people: readonly DemoPerson[],
  ): Promise<string> {
    const known = await manager.findOneBy(HouseEntity, { name: wish.name });
    if (known) return known.id;
    const { logoSvg, ...facts } = wish;
    const logo = logoSvg && newId();
    const house = await manager.save(
      manager.create(HouseEntity, {
        id: newId(),
        createdAtMs: this.#nowMs,
        ...facts,
        look: { ...facts.look, ...(logo ? { logo } : {}) },
        // The busy house has all of its first steps behind it.
        ...(logo ? { siteSeenAtMs: this.#nowMs, siteHost: 'lantern-quay.example' } : {}),
      }),
    );
    if (logo)
      await manager.insert(LogoEntity, {
        id: logo,
        houseId: house.id,
        type: 'image/svg+xml',
        bytes: Buffer.from(logoSvg),
        createdAtMs: this.#nowMs,
      });
    const passwordHash = await hash(PASSWORD);
    for (const { role, name, email } of people) {
      let person = await manager.findOneBy(PersonEntity, { email });
      if (!person) {
        person = manager.create(PersonEntity, { id: newId(), email, name, createdAtMs: this.#nowMs });
        await manager.insert(PersonEntity, { ...person, passwordHash });
      }
      await manager.insert(MembershipEntity, { personId: person.id, houseId: house.id, roles: [role] });
    }
    return house.id;
  }

  async #sources(ctx: Context): Promise<Map<string, string>> {
    const known = await this.#database.house(ctx).find(SourceEntity);
    const ids = new Map(known.map((source) => [source.name, source.id]));
    for (const name of SOURCES) {
      if (ids.has(name)) continue;
      const source = await this.app
        .get(SourcesService)
        .add(ctx, { ...DEVICE, name, hasPassword: name === 'Spare encoder', nodeId: null });
      ids.set(name, source.id);
    }
    return ids;
  }

  async #places(ctx: Context): Promise<Map<string, string>> {
    const known = await this.#database.house(ctx).find(DestinationEntity);
    const ids = new Map(known.map((place) => [place.name, place.id]));
    for (const [index, name] of PLACES.entries()) {
      if (ids.has(name)) continue;
      const address = `${this.platformUrl}/live/lantern-quay-${index + 1}`;
      ids.set(name, (await this.app.get(DestinationsService).add(ctx, { name, address })).id);
    }
    return ids;
  }

  async #channels(ctx: Context): Promise<Map<string, string>> {
    const known = await this.#database.house(ctx).find(ChannelEntity);
    const ids = new Map(known.map((channel) => [channel.name, channel.id]));
    for (const wish of CHANNELS)
      if (!ids.has(wish.name)) ids.set(wish.name, (await this.app.get(ChannelsService).add(ctx, wish)).id);
    return ids;
  }

  /** A film of the house, and an event that begins with it. */
  async #film(ctx: Context): Promise<void> {
    const scope = this.#database.house(ctx);
    if (await scope.findOne(FileEntity, { name: FILM.name })) return;
    const id = newId();
    await this.app.get(FilesService).addFilm(ctx, id, FILM.name, this.filmPath);
    await this.app.get(FileWork).workOff();
    const [event] = await scope.find(EventEntity, { where: { title: FILM.before, state: 'planned' } });
    if (event) await this.app.get(EventsService).edit(ctx, event.id, event.version, { filmId: id });
  }

  /** What an earlier start put on air, and whose time or whose picture ran out while nothing was running. */
  async #endWhatRanOut(ctx: Context): Promise<void> {
    await this.#database.transaction(ctx, async (scope) => {
      for (const row of await scope.find(EventEntity, { where: { state: 'air' } })) {
        const deadAtMs = (await this.#lastPictureMs(row)) + row.deadAirMinutes * 60_000;
        const endAtMs = Math.min(row.hardStopAtMs, deadAtMs);
        if (endAtMs > this.#nowMs) continue;
        const endCause = deadAtMs < row.hardStopAtMs ? 'dead-air' : 'overrun-used-up';
        await scope.save(Object.assign(row, { state: 'kept', endAtMs, endCause }));
      }
    });
  }

  /** When the node last wrote down a picture of this event: what it will find itself when it starts. */
  async #lastPictureMs({ houseId, programmeId, airAtMs }: EventEntity): Promise<number> {
    const { dataFolder } = this.app.get<ServerConfig>(CONFIG);
    const index = join(dataFolder, 'media', houseId, programmeId, 'index.jsonl');
    return stat(index).then(
      ({ mtimeMs }) => mtimeMs,
      () => airAtMs ?? 0,
    );
  }

  async #event(
    ctx: Context,
    event: DemoEvent,
    { sources, places, channels }: Ids & { readonly places: Map<string, string> },
  ): Promise<DemoFacts['recordings'][number] | null> {
    const { startsAtMs } = this.#times(event);
    const scope = this.#database.house(ctx);
    const same = await scope.find(EventEntity, { where: { title: event.title } });
    const isThere = same.some((row) =>
      event.time.type === 'now'
        ? row.state !== 'kept' && row.stopsAtMs > this.#nowMs + FILM_MS * 10
        : Math.abs(row.startsAtMs - startsAtMs) < 3 * 24 * 3_600_000,
    );
    if (isThere) return null;
    const events = this.app.get(EventsService);
    const planned = await events.plan(ctx, this.#wish(event, { sources, channels }));
    const edited = await events.edit(ctx, planned.id, planned.version, {
      description: event.description,
      destinationIds: event.places.map((name) => places.get(name)!),
    });
    if (event.poster) {
      const name = `${event.poster}.jpg`;
      const bytes = await readFile(join(this.postersFolder, name));
      const known = await scope.findOne(FileEntity, { name });
      const posterId = await this.app.get(Posters).keep(bytes, known?.id);
      if (!known) await this.app.get(FilesService).addPicture(ctx, posterId, name, bytes);
      await events.setPoster(ctx, edited.id, posterId);
    }
    if (event.time.type === 'now') {
      await this.#greet(ctx, edited.id);
      const items = keepNames(readOrder(BLESSING_ORDER, '00:00'), [], () => randomText(60));
      await this.app.get(OrderService).writeForEvent(ctx, edited.id, 0, { items });
    }
    return event.time.type === 'day' && event.time.inDays < 0
      ? this.#keep(ctx, edited.id, startsAtMs, RECORDED_MS)
      : null;
  }

  #wish(event: DemoEvent, { sources, channels }: Ids): PlanEvent {
    const { startsAtMs, stopsAtMs } = this.#times(event);
    return {
      title: event.title,
      startsAtLocal: localOf(startsAtMs, LANTERN_QUAY.zone),
      stopsAtLocal: localOf(stopsAtMs, LANTERN_QUAY.zone),
      sourceId: sources.get(event.source)!,
      channelId: channels.get(event.channel)!,
      likeEventId: null,
      isDraft: false,
    };
  }

  /** A year of events that are over, once. */
  async #pastYear(ctx: Context, { sources, channels }: Ids): Promise<DemoFacts['recordings'][number][]> {
    const scope = this.#database.house(ctx);
    if (await scope.findOne(EventEntity, { title: PAST_YEAR.at(-1)!.title })) return [];
    const posters = new Map((await scope.find(FileEntity)).map(({ name, id }) => [name, id]));
    const recordings: DemoFacts['recordings'][number][] = [];
    for (const [count, event] of PAST_YEAR.entries()) {
      const wish = this.#wish(event, { sources, channels });
      const { description } = event;
      const { id } = await this.app.get(EventsService).plan(ctx, wish, { description });
      const posterId = posters.get(`${event.poster}.jpg`) ?? null;
      await this.#database.transaction(ctx, async (past) => {
        await past.save(Object.assign(await past.lock(EventEntity, { id }, 'event'), { posterId }));
      });
      // Each a little longer than the last, so that not all look alike.
      const { startsAtMs } = this.#times(event);
      recordings.push(await this.#keep(ctx, id, startsAtMs, OLD_RECORDED_MS + (count % 5) * 2000));
    }
    return recordings;
  }

  /** The weekly service, as somebody would plan it after its first date. */
  async #series(ctx: Context): Promise<void> {
    const scope = this.#database.house(ctx);
    if (await scope.findOne(SeriesEntity, { title: SERIES_TITLE })) return;
    const [first] = await scope.find(EventEntity, {
      where: { title: SERIES_TITLE },
      order: { startsAtMs: 'DESC' },
    });
    const startsAtMs = addDays(first!.startsAtMs, DAYS_OF_WEEK, first!.zone);
    const firstDate = dayOf(startsAtMs, first!.zone);
    const series = await this.app.get(SeriesService).plan(ctx, {
      title: SERIES_TITLE,
      sourceId: first!.sourceId,
      likeEventId: first!.id,
      channelId: first!.channelId,
      rule: usualRules(firstDate)[0]!.rule.text,
      firstDate,
      timeOfDay: timeIn(startsAtMs, first!.zone),
      lengthMinutes: Math.round((first!.stopsAtMs - first!.startsAtMs) / 60_000),
    });
    const people = await this.#database.installation.findBy(PersonEntity, {
      email: In(LANTERN_QUAY_PEOPLE.map(({ email }) => email)),
    });
    await this.app.get(SeriesService).edit(ctx, series.id, series.version, {
      duties: SERIES_TURNS.map(({ duty, names }) => ({
        duty,
        personIds: names.map((name) => people.find((person) => person.name === name)!.id),
      })),
    });
  }

  /** An event of a past day: over, with a recording that the media side makes of the film. */
  async #keep(
    ctx: Context,
    eventId: string,
    airAtMs: number,
    lengthMs: number,
  ): Promise<DemoFacts['recordings'][number]> {
    return this.#database.transaction(ctx, async (scope) => {
      const row = await scope.lock(EventEntity, { id: eventId }, 'event');
      const endAtMs = airAtMs + lengthMs;
      Object.assign(row, {
        state: 'kept',
        doorsAtMs: row.doorsDueAtMs,
        airAtMs,
        endAtMs,
        endCause: 'by-hand',
      });
      await scope.save(row);
      return { houseId: ctx.houseId, programmeId: row.programmeId, airAtMs, lengthMs };
    });
  }

  /** A few words in the chat of the event that is on air. */
  async #greet(ctx: Context, eventId: string): Promise<void> {
    const chat = this.app.get(ChatService);
    const event = await this.#database.house(ctx).get(EventEntity, eventId, 'event');
    event.state = 'doors'; // as it will be in a moment, when the clock has moved it
    for (const { name, text } of CHAT_LINES) {
      const { token } = await chat.join(event, { name, acceptsRules: true });
      await chat.post(event, token, { text, messageId: newId() });
    }
  }

  #times({ time }: DemoEvent): { startsAtMs: number; stopsAtMs: number } {
    const { zone } = LANTERN_QUAY;
    if (time.type === 'now') {
      const minute = Math.floor(this.#nowMs / 60_000) * 60_000;
      return { startsAtMs: minute, stopsAtMs: minute + time.hours * 3_600_000 };
    }
    const day = localOf(addDays(startOfDay(this.#nowMs, zone), time.inDays, zone), zone).slice(0, 10);
    const starts = instantOf(`${day}T${time.at}`, zone);
    if (!starts.ok) throw new Error(`${day}T${time.at} does not exist in ${zone}`);
    return { startsAtMs: starts.value, stopsAtMs: starts.value + time.minutes * 60_000 };
  }
}
