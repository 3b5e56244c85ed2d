import { Injectable } from '@nestjs/common';
import { In, IsNull, LessThan, MoreThan } from 'typeorm';
import { type Check, openChecks } from '@heliphon/core/readiness/readiness';
import type { EventView } from '@heliphon/contracts/events';
import { dutiesOf, eventDuty } from '../duties/event-duties.js';
import type { HouseScope } from '../platform/database.js';
import { clashOf, isOver } from './event-clash.js';
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
    const [links, rivals] = await Promise.all([
      scope.find(EventDestinationEntity, { where: { eventId: In(ids) } }),
      scope.find(EventEntity, {
        where: {
          rehearsalOf: IsNull(),
          state: In(['planned', 'doors', 'air']),
          doorsDueAtMs: LessThan(Math.max(...events.map((event) => event.hardStopAtMs))),
          hardStopAtMs: MoreThan(Math.min(...events.map((event) => event.doorsDueAtMs))),
        },
      }),
    ]);
    const duties = await dutiesOf(scope, [...new Set([...ids, ...rivals.map(({ id }) => id)])]);
    const around = { links, rivals, duties };
    const checks = await this.readiness.check(scope, events, around);
    return events.map((event) => {
      const own = links.filter((link) => link.eventId === event.id);
      const clash = clashOf(event, rivals);
      const ownChecks = checks.get(event.id) ?? [];
      return {
        checks: ownChecks,
        view: eventView(event, {
          destinationIds: own.map((link) => link.destinationId),
          pausedDestinationIds: own.filter((link) => link.paused).map((link) => link.destinationId),
          duties: duties.filter((one) => one.eventId === event.id).map(eventDuty),
          clash,
          openChecks: isOver(event)
            ? 0
            : openChecks(ownChecks).filter((check) => check.status !== 'advises').length,
        }),
      };
    });
  }
}
