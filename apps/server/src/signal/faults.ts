import { type Fault, isSameFault, noticedMs } from '@heliphon/core/faults/fault';
import { Injectable } from '@nestjs/common';
import { LiveFigures } from '../live/live-figures.js';
import type { HouseScope } from '../platform/database.js';
import type { EventEntity } from '../tables/event.entity.js';
import { faultsOf, writeFault } from './fault-rows.js';

/** What went wrong with events, as their nodes tell it. */
@Injectable()
export class Faults {
  constructor(private readonly figures: LiveFigures) {}

  async remember(scope: HouseScope, event: EventEntity, fault: Fault): Promise<void> {
    await writeFault(scope, event.id, fault.kind === 'node-away' ? this.#counted(event, fault) : fault);
  }

  /** Everything that was wrong with an event; what is open, with what it has cost by now. */
  async of(scope: HouseScope, event: EventEntity): Promise<Fault[]> {
    const told = this.figures.programmeOf(event)?.faults ?? [];
    const faults = await faultsOf(scope, event.id);
    return faults.map((fault) =>
      fault.toMs === null ? (told.find((open) => isSameFault(open, fault)) ?? fault) : fault,
    );
  }

  /** A node that crashed does not know how many were watching, so the last known number counts. */
  #counted({ programmeId }: EventEntity, fault: Fault): Fault {
    const viewers = this.figures.history.viewersAt(programmeId, fault.fromMs);
    return { ...fault, viewerMs: Math.max(fault.viewerMs, viewers * noticedMs(fault)) };
  }
}
