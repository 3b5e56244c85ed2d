import { Injectable } from '@nestjs/common';
import { type EntityManager, In, IsNull } from 'typeorm';
import { TEST_SEND_MS, type TestSendResult, type TestSendView } from '@heliphon/contracts/test-sends';
import { LiveFigures } from '../live/live-figures.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope, systemContext } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { PostingEntity } from '../tables/posting.entity.js';
import { TestSendEntity } from '../tables/test-send.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';

const EVERY_MS = 1000;
/** To be posted, connected, and sent to; a place that cannot do it by then cannot. */
const GIVEN_UP_AFTER_MS = 45_000;
const AT_ONCE = 200;

/** Sends a rehearsal to a place for some seconds: at an outlet to a posting that only its owner can see. */
@Injectable()
export class TestSends extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Test sends wait';

  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
    private readonly clock: Clock,
  ) {
    super();
  }

  async list(ctx: Context, rehearsalId: string): Promise<readonly TestSendView[]> {
    const scope = this.database.house(ctx);
    await scope.get(EventEntity, rehearsalId, 'event');
    const rows = await scope.find(TestSendEntity, { where: { eventId: rehearsalId } });
    return rows.map(({ destinationId, result }) => ({ destinationId, result }));
  }

  /** @throws ProblemError 409 unless the rehearsal is on; 404 for a place that its event does not go to */
  async begin(ctx: Context, rehearsalId: string, destinationId: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const event = await scope.lock(EventEntity, { id: rehearsalId }, 'event');
      if (!event.rehearsalOf) throw notFound('rehearsal');
      if (event.state !== 'air')
        throw new ProblemError(409, 'moved-meanwhile', { state: event.state, command: 'test-send' });
      const goesThere = await scope.findOne(EventDestinationEntity, {
        eventId: event.rehearsalOf,
        destinationId,
      });
      if (!goesThere) throw notFound('destination');
      const { outletId, name } = await scope.get(DestinationEntity, destinationId, 'destination');
      // A place with an address of its own takes one picture at a time.
      const other = outletId === null && (await onAirAt(scope, destinationId));
      if (other) throw new ProblemError(409, 'place-on-air', { name, title: other.title });
      const known = await scope.findOne(TestSendEntity, { eventId: rehearsalId, destinationId });
      if (known?.result === null) return;
      const beganAtMs = this.clock.nowMs();
      if (known) await scope.save(Object.assign(known, { beganAtMs, result: null }));
      else await scope.add(TestSendEntity, { id: newId(), eventId: rehearsalId, destinationId, beganAtMs });
      const link = { eventId: rehearsalId, destinationId };
      if (!(await scope.findOne(EventDestinationEntity, link)))
        await scope.add(EventDestinationEntity, { ...link, paused: false, rendition: null });
      if (outletId) {
        // Each try is a posting of its own.
        await scope.remove(PostingEntity, { ...link });
        await scope.add(PostingEntity, {
          ...link,
          id: newId(),
          outletId,
          attempts: 0,
          nextTryAtMs: beganAtMs,
        });
      }
      await scope.happened({ subjectKind: 'event', subjectId: rehearsalId, kind: 'test-send-begun' });
    });
  }

  async work(): Promise<void> {
    const manager = this.database.installation;
    const rows = await manager.find(TestSendEntity, { where: { result: IsNull() }, take: AT_ONCE });
    if (rows.length === 0) return;
    const events = await manager.findBy(EventEntity, { id: In(rows.map(({ eventId }) => eventId)) });
    await this.eachOf(rows, async (row) => {
      const event = events.find(({ id }) => id === row.eventId);
      const result = await this.#judge(manager, row, event);
      if (result) await this.#end(row, result);
    });
  }

  async #judge(
    manager: EntityManager,
    { eventId, destinationId, beganAtMs }: TestSendEntity,
    event: EventEntity | undefined,
  ): Promise<TestSendResult | null> {
    if (event?.state !== 'air') return 'broken-off';
    const posting = await manager.findOneBy(PostingEntity, { eventId, destinationId });
    if (posting?.trouble) return posting.trouble as TestSendResult;
    const place = this.figures
      .programmeOf(event)
      ?.destinations.find((destination) => destination.destinationId === destinationId);
    const nowMs = this.clock.nowMs();
    if (place?.state.state === 'going-out' && nowMs - place.state.sinceMs >= TEST_SEND_MS) return 'taken';
    if (place?.state.state === 'troubled') return place.state.reason;
    return nowMs - beganAtMs > GIVEN_UP_AFTER_MS ? 'no-picture' : null;
  }

  /** The rehearsal goes there no longer; what was posted is taken down. */
  async #end({ id, houseId, eventId, destinationId }: TestSendEntity, result: TestSendResult): Promise<void> {
    await this.database.transaction(systemContext(houseId, 'system'), async (scope) => {
      const row = await scope.lock(TestSendEntity, { id }, 'test-send');
      if (row.result !== null) return;
      await scope.save(Object.assign(row, { result }));
      await scope.remove(EventDestinationEntity, { eventId, destinationId });
      await scope.happened({ subjectKind: 'event', subjectId: eventId, kind: 'test-send-over' });
    });
  }
}

/** The event that goes out at a place just now. */
async function onAirAt(scope: HouseScope, destinationId: string): Promise<EventEntity | null> {
  const links = await scope.find(EventDestinationEntity, { where: { destinationId, paused: false } });
  return scope.findOne(EventEntity, {
    id: In(links.map(({ eventId }) => eventId)),
    state: 'air',
    rehearsalOf: IsNull(),
  });
}
