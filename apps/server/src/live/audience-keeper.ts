import { Injectable } from '@nestjs/common';
import { type EntityManager, In } from 'typeorm';
import type { ViewersAt } from '@heliphon/core/audience/viewers-now';
import { Database } from '../platform/database.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { EventEntity } from '../tables/event.entity.js';
import { PostingEntity } from '../tables/posting.entity.js';
import { LiveFigures } from './live-figures.js';

const EVERY_MS = 10_000;

interface Counted {
  readonly event: EventEntity;
  readonly place: string;
  readonly viewers: number;
}

/** Writes down where the viewers of events on air are: on our page, on which websites, at which places. */
@Injectable()
export class AudienceKeeper extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Viewers are not counted';

  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
  ) {
    super();
  }

  async work(): Promise<void> {
    const onAir = new Map(
      this.figures.programmes
        .filter(({ state }) => state === 'air')
        .map(({ programmeId, viewersAt }) => [programmeId, viewersAt]),
    );
    if (onAir.size === 0) return;
    const manager = this.database.installation;
    const events = await manager.findBy(EventEntity, { programmeId: In([...onAir.keys()]), state: 'air' });
    const postings = await manager.findBy(PostingEntity, {
      eventId: In(events.map(({ id }) => id)),
      state: 'open',
    });
    const counted = events.flatMap((event): Counted[] => [
      ...(onAir.get(event.programmeId) ?? []).map(({ site, viewers }) => ({
        event,
        place: placeOf(site),
        viewers,
      })),
      ...postings
        .filter(({ eventId, viewers }) => eventId === event.id && viewers !== null)
        .map(({ destinationId, viewers }) => ({
          event,
          place: `place ${destinationId}`,
          viewers: viewers ?? 0,
        })),
    ]);
    await this.eachOf(counted, (each) => add(manager, each));
  }
}

const placeOf = (site: ViewersAt['site']): string =>
  site === null ? 'page' : site === '' ? 'elsewhere' : `site ${site}`;

const add = (manager: EntityManager, { event, place, viewers }: Counted): Promise<unknown> =>
  manager.query(
    `INSERT INTO event_viewers (house_id, event_id, place, most, viewer_ms) VALUES (?, ?, ?, ?, ?)
      ON DUPLICATE KEY UPDATE most = GREATEST(most, VALUES(most)), viewer_ms = viewer_ms + VALUES(viewer_ms)`,
    [event.houseId, event.id, place, viewers, viewers * EVERY_MS],
  );
