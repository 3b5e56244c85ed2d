import { Injectable } from '@nestjs/common';
import { IsNull, MoreThan } from 'typeorm';
import { can } from '@heliphon/core/access/capabilities';
import type { EventDutyEntity } from '../duties/duty.entity.js';
import { dutiesOf, eventsOfPerson } from '../duties/event-duties.js';
import { EventEntity } from '../events/event.entity.js';
import { type SignedIn } from '../people/credentials.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { HouseEntity, MembershipEntity } from '../platform/entities.js';
import { randomText, sha256Hex } from '../platform/ids.js';
import { notFound } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { CalendarEntity, type CalendarKind } from './calendar.entity.js';
import { calendarFile, calendarId, entryOf } from './calendar-file.js';

const SECRET_BITS = 160;
/** What has been stays in view for so long. */
const BACK_MS = 60 * 86_400_000;
const MOST_EVENTS = 1000;

export type Who = Pick<SignedIn, 'personId' | 'houseId'>;

const placeOf = ({ personId, houseId }: Who, kind: CalendarKind): SealPlace => ({
  houseId,
  table: 'calendars',
  column: 'sealed_secret',
  id: kind === 'house' ? personId : `${personId}/${kind}`,
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
  async secretOf({ personId, houseId }: Who, kind: CalendarKind): Promise<string | null> {
    const row = await this.database.installation.findOneBy(CalendarEntity, { personId, houseId, kind });
    return row && this.secrets.open(row.sealedSecret, placeOf(row, kind));
  }

  /** A new secret; the one before is worth nothing from now on. */
  async renew({ personId, houseId }: Who, kind: CalendarKind): Promise<string> {
    const secret = randomText(SECRET_BITS);
    await this.database.installation.save(CalendarEntity, {
      personId,
      houseId,
      kind,
      secretSha256Hex: sha256Hex(secret),
      sealedSecret: this.secrets.seal(secret, placeOf({ personId, houseId }, kind)),
      createdAtMs: this.clock.nowMs(),
    });
    return secret;
  }

  async end({ personId, houseId }: Who): Promise<void> {
    await this.database.installation.delete(CalendarEntity, { personId, houseId, kind: 'house' });
  }

  /** The calendar of whoever has the secret, as long as its person may read the house's events. @throws ProblemError 404 */
  async read(secret: string, publicUrl: string): Promise<string> {
    const { kind, ...who } = await this.ownerOf(secret);
    return kind === 'house' ? this.planOf(who.houseId, publicUrl) : this.#dutiesOf(who, publicUrl);
  }

  /** Whose address it is, and of what. @throws ProblemError 404, also for somebody who has left the house */
  async ownerOf(secret: string): Promise<Who & { readonly kind: CalendarKind }> {
    const manager = this.database.installation;
    const row = await manager.findOneBy(CalendarEntity, { secretSha256Hex: sha256Hex(secret) });
    if (!row) throw notFound('calendar');
    const { personId, houseId, kind } = row;
    const membership = await manager.findOneBy(MembershipEntity, { personId, houseId });
    if (!membership || !can(membership.roles, 'events.read')) throw notFound('calendar');
    return { personId, houseId, kind };
  }

  /** What a house plans, and has had lately. */
  async planOf(houseId: string, publicUrl: string): Promise<string> {
    const manager = this.database.installation;
    const nowMs = this.clock.nowMs();
    const house = await manager.findOneByOrFail(HouseEntity, { id: houseId });
    const events = await this.database.house(systemContext(houseId, 'system')).find(EventEntity, {
      where: { startsAtMs: MoreThan(nowMs - BACK_MS), rehearsalOf: IsNull() },
      order: { startsAtMs: 'ASC' },
      take: MOST_EVENTS,
    });
    return calendarFile({ houseName: house.name, publicUrl, nowMs, entries: events.map(entryOf) });
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
    return calendarFile({ houseName: house.name, publicUrl, nowMs, entries });
  }
}

const onDutyAt = (duties: readonly EventDutyEntity[], personId: string): EventDutyEntity[] =>
  duties.filter((one) => one.personId === personId && one.answer !== 'no');
