import { Injectable } from '@nestjs/common';
import { In } from 'typeorm';
import { indexSpans } from '@heliphon/core/schedule/clashes';
import type { Check } from '@heliphon/core/readiness/readiness';
import { openChecks } from '@heliphon/core/readiness/open-checks';
import type { EventView } from '@heliphon/contracts/events';
import type { EventDutyEntity } from '../tables/duty.entity.js';
import { dutiesOf, eventDuty } from '../schedule/event-duties.js';
import type { HouseScope } from '../platform/database.js';
import { sharedSources } from '../schedule/followed.js';
import { bookingsOf, firstClash, isOver, RIVAL_COLUMNS } from '../schedule/event-clash.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { eventView } from './event-view.js';
import { meanwhile } from '../schedule/meanwhile.js';
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
    return eventView(event, { ...related(links, duties), clash: null, openChecks: 0 });
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
      select: RIVAL_COLUMNS,
      where: meanwhile(events.map((event) => ({ fromMs: event.doorsDueAtMs, toMs: event.hardStopAtMs }))),
    });
    const involved = [...new Set([...ids, ...rivals.map(({ id }) => id)])];
    const [links, duties, shared] = await Promise.all([
      scope.find(EventDestinationEntity, { where: { eventId: In(involved) } }),
      dutiesOf(scope, involved),
      sharedSources(scope),
    ]);
    const bookings = indexSpans(bookingsOf(rivals, links, shared));
    const coming = events.filter((event) => !isOver(event));
    const own = bookingsOf(coming, links, shared);
    const clashes = new Map(own.map((booking) => [booking.eventId, firstClash(booking, bookings)]));
    const overruns = new Map(
      own.map((booking, nth) => {
        const running = { ...booking, fromMs: booking.toMs, toMs: coming[nth]!.hardStopAtMs };
        return [booking.eventId, firstClash(running, bookings)?.other ?? null];
      }),
    );
    const [linksOf, dutiesBy] = [byEvent(links), byEvent(duties)];
    const around = { links: linksOf, bookings, duties: dutiesBy, clashes, overruns };
    const checks = await this.readiness.check(scope, events, around);
    return events.map((event) => {
      const clash = clashes.get(event.id) ?? null;
      const ownChecks = checks.get(event.id) ?? [];
      return {
        checks: ownChecks,
        view: eventView(event, {
          ...related(linksOf.get(event.id), dutiesBy.get(event.id)),
          clash: clash && { eventId: clash.other.eventId, title: clash.other.title, over: clash.over },
          openChecks: isOver(event)
            ? 0
            : openChecks(ownChecks).filter((check) => check.status !== 'advises').length,
        }),
      };
    });
  }
}

/** Where an event goes and who is on duty. */
const related = (
  links: readonly EventDestinationEntity[] = [],
  duties: readonly EventDutyEntity[] = [],
): Pick<EventView, 'destinationIds' | 'pausedDestinationIds' | 'placeSizes' | 'duties'> => ({
  destinationIds: links.map((link) => link.destinationId),
  pausedDestinationIds: links.filter((link) => link.paused).map((link) => link.destinationId),
  placeSizes: Object.fromEntries(
    links.flatMap(({ destinationId, rendition }) => (rendition ? [[destinationId, rendition]] : [])),
  ),
  duties: duties.map(eventDuty),
});

/** What was read for several events at once, each event's by itself. */
function byEvent<T extends { readonly eventId: string }>(
  rows: readonly T[],
): ReadonlyMap<string, readonly T[]> {
  const groups = new Map<string, T[]>();
  for (const row of rows) {
    const group = groups.get(row.eventId);
    if (group) group.push(row);
    else groups.set(row.eventId, [row]);
  }
  return groups;
}
