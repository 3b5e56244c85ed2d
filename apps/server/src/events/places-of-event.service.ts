import { Injectable } from '@nestjs/common';
import type { EventView } from '@heliphon/contracts/events';
import { type Context, Database } from '../platform/database.js';
import { ProblemError } from '../platform/problems.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { setDestinations } from './event-places.js';
import { EventViews } from './event-views.js';

/** Where one event goes, changed place by place, also while it is on air: the others notice nothing. */
@Injectable()
export class PlacesOfEventService {
  constructor(
    private readonly database: Database,
    private readonly views: EventViews,
  ) {}

  /** Takes a place in, or lets it go. */
  async set(ctx: Context, id: string, destinationId: string, isIn: boolean): Promise<EventView> {
    return this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      if (event.state === 'kept' || event.state === 'cancelled')
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'set-place' });
      await scope.get(DestinationEntity, destinationId, 'destination');
      const before = await this.views.plain(scope, event);
      const others = before.destinationIds.filter((one) => one !== destinationId);
      await setDestinations(scope, id, isIn ? [...others, destinationId] : others);
      if (event.seriesId) event.ownFields = [...new Set([...event.ownFields, 'destinationIds' as const])];
      await scope.save(event);
      const after = await this.views.plain(scope, event);
      await scope.happened({ subjectKind: 'event', subjectId: id, kind: 'event-edited', before, after });
      return this.views.one(scope, event);
    });
  }

  /** Leaves a place out for now, or takes it in again. */
  async pause(ctx: Context, id: string, destinationId: string, paused: boolean): Promise<EventView> {
    return this.database.transaction(ctx, async (scope) => {
      const event = await scope.get(EventEntity, id, 'event');
      const link = await scope.lock(EventDestinationEntity, { eventId: id, destinationId }, 'destination');
      if (link.paused !== paused) {
        link.paused = paused;
        await scope.save(link);
        const kind = paused ? 'place-paused' : 'place-resumed';
        await scope.happened({ subjectKind: 'event', subjectId: id, kind, after: { destinationId } });
      }
      return this.views.one(scope, event);
    });
  }

  /** Another size of the picture for one place. */
  async chooseSize(
    ctx: Context,
    id: string,
    destinationId: string,
    rendition: string | null,
  ): Promise<EventView> {
    return this.database.transaction(ctx, async (scope) => {
      const event = await scope.get(EventEntity, id, 'event');
      const link = await scope.lock(EventDestinationEntity, { eventId: id, destinationId }, 'destination');
      if (link.rendition !== rendition) {
        const before = { destinationId, rendition: link.rendition };
        link.rendition = rendition;
        await scope.save(link);
        const after = { destinationId, rendition };
        await scope.happened({ subjectKind: 'event', subjectId: id, kind: 'place-size', before, after });
      }
      return this.views.one(scope, event);
    });
  }
}
