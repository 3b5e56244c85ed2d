import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import type { JournalEntry, Observation } from '@heliphon/core/control/observations';
import { EventEntity } from '../tables/event.entity.js';
import { EventLifeService } from '../events/event-life.service.js';
import { LegEntity } from '../tables/leg.entity.js';
import { Database, type HouseScope, systemContext } from '../platform/database.js';
import { MediaNodeEntity } from '../platform/entities.js';
import { RecordingEntity, RemovalEntity } from '../tables/recording.entity.js';
import { dropClip, keepClip } from '../recordings/clips.service.js';
import { keepRecording } from '../recordings/recordings.service.js';
import { SourceEntity } from '../tables/source.entity.js';
import { LiveFigures } from '../live/live-figures.js';
import { Faults } from '../signal/faults.js';
import { SignalReports } from '../signal/signal-reports.js';
import { rememberHave } from '../live/viewers-had.js';

/** What is told of clips; as programmes, which nodes take them for, they have no life that an event could adopt. */
const TOLD_OF_CLIPS: ReadonlySet<Observation['kind']> = new Set(['recording-kept', 'clip-failed']);

/** Stores what a media node observed: each entry once, in its order, with what follows from it in one transaction. */
@Injectable()
export class ObservationsService {
  constructor(
    private readonly database: Database,
    private readonly life: EventLifeService,
    private readonly figures: LiveFigures,
    private readonly faults: Faults,
    private readonly reports: SignalReports,
  ) {}

  /** @returns the number up to which everything is stored. */
  async store(nodeId: string, entries: readonly JournalEntry[]): Promise<number> {
    let storedSeq = (await this.database.installation.findOneByOrFail(MediaNodeEntity, { id: nodeId }))
      .lastJournalSeq;
    for (const entry of entries) {
      if (entry.journalSeq <= storedSeq) continue;
      await this.#storeOne(nodeId, entry);
      storedSeq = entry.journalSeq;
    }
    return storedSeq;
  }

  async #storeOne(nodeId: string, { journalSeq, observation }: JournalEntry): Promise<void> {
    const manager = this.database.installation;
    if (observation.kind === 'recording-removed')
      await manager.delete(RemovalEntity, { programmeId: observation.programmeId, nodeId });
    const houseId = await this.#houseOf(nodeId, observation);
    if (!houseId) {
      // Of something deleted meanwhile, of an encoder nobody knows, or of what is another node's by now.
      await manager.update(MediaNodeEntity, { id: nodeId }, { lastJournalSeq: journalSeq });
      return;
    }
    await this.database.inHouse(systemContext(houseId, 'node'), async (scope, manager) => {
      if (!(await claim(manager, nodeId, journalSeq))) return;
      await this.#apply(scope, nodeId, observation);
      if ('programmeId' in observation) await rememberNode(manager, nodeId, observation.programmeId);
      if (observation.kind === 'recording-joined') await forgetLegs(manager, observation);
      if (observation.kind === 'source-came' || observation.kind === 'source-went')
        await rememberSeen(manager, observation);
    });
    if (observation.kind === 'source-refused' && observation.sourceId) {
      this.figures.refused(observation.sourceId, observation.reason, observation.atMs);
    }
  }

  /** The house that is to know of it; none where what a node says of a programme does not count any more. */
  async #houseOf(nodeId: string, observation: Observation): Promise<string | undefined> {
    const manager = this.database.installation;
    if ('programmeId' in observation) {
      const { programmeId } = observation;
      const clip = TOLD_OF_CLIPS.has(observation.kind)
        ? await manager.findOneBy(RecordingEntity, { programmeId, kind: 'clip' })
        : null;
      const event = await manager.findOneBy(EventEntity, clip ? { id: clip.eventId } : { programmeId });
      return event && [null, nodeId].includes(event.nodeId) ? event.houseId : undefined;
    }
    const { sourceId } = observation;
    return sourceId ? (await manager.findOneBy(SourceEntity, { id: sourceId }))?.houseId : undefined;
  }

  async #apply(scope: HouseScope, nodeId: string, observation: Observation): Promise<void> {
    switch (observation.kind) {
      case 'programme-moved':
        return this.life.adopt(scope, observation.programmeId, observation.life);
      case 'clip-failed': {
        const clip = await clipOf(scope, observation);
        return clip ? dropClip(scope, clip) : undefined;
      }
      case 'recording-kept': {
        const clip = await clipOf(scope, observation);
        if (clip) return keepClip(scope, clip, observation);
        await this.reports.rememberLoudness(observation);
        return keepRecording(scope, observation);
      }
      case 'recording-stopped':
      case 'recording-resumed': {
        const event = await scope.lock(EventEntity, { programmeId: observation.programmeId }, 'event');
        const { kind, ...after } = observation;
        await scope.happened({ subjectKind: 'event', subjectId: event.id, kind, after });
        return;
      }
      case 'viewers-have': {
        const event = await scope.findOne(EventEntity, { programmeId: observation.programmeId });
        return event ? rememberHave(scope, event.id, observation) : undefined;
      }
      case 'fault': {
        const event = await scope.findOne(EventEntity, { programmeId: observation.programmeId });
        return event ? this.faults.remember(scope, event, observation.fault) : undefined;
      }
      case 'recording-removed':
      case 'recording-joined':
        return;
      case 'source-came':
      case 'source-went':
      case 'source-refused': {
        const { kind, sourceId, ...told } = observation;
        const after = { ...told, nodeId };
        await scope.happened({ subjectKind: 'source', subjectId: sourceId!, kind, after });
      }
    }
  }
}

const clipOf = (
  scope: HouseScope,
  { programmeId }: { programmeId: string },
): Promise<RecordingEntity | null> => scope.findOne(RecordingEntity, { programmeId, kind: 'clip' });

/** Who tells of a programme has it, also where it was over before anybody asked. */
async function rememberNode(manager: EntityManager, nodeId: string, programmeId: string): Promise<void> {
  await manager.query('UPDATE events SET node_id = ? WHERE programme_id = ? AND node_id IS NULL', [
    nodeId,
    programmeId,
  ]);
}

/** Whatever that node had is with the rest now. */
async function forgetLegs(
  manager: EntityManager,
  { programmeId, nodeId }: Extract<Observation, { kind: 'recording-joined' }>,
): Promise<void> {
  await manager.delete(LegEntity, { programmeId, nodeId });
}

/** No edit of the source: its version stays. */
async function rememberSeen(
  manager: EntityManager,
  { sourceId, atMs }: Extract<Observation, { kind: 'source-came' | 'source-went' }>,
): Promise<void> {
  await manager.query('UPDATE sources SET last_seen_at = ? WHERE id = ?', [new Date(atMs), sourceId]);
}

/** Marks an entry as stored; false when it was already. */
async function claim(manager: EntityManager, nodeId: string, journalSeq: number): Promise<boolean> {
  const node = await manager.findOneOrFail(MediaNodeEntity, {
    where: { id: nodeId },
    lock: { mode: 'pessimistic_write' },
  });
  if (journalSeq <= node.lastJournalSeq) return false;
  await manager.update(MediaNodeEntity, { id: nodeId }, { lastJournalSeq: journalSeq });
  return true;
}
