import { Injectable } from '@nestjs/common';
import { type EntityManager, In, IsNull, Not } from 'typeorm';
import type { DesiredProgramme } from '@heliphon/core/control/desired-state';
import { DestinationSecrets } from '../destinations/destination-secrets.js';
import { PostingSecrets } from '../postings/posting-secrets.js';
import { DestinationEntity, isAddressed } from '../tables/destination.entity.js';
import { EventDestinationEntity, type EventEntity } from '../tables/event.entity.js';
import { PostingEntity } from '../tables/posting.entity.js';
import { opened, type Unreadable } from './unreadable.js';

/** Where programmes are sent: to a place's own address, or to that of the event's posting there. */
@Injectable()
export class PlaceAddresses {
  constructor(
    private readonly secrets: DestinationSecrets,
    private readonly postings: PostingSecrets,
  ) {}

  /** By the events' ids; what cannot be read is left out, and noted. */
  async of(
    manager: EntityManager,
    events: readonly EventEntity[],
    unreadable: Unreadable[],
  ): Promise<Map<string, DesiredProgramme['destinations']>> {
    const links = await manager.findBy(EventDestinationEntity, {
      eventId: In(events.map((event) => event.id)),
    });
    const [rows, postings] = await Promise.all([
      manager.findBy(DestinationEntity, { id: In(links.map((link) => link.destinationId)) }),
      manager.findBy(PostingEntity, {
        eventId: In(events.map((event) => event.id)),
        sealedIngest: Not(IsNull()),
      }),
    ]);
    const byId = new Map(rows.map((row) => [row.id, row]));
    const posted = new Map(
      postings.map((posting) => [`${posting.eventId} ${posting.destinationId}`, posting]),
    );
    return new Map(
      events.map((event) => [
        event.id,
        links
          .filter((link) => link.eventId === event.id && !link.paused)
          .flatMap(({ destinationId, rendition }) => {
            const row = byId.get(destinationId)!;
            const what = { subjectKind: 'destination', subjectId: row.id, houseId: row.houseId } as const;
            const posting = posted.get(`${event.id} ${row.id}`);
            const address = opened(what, unreadable, () =>
              isAddressed(row)
                ? this.secrets.addressOf(row)
                : posting
                  ? this.postings.addressOf(posting)
                  : null,
            );
            return address === null ? [] : [{ destinationId, address, rendition }];
          }),
      ]),
    );
  }
}
