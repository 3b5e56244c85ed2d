import { Injectable } from '@nestjs/common';
import { In, IsNull } from 'typeorm';
import { type Fault, isSameFault } from '@heliphon/core/faults/fault';
import { LiveFigures } from '../live/live-figures.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { EventEntity } from '../tables/event.entity.js';
import { FaultEntity } from '../tables/fault.entity.js';
import { FaultLetters } from './fault-letters.js';
import { faultOf, writeFault } from './fault-rows.js';

const EVERY_MS = 2000;
/** A fault that its node no longer reports for this long is over: the node was restarted and has forgotten it. */
const FORGOTTEN_AFTER_MS = 6000;
const MOST_OPEN = 1000;

interface Heard {
  readonly fault: Fault;
  readonly atMs: number;
}

/** Looks after faults that are open: ends those that nobody knows of any more, and has the people on duty told. */
@Injectable()
export class FaultKeeper extends RepeatedWork {
  /** By row: what its node last said of it. */
  #heard = new Map<string, Heard>();
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Faults are not looked after';

  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
    private readonly letters: FaultLetters,
    private readonly clock: Clock,
  ) {
    super();
  }

  async work(): Promise<void> {
    const manager = this.database.installation;
    const rows = await manager.find(FaultEntity, { where: { toAtMs: IsNull() }, take: MOST_OPEN });
    const ids = [...new Set(rows.map(({ eventId }) => eventId))];
    const events = ids.length > 0 ? await manager.findBy(EventEntity, { id: In(ids) }) : [];
    const heard = new Map<string, Heard>();
    for (const event of events) {
      const open = rows.filter(({ eventId }) => eventId === event.id);
      const lasting: FaultEntity[] = [];
      for (const row of open) {
        const last = this.#hear(event, row);
        heard.set(row.id, last);
        if (this.#isForgotten(event, last)) await this.#end(row, last);
        else lasting.push(row);
      }
      await this.letters.tellDue(event, lasting);
    }
    this.#heard = heard;
  }

  #hear(event: EventEntity, row: FaultEntity): Heard {
    const told = this.figures.programmeOf(event)?.faults.find((fault) => isSameFault(fault, faultOf(row)));
    if (told) return { fault: told, atMs: this.clock.nowMs() };
    return this.#heard.get(row.id) ?? { fault: faultOf(row), atMs: this.clock.nowMs() };
  }

  /** Its event is over, or its node is here and does not name it. */
  #isForgotten(event: EventEntity, { atMs }: Heard): boolean {
    if (this.clock.nowMs() - atMs < FORGOTTEN_AFTER_MS) return false;
    return event.state !== 'air' || this.figures.programmeOf(event) !== undefined;
  }

  async #end({ houseId, eventId }: FaultEntity, { fault, atMs }: Heard): Promise<void> {
    await this.database.inHouse(systemContext(houseId, 'system'), (scope) =>
      writeFault(scope, eventId, { ...fault, toMs: Math.max(fault.fromMs, atMs) }),
    );
  }
}
