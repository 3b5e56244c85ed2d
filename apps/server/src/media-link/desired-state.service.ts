import { Injectable } from '@nestjs/common';
import { type EntityManager, In, IsNull, LessThan, MoreThan, Not } from 'typeorm';
import type { DesiredFilm } from '@heliphon/core/control/film';
import type {
  DesiredClip,
  DesiredJoin,
  DesiredProgramme,
  DesiredSlate,
  DesiredSource,
  DesiredStandby,
  DesiredState,
} from '@heliphon/core/control/desired-state';
import type { RenditionChoice } from '@heliphon/core/ladder/renditions';
import { choiceIn } from '@heliphon/core/ladder/rendition-setting';
import { planOf } from '@heliphon/core/schedule/event-life';
import { isOver } from '../schedule/event-clash.js';
import { lifeOf } from '../events/event-life.service.js';
import { EventEntity } from '../tables/event.entity.js';
import { FileEntity } from '../tables/file.entity.js';
import { LegEntity } from '../tables/leg.entity.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Placement } from '../nodes/placement.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { RecordingEntity, RemovalEntity } from '../tables/recording.entity.js';
import { followedEvent } from '../schedule/followed.js';
import { SendTokenEntity } from '../tables/send-token.entity.js';
import { SrtPorts } from '../sources/srt-ports.js';
import { SourceEntity } from '../tables/source.entity.js';
import { Grants } from '../nodes/grants.js';
import { guardedReplays } from '../watching/guarded-replays.js';
import { SlatesService } from '../slates/slates.service.js';
import { HouseEntity } from '../platform/entities.js';
import { PlaceAddresses } from './place-addresses.js';
import { opened, type Unreadable } from './unreadable.js';

/** How far ahead the node is told of events, so that it can go on alone. */
const AHEAD_MS = 48 * 3_600_000;
/** A kept event stays named until its node has surely finished with it. */
const BEHIND_MS = 10 * 60_000;
/** An event may have been moved on by days since somebody was invited to it. */
const LINES_BEHIND_MS = 7 * 24 * 3_600_000;

/** Legs that wait for a node that is away may be many; the newest come first. */
const JOINS_AT_ONCE = 500;
const CLIPS_AT_ONCE = 200;

/** Makes the one document that each media node works from. */
@Injectable()
export class DesiredStateService {
  #revision = 0;
  /** Told once, not each time. */
  readonly #told = new Set<string>();

  constructor(
    private readonly database: Database,
    private readonly places: PlaceAddresses,
    private readonly grants: Grants,
    private readonly srt: SrtPorts,
    private readonly nodes: MediaNodes,
    private readonly placement: Placement,
    private readonly slates: SlatesService,
    private readonly clock: Clock,
  ) {}

  /** By the nodes' ids; all of it as the database was at one moment. */
  async buildFor(nodeIds: readonly string[]): Promise<Map<string, DesiredState>> {
    const unreadable: Unreadable[] = [];
    const states = await this.database.snapshot((manager) => this.#build(manager, nodeIds, unreadable));
    for (const one of unreadable) await this.#tellUnreadable(one);
    return states;
  }

  async #build(
    manager: EntityManager,
    nodeIds: readonly string[],
    unreadable: Unreadable[],
  ): Promise<Map<string, DesiredState>> {
    const nowMs = this.clock.nowMs();
    const [sources, removals, binned, withGaps, replays, turned, upcoming, running, kept] = await Promise.all(
      [
        manager.find(SourceEntity),
        manager.find(RemovalEntity),
        manager.findBy(RecordingEntity, { binnedAtMs: Not(IsNull()) }),
        manager.findBy(RecordingEntity, { keepsGaps: true }),
        guardedReplays(manager, nowMs),
        manager.find(HouseEntity, {
          where: { grantTurns: Not(IsNull()) },
          select: { id: true, grantTurns: true },
        }),
        manager.findBy(EventEntity, {
          state: 'planned',
          isDraft: false,
          doorsDueAtMs: LessThan(nowMs + AHEAD_MS),
        }),
        manager.findBy(EventEntity, { state: In(['doors', 'air']) }),
        manager.findBy(EventEntity, { state: 'kept', endAtMs: MoreThan(nowMs - BEHIND_MS) }),
      ],
    );
    const events = [...upcoming, ...running, ...kept];
    const played = this.#playedFiles(sources);
    const houses = await manager.findBy(HouseEntity, { id: In(events.map(({ houseId }) => houseId)) });
    const houseOf = new Map(houses.map((house) => [house.id, house]));
    const [addresses, films, lines, followed, joins, clips, slates] = await Promise.all([
      this.places.of(manager, events, unreadable),
      this.#films(manager, events, played),
      this.#lines(manager, nowMs),
      this.#followed(manager, sources, nowMs),
      this.#joins(manager),
      this.#clips(manager),
      this.#slates(manager, events, houseOf),
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
          srt: opened(
            { subjectKind: 'source', subjectId: source.id, houseId: source.houseId },
            unreadable,
            () => this.srt.desired(source),
          ),
        }),
      ),
      binnedRecordings: binned.map(({ programmeId }) => programmeId),
      guardedReplays: replays,
      grantTurns: Object.fromEntries(turned.map(({ id, grantTurns }) => [id, grantTurns!])),
      recordingsWithGaps: withGaps.map(({ programmeId }) => programmeId),
      programmes: events.map((event) =>
        desiredProgramme(event, addresses.get(event.id) ?? [], {
          slate: slates.get(event.id) ?? null,
          renditions: choiceIn(event.renditions, houseOf.get(event.houseId)?.ownSizes ?? []),
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
          clips: clips.get(nodeId) ?? [],
          removedRecordings: removals
            .filter((removal) => removal.nodeId === nodeId)
            .map(({ programmeId, houseId }) => ({ programmeId, houseId })),
        },
      ]),
    );
  }

  async #tellUnreadable({ subjectKind, subjectId, houseId }: Unreadable): Promise<void> {
    if (this.#told.has(subjectId)) return;
    this.#told.add(subjectId);
    await this.database.transaction(systemContext(houseId, 'system'), (scope) =>
      scope.happened({ subjectKind, subjectId, kind: 'secret-unreadable' }),
    );
  }

  /** What the last node of a kept programme is to fetch from those before, by its id. */
  async #joins(manager: EntityManager): Promise<Map<string, DesiredJoin[]>> {
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

  /** Clips that wait to be made, by the nodes that have their events. */
  async #clips(manager: EntityManager): Promise<Map<string, DesiredClip[]>> {
    const rows = await manager.find(RecordingEntity, {
      where: { kind: 'clip', durationMs: 0 },
      order: { airAtMs: 'DESC' },
      take: CLIPS_AT_ONCE,
    });
    const events = await manager.findBy(EventEntity, { id: In(rows.map(({ eventId }) => eventId)) });
    const byNode = new Map<string, DesiredClip[]>();
    for (const { houseId, eventId, programmeId: clipId, madeFrom } of rows) {
      const event = events.find(({ id }) => id === eventId);
      if (!event?.nodeId || !madeFrom) continue;
      const { nodeId, programmeId } = event;
      byNode.set(nodeId, [...(byNode.get(nodeId) ?? []), { clipId, houseId, programmeId, ...madeFrom }]);
    }
    return byNode;
  }

  /** Of each source, those by which somebody may send now. A guest's ends with its event, whenever that is. */
  async #lines(
    manager: EntityManager,
    nowMs: number,
  ): Promise<Map<string, DesiredSource['lines'][number][]>> {
    const open = await manager.findBy(SendTokenEntity, {
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
  async #followed(
    manager: EntityManager,
    sources: readonly SourceEntity[],
    nowMs: number,
  ): Promise<ReadonlyMap<string, string>> {
    const following = sources.filter(({ kind }) => kind === 'programme');
    const found = await Promise.all(
      following.map(async (source) => {
        const event = await followedEvent(manager, source, nowMs);
        return event && event.state !== 'cancelled' ? ([source.id, event.programmeId] as const) : null;
      }),
    );
    return new Map(found.filter((one) => one !== null));
  }

  /** By their files' ids. */
  async #films(
    manager: EntityManager,
    events: readonly EventEntity[],
    played: ReadonlyMap<string, string>,
  ): Promise<Map<string, DesiredFilm>> {
    const wanted = events.flatMap(({ filmId, filmSkipped, sourceId }) => [
      filmSkipped ? null : filmId,
      played.get(sourceId ?? ''),
    ]);
    const ids = [...new Set(wanted.flatMap((id) => id ?? []))];
    const rows = ids.length > 0 ? await manager.findBy(FileEntity, { id: In(ids) }) : [];
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

  /** By their events' ids. */
  async #slates(
    manager: EntityManager,
    events: readonly EventEntity[],
    houseOf: ReadonlyMap<string, HouseEntity>,
  ): Promise<ReadonlyMap<string, DesiredSlate>> {
    const soundIds = [...houseOf.values()].flatMap(({ slateSoundId }) => slateSoundId ?? []);
    const sounds = await manager.findBy(FileEntity, {
      id: In(soundIds),
      state: 'ready',
      binnedAtMs: IsNull(),
    });
    return new Map(
      events.map((event) => {
        const house = houseOf.get(event.houseId)!;
        const sound = sounds.find(({ id }) => id === house.slateSoundId) ?? null;
        return [event.id, this.slates.desired(event, house, sound)];
      }),
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

/** What an event shows beside its source. */
interface Shown {
  readonly slate: DesiredSlate | null;
  readonly renditions: RenditionChoice;
  /** A film that is its source. */
  readonly played: DesiredFilm | null;
  /** A film that it begins with. */
  readonly before: DesiredFilm | null;
}

function standbyOf(event: EventEntity): DesiredStandby | null {
  const { standbySourceId: sourceId, standbyAfterSeconds, prefersStandby: isPreferred } = event;
  if (sourceId === null) return null;
  return { sourceId, afterMs: standbyAfterSeconds > 0 ? standbyAfterSeconds * 1000 : null, isPreferred };
}

function desiredProgramme(
  event: EventEntity,
  destinations: DesiredProgramme['destinations'],
  { slate, renditions, played, before }: Shown,
): DesiredProgramme {
  const { lastCommandId, lastCommandKind, lastCommandAtMs, grantsValidFromMs } = event;
  return {
    programmeId: event.programmeId,
    houseId: event.houseId,
    sourceId: event.sourceId,
    standby: standbyOf(event),
    plan: planOf(event),
    command:
      lastCommandId && lastCommandKind && lastCommandAtMs !== null
        ? { commandId: lastCommandId, kind: lastCommandKind, atMs: lastCommandAtMs }
        : null,
    rewindWindowMs: event.rewindMinutes * 60_000,
    slate,
    renditions,
    keepsRenditions: event.keepsRenditions,
    takenOver:
      event.leg > 0 ? { leg: event.leg, life: lifeOf(event), lastHeardMs: event.lastHeardAtMs } : null,
    // A file as its source is a film that nothing comes after: the programme ends with it.
    film: played ? { ...played, standsAlone: true } : event.filmSkipped ? null : before,
    grantsValidFromMs: { public: grantsValidFromMs, desk: grantsValidFromMs },
    destinations,
  };
}
