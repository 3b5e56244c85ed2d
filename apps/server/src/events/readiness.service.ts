import { Injectable } from '@nestjs/common';
import { type Check, checkReadiness } from '@heliphon/core/readiness/readiness';
import { LiveFigures } from '../media-link/live-figures.js';
import { Clock } from '../platform/clock.js';
import type { HouseScope } from '../platform/database.js';
import { SourceEntity } from '../sources/source.entity.js';
import { EventDestinationEntity, type EventEntity } from './event.entity.js';

/** Gathers what is known of an event and has core compute what is still open. */
@Injectable()
export class ReadinessService {
  constructor(
    private readonly figures: LiveFigures,
    private readonly clock: Clock,
  ) {}

  async check(
    scope: HouseScope,
    event: EventEntity,
    clash: { readonly eventId: string; readonly title: string } | null,
  ): Promise<Check[]> {
    const [source, links] = await Promise.all([
      event.sourceId ? scope.findOne(SourceEntity, { id: event.sourceId }) : null,
      scope.find(EventDestinationEntity, { where: { eventId: event.id } }),
    ]);
    const live = source ? this.figures.sourceOf(source.id) : undefined;
    return checkReadiness({
      state: event.state,
      nowMs: this.clock.nowMs(),
      doorsAtMs: event.doorsAtMs ?? event.doorsDueAtMs,
      source: source && { id: source.id, name: source.name },
      report: live?.report ?? null,
      nodeIsHere: this.figures.nodeIsHere,
      hasPoster: event.posterId !== null,
      brokenPlaces: [], // an address is checked before it is kept; a place in use cannot be removed
      placeCount: links.length,
      clash,
      diskFreeBytes: this.figures.nodeIsHere ? this.figures.diskFreeBytes : null,
      plannedMs: event.hardStopAtMs - event.startsAtMs,
    });
  }
}
