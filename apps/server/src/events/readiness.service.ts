import { Injectable } from '@nestjs/common';
import { In } from 'typeorm';
import type { ToldProgramme } from '@heliphon/core/control/observations';
import { choiceIn } from '@heliphon/core/ladder/rendition-setting';
import type { Ladder } from '@heliphon/core/ladder/renditions';
import { type Clash, type SpanIndex, spansDuring } from '@heliphon/core/schedule/clashes';
import {
  type AskedPerson,
  type Check,
  checkReadiness,
  type ReadinessFacts,
  type ReadinessSource,
} from '@heliphon/core/readiness/readiness';
import { nobodyCanWatch } from '../watching/nobody-can-watch.js';
import { poorColoursOf } from '../looks/poor-colours.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import type { EventDutyEntity } from '../tables/duty.entity.js';
import { outletFacts } from '../accounts/outlet-facts.js';
import { Connectors } from '../connectors/connectors.js';
import { LiveFigures } from '../live/live-figures.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Placement } from '../nodes/placement.js';
import { Clock } from '../platform/clock.js';
import { Database, type HouseScope } from '../platform/database.js';
import { PersonEntity } from '../platform/entities.js';
import { adviceOf } from '../sources/source-view.js';
import { SourceEntity } from '../tables/source.entity.js';
import type { EventBooking } from '../schedule/event-clash.js';
import type { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';

type ByEvent<T> = ReadonlyMap<string, readonly T[]>;

/** What stands around events. */
interface Around {
  /** Of the events and of their rivals, by their ids. */
  readonly links: ByEvent<EventDestinationEntity>;
  /** What is planned at the same times. */
  readonly bookings: SpanIndex<EventBooking>;
  /** Of the events and of their rivals, by their ids. */
  readonly duties: ByEvent<EventDutyEntity>;
  /** By the events' ids. */
  readonly clashes: ReadonlyMap<string, Clash<EventBooking> | null>;
  /** What each would run into, by the events' ids. */
  readonly overruns: ReadonlyMap<string, EventBooking | null>;
}

/** Gathers what is known of events and has core compute what is still open. */
@Injectable()
export class ReadinessService {
  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
    private readonly nodes: MediaNodes,
    private readonly placement: Placement,
    private readonly connectors: Connectors,
    private readonly clock: Clock,
  ) {}

  async check(
    scope: HouseScope,
    events: readonly EventEntity[],
    { links, bookings, duties, clashes, overruns }: Around,
  ): Promise<Map<string, Check[]>> {
    const sourceIds = [
      ...new Set(
        events.flatMap(({ sourceId, standbySourceId }) => [sourceId ?? [], standbySourceId ?? []].flat()),
      ),
    ];
    const placeIds = [...new Set([...links.values()].flat().map(({ destinationId }) => destinationId))];
    const [sources, places, names, poorColours, closed] = await Promise.all([
      sourceIds.length > 0 ? scope.find(SourceEntity, { where: { id: In(sourceIds) } }) : [],
      placeIds.length > 0 ? scope.find(DestinationEntity, { where: { id: In(placeIds) } }) : [],
      this.#namesOf([...duties.values()].flat()),
      poorColoursOf(scope, events),
      nobodyCanWatch(scope, events),
    ]);
    const outlets = await outletFacts(scope, this.connectors, events, [...links.values()].flat(), places);
    return new Map(
      events.map((event) => {
        const source = sources.find(({ id }) => id === event.sourceId);
        const nodeId = this.placement.nodeOf(event, source?.nodeId ?? null);
        const node = nodeId === null ? undefined : this.figures.of(nodeId);
        const checks = checkReadiness({
          state: event.state,
          nowMs: this.clock.nowMs(),
          doorsAtMs: event.doorsAtMs ?? event.doorsDueAtMs,
          source: source ? this.#sourceFacts(source, nodeId) : null,
          report: source ? (this.figures.sourceOf(source.id)?.report ?? null) : null,
          standby: this.#standbyFacts(
            sources.find(({ id }) => id === event.standbySourceId),
            nodeId,
          ),
          nodeIsHere: node !== undefined,
          hasPoster: event.posterId !== null,
          poorColours: poorColours.get(event.id) ?? 0,
          nobodyCanWatch: closed.get(event.id) ?? null,
          film: event.filmId === null ? null : { isAtNode: this.figures.hasFilm(nodeId, event.filmId) },
          brokenPlaces: [], // an address is checked before it is kept; a place in use cannot be removed
          placeCount: links.get(event.id)?.length ?? 0,
          outlets: outlets.get(event.id) ?? [],
          people: peopleOf(event, bookings, duties, names),
          clash: factsOf(clashes.get(event.id) ?? null, places),
          overrun: intoOf(overruns.get(event.id) ?? null),
          sizes: {
            choice: choiceIn(event.renditions),
            ladder: ladderOf(this.figures.programmeOf(event)),
            roomCores: node?.sizesRoomCores ?? null,
          },
          diskFreeBytes: node?.diskFreeBytes ?? null,
          plannedMs: event.hardStopAtMs - event.startsAtMs,
        });
        return [event.id, checks];
      }),
    );
  }

  #standbyFacts(source: SourceEntity | undefined, nodeId: string | null): ReadinessFacts['standby'] {
    if (!source) return null;
    const live = this.figures.sourceOf(source.id);
    return { name: source.name, report: live?.report ?? null, isAtNode: live?.nodeId === nodeId };
  }

  #sourceFacts(source: SourceEntity, nodeId: string | null): ReadinessSource {
    const advice = adviceOf(source);
    return {
      id: source.id,
      name: source.name,
      kind: source.kind,
      hasFile: source.fileId !== null && this.figures.hasFilm(nodeId, source.fileId),
      strayed: this.nodes.strayed(source.nodeId),
      advice: advice?.size ? { size: advice.size, uploadBps: advice.uploadBps } : null,
    };
  }

  async #namesOf(duties: readonly EventDutyEntity[]): Promise<ReadonlyMap<string, string>> {
    const ids = [...new Set(duties.map(({ personId }) => personId))];
    if (ids.length === 0) return new Map();
    const people = await this.database.installation.findBy(PersonEntity, { id: In(ids) });
    return new Map(people.map(({ id, name }) => [id, name]));
  }
}

/** As far as one is being made. */
function ladderOf(programme: Pick<ToldProgramme, 'sizes'> | undefined): Ladder | null {
  if (!programme || programme.sizes.making.length === 0) return null;
  return { renditions: programme.sizes.making, leftOut: programme.sizes.leftOut };
}

const intoOf = (next: EventBooking | null): ReadinessFacts['overrun'] =>
  next && { title: next.title, opensAtMs: next.fromMs };

function factsOf(
  clash: Clash<EventBooking> | null,
  places: readonly DestinationEntity[],
): ReadinessFacts['clash'] {
  if (!clash) return null;
  const { eventId, title } = clash.other;
  const place = clash.over === 'place' ? places.find(({ id }) => id === clash.placeId)?.name : undefined;
  return { eventId, title, place: place ?? null };
}

function peopleOf(
  { id, doorsDueAtMs, stopsAtMs }: EventEntity,
  bookings: SpanIndex<EventBooking>,
  duties: ByEvent<EventDutyEntity>,
  names: ReadonlyMap<string, string>,
): AskedPerson[] {
  const own = duties.get(id);
  // Nobody has to be in two places who is not asked at all.
  if (!own) return [];
  const meanwhile = spansDuring(bookings, { fromMs: doorsDueAtMs, toMs: stopsAtMs });
  const isOn = (eventId: string, personId: string): boolean =>
    duties.get(eventId)?.some((one) => one.personId === personId && one.answer !== 'no') ?? false;
  return own.map(({ duty, personId, answer }) => ({
    duty,
    name: names.get(personId) ?? '',
    answer,
    elsewhere: meanwhile.find(({ eventId }) => eventId !== id && isOn(eventId, personId))?.title ?? null,
  }));
}
