import { Injectable } from '@nestjs/common';
import { In } from 'typeorm';
import { type Check, openChecks } from '@heliphon/core/readiness/readiness';
import type { EventView } from '@heliphon/contracts/events';
import type { EventDutyEntity } from '../duties/duty.entity.js';
import { dutiesOf, eventDuty } from '../duties/event-duties.js';
import type { HouseScope } from '../platform/database.js';
import { sharedSources } from '../sources/followed.js';
import { bookingsOf, firstClash, isOver } from './event-clash.js';
import { EventDestinationEntity, EventEntity } from './event.entity.js';
import { eventView } from './event-view.js';
import { meanwhile } from './meanwhile.js';
import { ReadinessService } from './readiness.service.js';

/** Draws events with all that stands around them: places, people, clashes, and what is still to do. */
@Injectable()
export class EventViews {
  constructor(private readonly readiness: ReadinessService) {}

  async one(scope: HouseScope, event: EventEntity): Promise<EventView> {
    return (await this.all(scope, [event]))[0]!;
  }

  /** What it is by itself, for the record of changes: without what stands around it. */
  async plain(scope: HouseScope, event: EventEntity): Promise<EventView> {
    const links = await scope.find(EventDestinationEntity, { where: { eventId: event.id } });
    const duties = await dutiesOf(scope, [event.id]);
    return eventView(event, { ...related(event, links, duties), clash: null, openChecks: 0 });
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
      where: meanwhile(events.map((event) => ({ fromMs: event.doorsDueAtMs, toMs: event.hardStopAtMs }))),
    });
    const involved = [...new Set([...ids, ...rivals.map(({ id }) => id)])];
    const [links, duties, shared] = await Promise.all([
      scope.find(EventDestinationEntity, { where: { eventId: In(involved) } }),
      dutiesOf(scope, involved),
      sharedSources(scope),
    ]);
    const bookings = bookingsOf(rivals, links, shared);
    const coming = events.filter((event) => !isOver(event));
    const own = bookingsOf(coming, links, shared);
    const clashes = new Map(own.map((booking) => [booking.eventId, firstClash(booking, bookings)]));
    const overruns = new Map(
      own.map((booking, nth) => {
        const running = { ...booking, fromMs: booking.toMs, toMs: coming[nth]!.hardStopAtMs };
        return [booking.eventId, firstClash(running, bookings)?.other ?? null];
      }),
    );
    const checks = await this.readiness.check(scope, events, { links, rivals, duties, clashes, overruns });
    return events.map((event) => {
      const clash = clashes.get(event.id) ?? null;
      const ownChecks = checks.get(event.id) ?? [];
      return {
        checks: ownChecks,
        view: eventView(event, {
          ...related(event, links, duties),
          clash: clash && { eventId: clash.other.eventId, title: clash.other.title, over: clash.over },
          openChecks: isOver(event)
            ? 0
            : openChecks(ownChecks).filter((check) => check.status !== 'advises').length,
        }),
      };
    });
  }
}

/** Where an event goes and who is on duty, out of what was read for several. */
function related(
  { id }: EventEntity,
  links: readonly EventDestinationEntity[],
  duties: readonly EventDutyEntity[],
): Pick<EventView, 'destinationIds' | 'pausedDestinationIds' | 'duties'> {
  const own = links.filter((link) => link.eventId === id);
  return {
    destinationIds: own.map((link) => link.destinationId),
    pausedDestinationIds: own.filter((link) => link.paused).map((link) => link.destinationId),
    duties: duties.filter(({ eventId }) => eventId === id).map(eventDuty),
  };
}
