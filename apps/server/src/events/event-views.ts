import { Injectable } from '@nestjs/common';
import { In, IsNull, LessThan, MoreThan } from 'typeorm';
import { type Check, openChecks } from '@heliphon/core/readiness/readiness';
import type { EventView } from '@heliphon/contracts/events';
import { dutiesOf, eventDuty } from '../duties/event-duties.js';
import type { HouseScope } from '../platform/database.js';
import { bookingsOf, firstClash, isOver } from './event-clash.js';
import { EventDestinationEntity, EventEntity } from './event.entity.js';
import { eventView } from './event-view.js';
import { ReadinessService } from './readiness.service.js';

/** Draws events with all that stands around them: places, people, clashes, and what is still to do. */
@Injectable()
export class EventViews {
  constructor(private readonly readiness: ReadinessService) {}

  async one(scope: HouseScope, event: EventEntity): Promise<EventView> {
    return (await this.all(scope, [event]))[0]!;
  }

  async all(scope: HouseScope, events: readonly EventEntity[]): Promise<EventView[]> {
    return (await this.#withChecks(scope, events)).map(({ view }) => view);
  }

  async checksOf(
    scope: HouseScope,
    events: readonly EventEntity[],
  ): Promise<ReadonlyMap<string, readonly Check[]>> {
    const all = await this.#withChecks(scope, events);
    return new Map(all.map(({ view, checks }) => [view.id, checks]));
  }

  /** However many events: so many queries and no more. */
  async #withChecks(
    scope: HouseScope,
    events: readonly EventEntity[],
  ): Promise<{ view: EventView; checks: readonly Check[] }[]> {
    if (events.length === 0) return [];
    const ids = events.map(({ id }) => id);
    const rivals = await scope.find(EventEntity, {
      where: {
        rehearsalOf: IsNull(),
        state: In(['planned', 'doors', 'air']),
        doorsDueAtMs: LessThan(Math.max(...events.map((event) => event.hardStopAtMs))),
        hardStopAtMs: MoreThan(Math.min(...events.map((event) => event.doorsDueAtMs))),
      },
    });
    const involved = [...new Set([...ids, ...rivals.map(({ id }) => id)])];
    const [links, duties] = await Promise.all([
      scope.find(EventDestinationEntity, { where: { eventId: In(involved) } }),
      dutiesOf(scope, involved),
    ]);
    const bookings = bookingsOf(rivals, links);
    const clashes = new Map(
      bookingsOf(
        events.filter((event) => !isOver(event)),
        links,
      ).map((own) => [own.eventId, firstClash(own, bookings)]),
    );
    const checks = await this.readiness.check(scope, events, { links, rivals, duties, clashes });
    return events.map((event) => {
      const own = links.filter((link) => link.eventId === event.id);
      const clash = clashes.get(event.id) ?? null;
      const ownChecks = checks.get(event.id) ?? [];
      return {
        checks: ownChecks,
        view: eventView(event, {
          destinationIds: own.map((link) => link.destinationId),
          pausedDestinationIds: own.filter((link) => link.paused).map((link) => link.destinationId),
          duties: duties.filter((one) => one.eventId === event.id).map(eventDuty),
          clash: clash && { eventId: clash.other.eventId, title: clash.other.title, over: clash.over },
          openChecks: isOver(event)
            ? 0
            : openChecks(ownChecks).filter((check) => check.status !== 'advises').length,
        }),
      };
    });
  }
}
