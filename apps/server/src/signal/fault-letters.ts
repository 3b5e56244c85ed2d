import { Inject, Injectable } from '@nestjs/common';
import { isWorthALetter, worstFirst } from '@heliphon/core/faults/fault';
import { PostOffice } from '../letters/post-office.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database, systemContext } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { ownUrl } from '../platform/public-url.js';
import { EventEntity } from '../tables/event.entity.js';
import type { FaultEntity } from '../tables/fault.entity.js';
import { faultLetter } from './fault-letter-text.js';
import { namesOf } from './fault-names.js';
import { faultOf, openFaultRows } from './fault-rows.js';
import { peopleOnDuty } from './people-on-duty.js';

/** The desk has had so long to notice it, and to mend it. */
const TOLD_AFTER_MS = 60_000;

/** Writes to the people on duty of an event what has been wrong with it for a minute. */
@Injectable()
export class FaultLetters {
  constructor(
    private readonly database: Database,
    private readonly post: PostOffice,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  /** @param open - the faults of an event that last. */
  async tellDue(event: EventEntity, open: readonly FaultEntity[]): Promise<void> {
    // Those who rehearse are there.
    if (event.rehearsalOf !== null || !open.some((fault) => this.#isDue(fault))) return;
    await this.database.inHouse(systemContext(event.houseId, 'system'), async (scope, manager) => {
      // One server at a time; another may have told it meanwhile.
      await scope.lock(EventEntity, { id: event.id }, 'event');
      const rows = await openFaultRows(scope, event.id);
      if (!rows.some((fault) => this.#isDue(fault))) return;
      const faults = worstFirst(rows.map(faultOf));
      const names = await namesOf(scope, faults);
      const house = await manager.findOneByOrFail(HouseEntity, { id: event.houseId });
      for (const { name, email } of await peopleOnDuty(scope, manager, event.id))
        await this.post.write(
          manager,
          email,
          faultLetter({
            name,
            houseName: house.name,
            zone: house.zone,
            title: event.title,
            faults: faults.map((fault) => ({ fault, names: names(fault) })),
            link: `${ownUrl(this.config)}/events/${event.id}/air`,
          }),
        );
      for (const row of rows) await scope.save(Object.assign(row, { toldAtMs: this.clock.nowMs() }));
    });
  }

  #isDue({ kind, toldAtMs, fromAtMs }: FaultEntity): boolean {
    return isWorthALetter(kind) && toldAtMs === null && this.clock.nowMs() - fromAtMs >= TOLD_AFTER_MS;
  }
}
