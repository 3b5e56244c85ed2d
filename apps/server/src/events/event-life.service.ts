import { payload } from '../platform/happening-payloads.js';
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { In, LessThanOrEqual } from 'typeorm';
import {
  COMMANDS_FROM,
  type CommandKind,
  type EventLife,
  moveEvent,
  planOf,
  type SignalKnowledge,
} from '@heliphon/core/schedule/event-life';
import type { CancelEvent, MoveEvent } from '@heliphon/contracts/events';
import { LiveFigures } from '../live/live-figures.js';
import { keepSheet } from '../order/order-sheets.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, systemContext } from '../platform/database.js';
import { CommandEntity } from '../platform/entities.js';
import { ProblemError } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { EventEntity } from '../tables/event.entity.js';

const TICK_MS = 500;
const STATE_ORDER = ['planned', 'doors', 'air', 'kept', 'cancelled'];

/** Moves events: by hand, by the clock, and after what the media node did by itself. */
@Injectable()
export class EventLifeService implements OnApplicationShutdown {
  readonly #log = new Logger('EventLife');
  #timer: NodeJS.Timeout | null = null;
  #ticking = false;

  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    private readonly figures: LiveFigures,
    undo: UndoRegistry,
  ) {
    undo.register('event-cancelled', 'events.edit', payload(), (scope, { subjectId }) =>
      this.#reinstate(scope, subjectId),
    );
  }

  start(): void {
    this.#timer = setInterval(() => void this.#tick(), TICK_MS);
  }

  onApplicationShutdown(): void {
    if (this.#timer) clearInterval(this.#timer);
  }

  /** A command by hand. A repeat gets the first answer; one from a state that has passed gets 409. */
  async command(
    ctx: Context,
    eventId: string,
    kind: CommandKind,
    { commandId, fromState }: MoveEvent,
  ): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id: eventId }, 'event');
      if (await scope.findOne(CommandEntity, { id: commandId, eventId })) return;
      const isAllowed = event.state === fromState && COMMANDS_FROM[event.state].includes(kind);
      if (!isAllowed) throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: kind });
      if (event.isDraft) throw new ProblemError(409, 'still-a-draft');
      const nowMs = this.clock.nowMs();
      const life = moveEvent(lifeOf(event), { type: 'command', kind, nowMs });
      await scope.add(CommandEntity, { id: commandId, eventId, kind, atMs: nowMs });
      Object.assign(event, { lastCommandId: commandId, lastCommandKind: kind, lastCommandAtMs: nowMs });
      await saveLife(scope, event, life);
    });
  }

  /** Calls an event off before it has gone on air. @throws ProblemError 409 where it has moved meanwhile */
  async cancel(ctx: Context, eventId: string, { fromState, notice }: CancelEvent): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id: eventId }, 'event');
      const before = lifeOf(event);
      const life = moveEvent(before, { type: 'cancel', nowMs: this.clock.nowMs() });
      if (event.state !== fromState || life === before)
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'cancel' });
      event.notice = notice || null;
      event.endAtMs = this.clock.nowMs();
      await saveLife(scope, event, life);
    });
  }

  /** A cancelled event takes place after all. @throws ProblemError 409 where it is not cancelled, or its time is over */
  async reinstate(ctx: Context, eventId: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      await this.#reinstate(scope, eventId);
      await scope.happened({
        subjectKind: 'event',
        subjectId: eventId,
        kind: 'event-reinstated',
        before: { state: 'cancelled' },
        after: { state: 'planned' },
      });
    });
  }

  /** Back to planned: if the time of the doors has come, the clock opens them. */
  async #reinstate(scope: HouseScope, eventId: string): Promise<void> {
    const event = await scope.lock(EventEntity, { id: eventId }, 'event');
    if (event.state !== 'cancelled')
      throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'reinstate' });
    if (event.stopsAtMs <= this.clock.nowMs()) throw new ProblemError(409, 'time-is-over');
    Object.assign(event, { state: 'planned', doorsAtMs: null, endAtMs: null, notice: null, nodeId: null });
    await scope.save(event);
  }

  /** Takes over what the media node did; what it says of a state already passed changes nothing. */
  async adopt(scope: HouseScope, programmeId: string, life: EventLife): Promise<void> {
    const event = await scope.lock(EventEntity, { programmeId }, 'event');
    if (STATE_ORDER.indexOf(life.state) <= STATE_ORDER.indexOf(event.state)) return;
    await saveLife(scope, event, life);
  }

  async #tick(): Promise<void> {
    if (this.#ticking) return;
    this.#ticking = true;
    try {
      const nowMs = this.clock.nowMs();
      const due = await this.database.installation.findBy(EventEntity, {
        state: In(['planned', 'doors', 'air']),
        isDraft: false,
        doorsDueAtMs: LessThanOrEqual(nowMs),
      });
      const opened = await this.database.installation.findBy(EventEntity, { state: In(['doors', 'air']) });
      for (const event of new Map([...due, ...opened].map((row) => [row.id, row])).values()) {
        if (this.#byClock(event) !== null) await this.#moveByClock(event);
      }
    } catch (error) {
      this.#log.warn(`The clock waits: ${String(error)}`);
    } finally {
      this.#ticking = false;
    }
  }

  /** What the clock makes of an event now; `null` when nothing changes. */
  #byClock(event: EventEntity): EventLife | null {
    const before = lifeOf(event);
    const life = moveEvent(before, {
      type: 'clock',
      nowMs: this.clock.nowMs(),
      plan: planOf(event),
      signal: this.#signalOf(event),
    });
    return life === before ? null : life;
  }

  async #moveByClock({ id, houseId }: EventEntity): Promise<void> {
    await this.database.transaction(systemContext(houseId, 'clock'), async (scope) => {
      const event = await scope.lock(EventEntity, { id }, 'event');
      const life = event.isDraft ? null : this.#byClock(event);
      if (life) await saveLife(scope, event, life);
    });
  }

  /** While a node has the programme, it alone knows of the picture and ends it; we only follow the clock. */
  #signalOf(event: EventEntity): SignalKnowledge {
    return this.figures.programmeOf(event)
      ? { known: true, present: true, lastFrameAtMs: null }
      : { known: false };
  }
}

/** The life that a row holds. */
export function lifeOf(event: EventEntity): EventLife {
  const doorsAtMs = event.doorsAtMs ?? event.doorsDueAtMs;
  const airAtMs = event.airAtMs ?? event.startsAtMs;
  switch (event.state) {
    case 'planned':
      return { state: 'planned' };
    case 'doors':
      return { state: 'doors', doorsAtMs };
    case 'air':
      return { state: 'air', doorsAtMs, airAtMs };
    case 'kept':
      return {
        state: 'kept',
        doorsAtMs,
        airAtMs,
        endAtMs: event.endAtMs ?? airAtMs,
        cause: event.endCause ?? 'by-hand',
      };
    case 'cancelled':
      return { state: 'cancelled', atMs: event.endAtMs ?? doorsAtMs };
  }
}

async function saveLife(scope: HouseScope, event: EventEntity, life: EventLife): Promise<void> {
  const before = { state: event.state };
  event.state = life.state;
  if ('doorsAtMs' in life) event.doorsAtMs = life.doorsAtMs;
  if ('airAtMs' in life) event.airAtMs = life.airAtMs;
  if (life.state === 'kept') Object.assign(event, { endAtMs: life.endAtMs, endCause: life.cause });
  await scope.save(event);
  // Also when a node did it all while we were away.
  if (life.state === 'air' || life.state === 'kept') await keepSheet(scope, event);
  await scope.happened({
    subjectKind: 'event',
    subjectId: event.id,
    kind: `event-${life.state}`,
    before,
    after: life,
  });
}
