import { Injectable } from '@nestjs/common';
import { In, IsNull, LessThan, MoreThan, Not } from 'typeorm';
import type { DesiredFilm } from '@heliphon/core/control/film';
import type { DesiredProgramme, DesiredSource, DesiredState } from '@heliphon/core/control/desired-state';
import { planOf } from '@heliphon/core/schedule/event-life';
import { DestinationEntity } from '../destinations/destination.entity.js';
import { DestinationSecrets } from '../destinations/destination-secrets.js';
import { EventDestinationEntity, EventEntity } from '../events/event.entity.js';
import { FileEntity } from '../files/file.entity.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { RecordingEntity, RemovalEntity } from '../recordings/recording.entity.js';
import { SourceEntity } from '../sources/source.entity.js';
import { Grants } from './grants.js';

/** How far ahead the node is told of events, so that it can go on alone. */
const AHEAD_MS = 48 * 3_600_000;
/** A kept event stays named until its node has surely finished with it. */
const BEHIND_MS = 10 * 60_000;

/** Makes the one document that a media node works from. */
@Injectable()
export class DesiredStateService {
  #revision = 0;

  constructor(
    private readonly database: Database,
    private readonly secrets: DestinationSecrets,
    private readonly grants: Grants,
    private readonly clock: Clock,
  ) {}

  async build(): Promise<DesiredState> {
    const manager = this.database.installation;
    const nowMs = this.clock.nowMs();
    const [sources, removals, binned, upcoming, running, kept] = await Promise.all([
      manager.find(SourceEntity),
      manager.find(RemovalEntity),
      manager.findBy(RecordingEntity, { binnedAtMs: Not(IsNull()) }),
      manager.findBy(EventEntity, {
        state: 'planned',
        isDraft: false,
        doorsDueAtMs: LessThan(nowMs + AHEAD_MS),
      }),
      manager.findBy(EventEntity, { state: In(['doors', 'air']) }),
      manager.findBy(EventEntity, { state: 'kept', endAtMs: MoreThan(nowMs - BEHIND_MS) }),
    ]);
    const events = [...upcoming, ...running, ...kept];
    const [addresses, films] = await Promise.all([this.#addresses(events), this.#films(events)]);
    this.#revision = Math.max(this.#revision + 1, Date.now());
    return {
      revision: this.#revision,
      issuedAtMs: nowMs,
      clockOffsetMs: this.clock.offsetMs,
      grantKeys: this.grants.keys,
      sources: sources.map(desiredSource),
      binnedRecordings: binned.map(({ programmeId }) => programmeId),
      removedRecordings: removals.map(({ programmeId, houseId }) => ({ programmeId, houseId })),
      programmes: events.map((event) =>
        desiredProgramme(event, addresses.get(event.id) ?? [], films.get(event.filmId ?? '') ?? null),
      ),
    };
  }

  /** By their files' ids. */
  async #films(events: readonly EventEntity[]): Promise<Map<string, DesiredFilm>> {
    const ids = [
      ...new Set(events.flatMap(({ filmId, filmSkipped }) => (filmSkipped ? [] : (filmId ?? [])))),
    ];
    const rows = ids.length > 0 ? await this.database.installation.findBy(FileEntity, { id: In(ids) }) : [];
    return new Map(
      rows.flatMap(({ id, facts }) =>
        facts?.playBytes && facts.durationMs
          ? [[id, { fileId: id, sizeBytes: facts.playBytes, durationMs: facts.durationMs }] as const]
          : [],
      ),
    );
  }

  async #addresses(events: readonly EventEntity[]): Promise<Map<string, DesiredProgramme['destinations']>> {
    const manager = this.database.installation;
    const links = await manager.findBy(EventDestinationEntity, {
      eventId: In(events.map((event) => event.id)),
    });
    const rows = await manager.findBy(DestinationEntity, { id: In(links.map((link) => link.destinationId)) });
    const byId = new Map(rows.map((row) => [row.id, row]));
    return new Map(
      events.map((event) => [
        event.id,
        links
          .filter((link) => link.eventId === event.id && !link.paused)
          .map((link) => byId.get(link.destinationId)!)
          .map((row) => ({ destinationId: row.id, address: this.secrets.addressOf(row) })),
      ]),
    );
  }
}

const desiredSource = (row: SourceEntity): DesiredSource => ({
  sourceId: row.id,
  user: row.user,
  keySha256Hex: row.keySha256Hex,
  password: row.hasPassword ? { salt: row.salt, verifier: row.passwordVerifier } : null,
  grantsValidFromMs: 0,
});

function desiredProgramme(
  event: EventEntity,
  destinations: DesiredProgramme['destinations'],
  film: DesiredFilm | null,
): DesiredProgramme {
  const { lastCommandId, lastCommandKind, lastCommandAtMs, grantsValidFromMs } = event;
  return {
    programmeId: event.programmeId,
    houseId: event.houseId,
    sourceId: event.sourceId,
    plan: planOf(event),
    command:
      lastCommandId && lastCommandKind && lastCommandAtMs !== null
        ? { commandId: lastCommandId, kind: lastCommandKind, atMs: lastCommandAtMs }
        : null,
    rewindWindowMs: event.rewindMinutes * 60_000,
    film: event.filmSkipped ? null : film,
    grantsValidFromMs: { public: grantsValidFromMs, desk: grantsValidFromMs },
    destinations,
  };
}
