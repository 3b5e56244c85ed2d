import { Injectable } from '@nestjs/common';
import { In } from 'typeorm';
import { findClashes, nearestFreeMoves } from '@heliphon/core/schedule/clashes';
import type { RemediesView } from '@heliphon/contracts/events';
import { Clock } from '../platform/clock.js';
import { type Context, Database } from '../platform/database.js';
import { SourceEntity } from '../tables/source.entity.js';
import { sharedSources } from '../schedule/followed.js';
import { bookingsOf } from '../schedule/event-clash.js';
import { meanwhile } from '../schedule/meanwhile.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';

const FARTHEST_MS = 7 * 24 * 3_600_000;
const MOST_SOURCES = 5;

/** What would end a clash in one step: another source, or the nearest time that is free. */
@Injectable()
export class RemediesService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  async of(ctx: Context, id: string): Promise<RemediesView> {
    const scope = this.database.house(ctx);
    const event = await scope.get(EventEntity, id, 'event');
    const around = await scope.find(EventEntity, {
      where: meanwhile([{ fromMs: event.doorsDueAtMs - FARTHEST_MS, toMs: event.stopsAtMs + FARTHEST_MS }]),
    });
    const links = await scope.find(EventDestinationEntity, {
      where: { eventId: In([id, ...around.map((one) => one.id)]) },
    });
    const shared = await sharedSources(scope);
    const own = bookingsOf([event], links, shared)[0]!;
    const others = bookingsOf(around, links, shared);
    const sources = await scope.find(SourceEntity, { order: { name: 'ASC' } });
    const isFree = (sourceId: string): boolean =>
      findClashes({ ...own, sourceIds: [sourceId] }, others).length === 0;
    const lengthMs = event.stopsAtMs - event.startsAtMs;
    return {
      sources: sources
        .filter(
          (source) =>
            source.id !== event.sourceId && source.id !== event.standbySourceId && isFree(source.id),
        )
        .slice(0, MOST_SOURCES)
        .map(({ id: sourceId, name }) => ({ id: sourceId, name })),
      times: nearestFreeMoves(own, others, this.clock.nowMs(), FARTHEST_MS).map((byMs) => ({
        startsAtMs: event.startsAtMs + byMs,
        stopsAtMs: event.startsAtMs + byMs + lengthMs,
      })),
    };
  }
}
