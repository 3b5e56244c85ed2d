import { Injectable } from '@nestjs/common';
import { MoreThan } from 'typeorm';
import { can } from '@heliphon/core/access/capabilities';
import { EventEntity } from '../events/event.entity.js';
import { type SignedIn } from '../people/credentials.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { HouseEntity, MembershipEntity } from '../platform/entities.js';
import { randomText, sha256Hex } from '../platform/ids.js';
import { notFound } from '../platform/problems.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { CalendarEntity } from './calendar.entity.js';
import { calendarFile } from './calendar-file.js';

const SECRET_BITS = 160;
/** What has been stays in view for so long. */
const BACK_MS = 60 * 86_400_000;
const MOST_EVENTS = 1000;

type Who = Pick<SignedIn, 'personId' | 'houseId'>;

const placeOf = ({ personId, houseId }: Who): SealPlace => ({
  houseId,
  table: 'calendars',
  column: 'sealed_secret',
  id: personId,
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
  async secretOf({ personId, houseId }: Who): Promise<string | null> {
    const row = await this.database.installation.findOneBy(CalendarEntity, { personId, houseId });
    return row && this.secrets.open(row.sealedSecret, placeOf(row));
  }

  /** A new secret; the one before is worth nothing from now on. */
  async renew({ personId, houseId }: Who): Promise<string> {
    const secret = randomText(SECRET_BITS);
    await this.database.installation.save(CalendarEntity, {
      personId,
      houseId,
      secretSha256Hex: sha256Hex(secret),
      sealedSecret: this.secrets.seal(secret, placeOf({ personId, houseId })),
      createdAtMs: this.clock.nowMs(),
    });
    return secret;
  }

  async end({ personId, houseId }: Who): Promise<void> {
    await this.database.installation.delete(CalendarEntity, { personId, houseId });
  }

  /** The calendar of whoever has the secret, as long as its person may read the house's events. @throws ProblemError 404 */
  async read(secret: string, publicUrl: string): Promise<string> {
    const manager = this.database.installation;
    const row = await manager.findOneBy(CalendarEntity, { secretSha256Hex: sha256Hex(secret) });
    if (!row) throw notFound('calendar');
    const { personId, houseId } = row;
    const membership = await manager.findOneBy(MembershipEntity, { personId, houseId });
    if (!membership || !can(membership.roles, 'events.read')) throw notFound('calendar');
    return this.planOf(houseId, publicUrl);
  }

  /** What a house plans, and has had lately. */
  async planOf(houseId: string, publicUrl: string): Promise<string> {
    const manager = this.database.installation;
    const nowMs = this.clock.nowMs();
    const house = await manager.findOneByOrFail(HouseEntity, { id: houseId });
    const events = await this.database.house(systemContext(houseId, 'system')).find(EventEntity, {
      where: { startsAtMs: MoreThan(nowMs - BACK_MS) },
      order: { startsAtMs: 'ASC' },
      take: MOST_EVENTS,
    });
    return calendarFile({ houseName: house.name, publicUrl, nowMs, events });
  }
}
