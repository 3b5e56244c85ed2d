import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { In } from 'typeorm';
import { chooseNode } from '@heliphon/core/nodes/choose-node';
import { isOver } from '../schedule/event-clash.js';
import { EventEntity } from '../tables/event.entity.js';
import { LiveFigures } from '../live/live-figures.js';
import { Database, systemContext } from '../platform/database.js';
import { SourceEntity } from '../tables/source.entity.js';
import { LegEntity } from '../tables/leg.entity.js';
import { FanOut, type Topic } from '../platform/shared/fan-out.js';
import { MediaNodes } from './media-nodes.js';
import { NodeWatch } from './node-watch.js';

const TICK_MS = 500;

type Placed = Pick<EventEntity, 'nodeId' | 'state' | 'programmeId' | 'sourceId'>;

const isRunning = ({ state }: Pick<EventEntity, 'state'>): boolean => state === 'doors' || state === 'air';

/** Told when something is to run at another node from now on. */
export const MOVED: Topic<object> = { name: 'moved' };

/** Decides at which node an event runs, and takes it to another when its own has gone. */
@Injectable()
export class Placement implements OnApplicationShutdown {
  readonly #log = new Logger('Placement');
  #timer: NodeJS.Timeout | null = null;
  #isTicking = false;

  constructor(
    private readonly database: Database,
    private readonly nodes: MediaNodes,
    private readonly watch: NodeWatch,
    private readonly figures: LiveFigures,
    private readonly fanOut: FanOut,
  ) {}

  start(): void {
    this.#timer = setInterval(() => void this.#tick(), TICK_MS);
  }

  onApplicationShutdown(): void {
    if (this.#timer) clearInterval(this.#timer);
  }

  /** Where an event is, or, before its doors, would be. @param point - the ingest point chosen for its source. */
  nodeOf(event: Placed, point: string | null): string | null {
    if (event.nodeId !== null) return event.nodeId;
    return isOver(event) ? this.nodes.pointOf(point) : this.#choose(event, point);
  }

  /** Where it is to be from now on. */
  #choose(event: Placed, point: string | null): string | null {
    // A node may have opened the doors while we were away.
    const at = isRunning(event) ? (event.nodeId ?? this.figures.nodeRunning(event.programmeId)) : null;
    const arrivesAt = event.sourceId ? this.figures.nodesWith(event.sourceId) : [];
    return chooseNode({ at, point, arrivesAt }, this.nodes.atHand);
  }

  async #tick(): Promise<void> {
    if (this.#isTicking) return;
    this.#isTicking = true;
    try {
      let isOther = await this.watch.look();
      const manager = this.database.installation;
      const running = await manager.findBy(EventEntity, { state: In(['doors', 'air']) });
      const sources = await manager.find(SourceEntity, {
        where: { id: In(running.flatMap(({ sourceId }) => sourceId ?? [])) },
        select: { id: true, nodeId: true },
      });
      for (const event of running) {
        const point = sources.find(({ id }) => id === event.sourceId)?.nodeId ?? null;
        const chosen = this.#choose(event, point);
        if (chosen === null || chosen === event.nodeId) continue;
        await this.#take(event, chosen);
        isOther = true;
      }
      if (isOther) this.fanOut.tell(MOVED, {});
    } catch (error) {
      this.#log.warn(`Nothing moves: ${String(error)}`);
    } finally {
      this.#isTicking = false;
    }
  }

  /** Not an edit of the event: its version stays, so that nobody's typing is refused by it. */
  async #take({ id, houseId, nodeId: from }: EventEntity, to: string): Promise<void> {
    await this.database.inHouse(systemContext(houseId, 'system'), async (scope, manager) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      if (event.nodeId !== from || !isRunning(event)) return;
      if (from === null) {
        await manager.query('UPDATE events SET node_id = ? WHERE id = ?', [to, id]);
        return;
      }
      const { programmeId, leg } = event;
      await scope.add(LegEntity, { programmeId, leg, nodeId: from });
      await manager.query('UPDATE events SET node_id = ?, leg = leg + 1, last_heard_at = ? WHERE id = ?', [
        to,
        new Date(this.figures.lastHeardMs(from)),
        id,
      ]);
      await scope.happened({
        subjectKind: 'event',
        subjectId: id,
        kind: 'event-went-over',
        before: { ingestPoint: this.nodes.nameOf(from).place },
        after: { ingestPoint: this.nodes.nameOf(to).place },
      });
    });
  }
}
