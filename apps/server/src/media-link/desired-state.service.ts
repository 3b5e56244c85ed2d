import { Injectable } from '@nestjs/common';
import { In, IsNull, LessThan, MoreThan, Not } from 'typeorm';
import type { DesiredFilm } from '@heliphon/core/control/film';
import type {
  DesiredJoin,
  DesiredProgramme,
  DesiredSource,
  DesiredState,
} from '@heliphon/core/control/desired-state';
import { planOf } from '@heliphon/core/schedule/event-life';
import { DestinationEntity } from '../destinations/destination.entity.js';
import { DestinationSecrets } from '../destinations/destination-secrets.js';
import { isOver } from '../events/event-clash.js';
import { lifeOf } from '../events/event-life.service.js';
import { EventDestinationEntity, EventEntity } from '../events/event.entity.js';
import { FileEntity } from '../files/file.entity.js';
import { LegEntity } from '../nodes/leg.entity.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Placement } from '../nodes/placement.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { RecordingEntity, RemovalEntity } from '../recordings/recording.entity.js';
import { followedEvent } from '../sources/followed.js';
import { LineEntity } from '../sources/line.entity.js';
import { SrtLines } from '../sources/srt-lines.js';
import { SourceEntity } from '../sources/source.entity.js';
import { Grants } from './grants.js';

/** How far ahead the node is told of events, so that it can go on alone. */
const AHEAD_MS = 48 * 3_600_000;
/** A kept event stays named until its node has surely finished with it. */
const BEHIND_MS = 10 * 60_000;
/** An event may have been moved on by days since somebody was invited to it. */
const LINES_BEHIND_MS = 7 * 24 * 3_600_000;

/** Legs that wait for a node that is away may be many; the newest come first. */
const JOINS_AT_ONCE = 500;

/** Makes the one document that each media node works from. */
@Injectable()
export class DesiredStateService {
  #revision = 0;

  constructor(
    private readonly database: Database,
    private readonly secrets: DestinationSecrets,
    private readonly grants: Grants,
    private readonly srt: SrtLines,
    private readonly nodes: MediaNodes,
    private readonly placement: Placement,
    private readonly clock: Clock,
  ) {}

  /** By the nodes' ids. */
  async buildFor(nodeIds: readonly string[]): Promise<Map<string, DesiredState>> {
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
    const played = this.#playedFiles(sources);
    const [addresses, films, lines, followed, joins] = await Promise.all([
      this.#addresses(events),
      this.#films(events, played),
      this.#lines(nowMs),
      this.#followed(sources, nowMs),
      this.#joins(),
    ]);
    this.#revision = Math.max(this.#revision + 1, Date.now());
    const points = new Map(sources.map(({ id, nodeId }) => [id, nodeId]));
    const nodeOf = new Map(
      events.map((event) => [
        event.programmeId,
        this.placement.nodeOf(event, points.get(event.sourceId ?? '') ?? null),
      ]),
    );
    const begun = events.filter(({ state }) => state !== 'planned').map(({ programmeId }) => programmeId);
    const all = {
      revision: this.#revision,
      issuedAtMs: nowMs,
      clockOffsetMs: this.clock.offsetMs,
      grantKeys: this.grants.keys,
      sources: sources.map((source) =>
        desiredSource(source, {
          lines: lines.get(source.id) ?? [],
          followsProgrammeId: followed.get(source.id) ?? null,
          srt: this.srt.desired(source),
        }),
      ),
      binnedRecordings: binned.map(({ programmeId }) => programmeId),
      programmes: events.map((event) =>
        desiredProgramme(event, addresses.get(event.id) ?? [], {
          played: films.get(played.get(event.sourceId ?? '') ?? '') ?? null,
          before: films.get(event.filmId ?? '') ?? null,
        }),
      ),
    };
    return new Map(
      nodeIds.map((nodeId) => [
        nodeId,
        {
          ...all,
          programmes: all.programmes.filter(({ programmeId }) => nodeOf.get(programmeId) === nodeId),
          elsewhere: begun.filter((programmeId) => nodeOf.get(programmeId) !== nodeId),
          joins: joins.get(nodeId) ?? [],
          removedRecordings: removals
            .filter((removal) => removal.nodeId === nodeId)
            .map(({ programmeId, houseId }) => ({ programmeId, houseId })),
        },
      ]),
    );
  }

  /** What the last node of a kept programme is to fetch from those before, by its id. */
  async #joins(): Promise<Map<string, DesiredJoin[]>> {
    const manager = this.database.installation;
    const legs = await manager
      .createQueryBuilder(LegEntity, 'leg')
      .innerJoin(
        EventEntity,
        'event',
        `event.programme_id = leg.programme_id AND event.state = 'kept' AND event.node_id <> leg.node_id`,
      )
      .orderBy('leg.programmeId', 'DESC')
      .take(JOINS_AT_ONCE)
      .getMany();
    const kept = await manager.findBy(EventEntity, {
      programmeId: In(legs.map(({ programmeId }) => programmeId)),
    });
    const byNode = new Map<string, Map<string, DesiredJoin>>();
    for (const { programmeId, houseId, nodeId } of legs) {
      const event = kept.find((row) => row.programmeId === programmeId);
      if (!event?.nodeId) continue;
      const address = this.grants.ofNode(event, nodeId);
      const joins = byNode.get(event.nodeId) ?? new Map<string, DesiredJoin>();
      byNode.set(
        event.nodeId,
        joins.set(`${programmeId} ${nodeId}`, { programmeId, houseId, nodeId, address }),
      );
    }
    return new Map([...byNode].map(([nodeId, joins]) => [nodeId, [...joins.values()]]));
  }

  /** Of each source, those by which somebody may send now. A guest's ends with its event, whenever that is. */
  async #lines(nowMs: number): Promise<Map<string, DesiredSource['lines'][number][]>> {
    const manager = this.database.installation;
    const open = await manager.findBy(LineEntity, {
      tokenSha256Hex: Not(IsNull()),
      withdrawnAtMs: IsNull(),
      endsAtMs: MoreThan(nowMs - LINES_BEHIND_MS),
    });
    const ids = open.flatMap(({ eventId }) => eventId ?? []);
    const events = ids.length > 0 ? await manager.findBy(EventEntity, { id: In(ids) }) : [];
    const bySource = new Map<string, DesiredSource['lines'][number][]>();
    for (const { sourceId, eventId, tokenSha256Hex, endsAtMs } of open) {
      const event = events.find(({ id }) => id === eventId);
      // A guest's event may have been moved on; a line of the house is over when it is.
      if (!event && endsAtMs <= nowMs) continue;
      const line = { sha256Hex: tokenSha256Hex!, untilMs: event ? endOfGuests(event) : endsAtMs };
      bySource.set(sourceId, [...(bySource.get(sourceId) ?? []), line]);
    }
    return bySource;
  }

  /** The file that each source of that kind plays, by the sources' ids. */
  #playedFiles(sources: readonly SourceEntity[]): ReadonlyMap<string, string> {
    return new Map(sources.flatMap(({ id, fileId }) => (fileId ? [[id, fileId] as const] : [])));
  }

  /** The programme that each source of that kind shows, by the sources' ids. */
  async #followed(sources: readonly SourceEntity[], nowMs: number): Promise<ReadonlyMap<string, string>> {
    const following = sources.filter(({ kind }) => kind === 'programme');
    const found = await Promise.all(
      following.map(async (source) => {
        const event = await followedEvent(this.database.installation, source, nowMs);
        return event && event.state !== 'cancelled' ? ([source.id, event.programmeId] as const) : null;
      }),
    );
    return new Map(found.filter((one) => one !== null));
  }

  /** By their files' ids. */
  async #films(
    events: readonly EventEntity[],
    played: ReadonlyMap<string, string>,
  ): Promise<Map<string, DesiredFilm>> {
    const wanted = events.flatMap(({ filmId, filmSkipped, sourceId }) => [
      filmSkipped ? null : filmId,
      played.get(sourceId ?? ''),
    ]);
    const ids = [...new Set(wanted.flatMap((id) => id ?? []))];
    const rows = ids.length > 0 ? await this.database.installation.findBy(FileEntity, { id: In(ids) }) : [];
    return new Map(
      rows.flatMap(({ id, facts }) =>
        facts?.playBytes && facts.durationMs
          ? [
              [
                id,
                { fileId: id, sizeBytes: facts.playBytes, durationMs: facts.durationMs, standsAlone: false },
              ] as const,
            ]
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

const endOfGuests = (event: EventEntity): number =>
  isOver(event) ? (event.endAtMs ?? 0) : event.hardStopAtMs;

const desiredSource = (
  row: SourceEntity,
  ways: Pick<DesiredSource, 'lines' | 'followsProgrammeId' | 'srt'>,
): DesiredSource => ({
  sourceId: row.id,
  user: row.user,
  keySha256Hex: row.keySha256Hex,
  password: row.hasPassword ? { salt: row.salt, verifier: row.passwordVerifier } : null,
  ...ways,
  grantsValidFromMs: 0,
});

function desiredProgramme(
  event: EventEntity,
  destinations: DesiredProgramme['destinations'],
  { played, before }: { readonly played: DesiredFilm | null; readonly before: DesiredFilm | null },
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
    takenOver: event.leg > 0 ? { leg: event.leg, life: lifeOf(event) } : null,
    // A file as its source is a film that nothing comes after: the programme ends with it.
    film: played ? { ...played, standsAlone: true } : event.filmSkipped ? null : before,
    grantsValidFromMs: { public: grantsValidFromMs, desk: grantsValidFromMs },
    destinations,
  };
}
