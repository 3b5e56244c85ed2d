import { Inject, Injectable } from '@nestjs/common';
import { IsNull, LessThan } from 'typeorm';
import { PostOffice } from '../letters/post-office.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database, systemContext } from '../platform/database.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { HouseEntity } from '../platform/entities.js';
import { ownUrl } from '../platform/public-url.js';
import { EventEntity } from '../tables/event.entity.js';
import { peopleOnDuty } from './people-on-duty.js';
import { reportLetter } from './report-letter-text.js';
import { SignalReports } from './signal-reports.js';

const EVERY_MS = 5000;
/** The node has told its last by then, and the desk may have gone on air again by hand. */
const SETTLED_AFTER_MS = 60_000;
const AT_ONCE = 20;

/** Sends the signal report to those who were on duty, once an event is over. */
@Injectable()
export class ReportLetters extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Signal reports wait';

  constructor(
    private readonly database: Database,
    private readonly reports: SignalReports,
    private readonly post: PostOffice,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {
    super();
  }

  async work(): Promise<void> {
    const due = await this.database.installation.find(EventEntity, {
      where: {
        state: 'kept',
        reportedAtMs: IsNull(),
        endAtMs: LessThan(this.clock.nowMs() - SETTLED_AFTER_MS),
      },
      take: AT_ONCE,
    });
    for (const event of due) await this.#send(event);
  }

  async #send({ id, houseId }: EventEntity): Promise<void> {
    await this.database.inHouse(systemContext(houseId, 'system'), async (scope, manager) => {
      // One server at a time; another may have sent it meanwhile.
      const event = await scope.lock(EventEntity, { id }, 'event');
      if (event.reportedAtMs !== null) return;
      await manager.query('UPDATE events SET reported_at = ? WHERE id = ?', [
        new Date(this.clock.nowMs()),
        id,
      ]);
      if (event.rehearsalOf !== null) return;
      const people = await peopleOnDuty(scope, manager, id);
      if (people.length === 0) return;
      const house = await manager.findOneByOrFail(HouseEntity, { id: houseId });
      const view = await this.reports.of(scope, id);
      const link = `${ownUrl(this.config)}/events/${id}/report`;
      for (const { name, email } of people) {
        const facts = { name, houseName: house.name, zone: house.zone, view, link };
        await this.post.write(manager, email, reportLetter(facts));
      }
    });
  }
}
