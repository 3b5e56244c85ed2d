import { Injectable } from '@nestjs/common';
import { In, IsNull, MoreThan } from 'typeorm';
import { can } from '@heliphon/core/access/capabilities';
import type { EventDutyEntity } from '../tables/duty.entity.js';
import { dutiesOf, eventsOfPerson } from '../schedule/event-duties.js';
import { EventEntity } from '../tables/event.entity.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import type { SignedIn } from '../platform/signed-in.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { HouseEntity, MembershipEntity } from '../platform/entities.js';
import { randomText, sha256Hex } from '../platform/ids.js';
import { notFound } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import type { InheritingEvent } from '../inherited/levels-of.js';
import { SeriesEntity, SeriesSkipEntity } from '../tables/series.entity.js';
import { CalendarEntity } from '../tables/calendar.entity.js';
import { calendarFile, calendarId, type CalendarSeries, entryOf } from './calendar-file.js';

const SECRET_BITS = 160;
/** What has been stays in view for so long. */
const BACK_MS = 60 * 86_400_000;
const MOST_EVENTS = 1000;

export type Who = Pick<SignedIn, 'personId' | 'houseId'>;

/** What a calendar shows; a channel by its id. */
export type Shown = Pick<CalendarEntity, 'kind' | 'about'>;
export const HOUSE_PLAN: Shown = { kind: 'house', about: '' };
export const OWN_DUTIES: Shown = { kind: 'duties', about: '' };

const placeOf = ({ personId, houseId }: Who, { kind, about }: Shown): SealPlace => ({
  houseId,
  table: 'calendars',
  column: 'sealed_secret',
  id: [personId, ...(kind === 'house' ? [] : [kind]), ...(about ? [about] : [])].join('/'),
});

/** Private calendar addresses, and what is read there. */
@Injectable()
export class CalendarsService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  /** The secret of somebody's address; `null` when there is none. */
  async secretOf({ personId, houseId }: Who, shown: Shown): Promise<string | null> {
    const row = await this.database.installation.findOneBy(CalendarEntity, { personId, houseId, ...shown });
    return row && this.secrets.open(row.sealedSecret, placeOf(row, shown));
  }

  /** A new secret; the one before is worth nothing from now on. */
  async renew({ personId, houseId }: Who, shown: Shown): Promise<string> {
    const secret = randomText(SECRET_BITS);
    await this.database.installation.save(CalendarEntity, {
      personId,
      houseId,
      ...shown,
      secretSha256Hex: sha256Hex(secret),
      sealedSecret: this.secrets.seal(secret, placeOf({ personId, houseId }, shown)),
      createdAtMs: this.clock.nowMs(),
    });
    return secret;
  }

  async end({ personId, houseId }: Who, shown: Shown): Promise<void> {
    await this.database.installation.delete(CalendarEntity, { personId, houseId, ...shown });
  }

  /** The calendar of anyone who has the secret, as long as its person may read the house's events. @throws ProblemError 404 */
  async read(secret: string, publicUrl: string): Promise<string> {
    const { kind, about, ...who } = await this.ownerOf(secret);
    if (kind === 'duties') return this.#dutiesOf(who, publicUrl);
    if (kind === 'house') return this.planOf(who.houseId, publicUrl);
    const channel = await this.database.installation.findOneBy(ChannelEntity, { id: about });
    if (!channel) throw notFound('calendar');
    return this.planOf(who.houseId, publicUrl, channel);
  }

  /** Whose address it is, and of what. @throws ProblemError 404, also for somebody who has left the house */
  async ownerOf(secret: string): Promise<Who & Shown> {
    const manager = this.database.installation;
    const row = await manager.findOneBy(CalendarEntity, { secretSha256Hex: sha256Hex(secret) });
    if (!row) throw notFound('calendar');
    const { personId, houseId, kind, about } = row;
    const membership = await manager.findOneBy(MembershipEntity, { personId, houseId });
    if (!membership || !can(membership.roles, 'events.read')) throw notFound('calendar');
    return { personId, houseId, kind, about };
  }

  /**
   * What a house plans and has had lately; of one of its channels only that.
   * @param isShown - leaves out what not everybody is to find; asked of dates that are only due as of events
   */
  async planOf(
    houseId: string,
    publicUrl: string,
    channel?: Pick<ChannelEntity, 'id' | 'name'>,
    isShown: (event: InheritingEvent) => boolean = () => true,
  ): Promise<string> {
    const manager = this.database.installation;
    const nowMs = this.clock.nowMs();
    const house = await manager.findOneByOrFail(HouseEntity, { id: houseId });
    const scope = this.database.house(systemContext(houseId, 'system'));
    const planned = { rehearsalOf: IsNull(), isDraft: false };
    const here = channel ? { channelId: channel.id } : {};
    const around = await scope.find(EventEntity, {
      where: { ...planned, ...here, startsAtMs: MoreThan(nowMs - BACK_MS) },
      order: { startsAtMs: 'ASC' },
      take: MOST_EVENTS,
    });
    const name = channel ? `${channel.name}, ${house.name}` : house.name;
    const events = around.filter(isShown);
    const dateOf = ({ seriesId, seriesDate }: Pick<EventEntity, 'seriesId' | 'seriesDate'>): string =>
      `${seriesId} ${seriesDate}`;
    const hidden = new Set(around.filter((event) => !isShown(event)).map(dateOf));
    const all = (await scope.find(SeriesEntity, { where: here })).filter((series) =>
      isShown({ ...series, seriesId: series.id, watching: null }),
    );
    const ofSeries = { seriesId: In(all.map(({ id }) => id)) };
    const dates = await scope.find(EventEntity, {
      where: { ...planned, ...here, ...ofSeries },
      select: { seriesId: true, seriesDate: true },
    });
    const skips = await scope.find(SeriesSkipEntity, { where: ofSeries });
    const series = all.map((one): CalendarSeries => {
      const isOfIt = ({ seriesId }: { readonly seriesId: string | null }): boolean => seriesId === one.id;
      return {
        series: one,
        events: events.filter(isOfIt),
        days: new Set(
          dates
            .filter((date) => isOfIt(date) && !hidden.has(dateOf(date)))
            .map(({ seriesDate }) => seriesDate!),
        ),
        skips: skips.filter(isOfIt).map(({ date }) => date),
      };
    });
    const byRule = new Set(all.map(({ id }) => id));
    const single = events.filter(({ seriesId }) => !seriesId || !byRule.has(seriesId));
    return calendarFile({ name, publicUrl, entries: single.map(entryOf), series });
  }

  /** What somebody is down for, and has not said no to. */
  async #dutiesOf({ personId, houseId }: Who, publicUrl: string): Promise<string> {
    const manager = this.database.installation;
    const nowMs = this.clock.nowMs();
    const house = await manager.findOneByOrFail(HouseEntity, { id: houseId });
    const scope = this.database.house(systemContext(houseId, 'system'));
    const own = await eventsOfPerson(manager, { personId, houseId }, nowMs - BACK_MS, MOST_EVENTS);
    const duties = onDutyAt(
      await dutiesOf(
        scope,
        own.map(({ id }) => id),
      ),
      personId,
    );
    const entries = own.flatMap((event) =>
      duties
        .filter(({ eventId }) => eventId === event.id)
        .map(({ duty }) => ({
          id: calendarId(`${event.id}-${duty}`),
          summary: `${event.title} (${duty})`,
          event,
        })),
    );
    return calendarFile({ name: house.name, publicUrl, entries });
  }
}

const onDutyAt = (duties: readonly EventDutyEntity[], personId: string): EventDutyEntity[] =>
  duties.filter((one) => one.personId === personId && one.answer !== 'no');
