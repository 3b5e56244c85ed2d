import { Injectable } from '@nestjs/common';
import type { FindOptionsWhere } from 'typeorm';
import { localOf } from '@heliphon/core/schedule/civil-time';
import { RULE_LIMITS } from '@heliphon/core/schedule/recurrence';
import { type ImportAction, planImport } from '@heliphon/core/schedule/import-plan';
import type { ImportEntry, ImportView } from '@heliphon/contracts/calendar-import';
import { EventEntity } from '../tables/event.entity.js';
import { LONGEST_MS } from '../events/event-settings.js';
import { EventsService } from '../events/events.service.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { ProblemError } from '../platform/problems.js';
import { dayOf, timeIn } from '../series/series-dates.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { SeriesService } from '../series/series.service.js';
import { readForeign } from '../foreign/read-foreign.js';
import type { CalendarEntry, ReadEntry } from '../foreign/read-calendar.js';

const MINUTE_MS = 60_000;
const YEAR_MS = 366 * 86_400_000;
const LONG_AGO_MS = RULE_LIMITS.years * YEAR_MS;
/** What our own calendars call an event or a series. */
const OWN_UID = /^([0-9a-f-]{36})@heliphon$/;

type Decision = ImportAction | { readonly action: 'leave'; readonly reason: 'refused' | 'long-ago' };
type Decide = (entry: ReadEntry, scope: HouseScope) => Promise<Decision>;

/** Takes a calendar file over: looked at first, then carried out, entry by entry; the same file twice makes nothing twice. */
@Injectable()
export class CalendarImportService {
  constructor(
    private readonly database: Database,
    private readonly events: EventsService,
    private readonly series: SeriesService,
    private readonly clock: Clock,
  ) {}

  /** What would become of each entry. @throws ProblemError 422 for what is no calendar */
  preview(ctx: Context, text: string): Promise<ImportView> {
    return this.#walk(ctx, text, async (entry, scope) => this.#planned(entry, scope));
  }

  /** Makes and changes, and says what became of each entry. @throws ProblemError 422 for what is no calendar */
  carryOut(ctx: Context, text: string): Promise<ImportView> {
    return this.#walk(ctx, text, async (entry, scope) => {
      const planned = await this.#planned(entry, scope);
      if (planned.action === 'leave') return planned;
      try {
        if (entry.rule) await this.#takeSeries(ctx, scope, entry);
        else await this.#takeEvent(ctx, scope, entry);
        return planned;
      } catch (error) {
        // One entry that cannot be does not keep the others out.
        if (error instanceof ProblemError && error.status < 500)
          return { action: 'leave', reason: 'refused' };
        throw error;
      }
    });
  }

  async #walk(ctx: Context, text: string, decide: Decide): Promise<ImportView> {
    const house = await this.database.installation.findOneByOrFail(HouseEntity, { id: ctx.houseId });
    const scope = this.database.house(ctx);
    const entries: ImportEntry[] = [];
    for (const entry of await readForeign({
      kind: 'calendar',
      text,
      houseZone: house.zone,
      nowMs: this.clock.nowMs(),
    }))
      entries.push(await told(entry, scope, decide));
    return { entries };
  }

  async #planned(entry: ReadEntry, scope: HouseScope): Promise<Decision> {
    const nowMs = this.clock.nowMs();
    if (!entry.rule)
      return planImport(entry, await this.#knownAs(EventEntity, scope, entry.uid), nowMs, LONGEST_MS);
    if (nowMs - entry.startsAtMs > LONG_AGO_MS) return { action: 'leave', reason: 'long-ago' };
    const lengthMs = entry.stopsAtMs - entry.startsAtMs;
    // A series is looked at by its next date; one without any is past.
    const nextAtMs = entry.nextAtMs ?? 0;
    const shifted = { ...entry, startsAtMs: nextAtMs, stopsAtMs: nextAtMs + lengthMs };
    const known = await this.#knownAs(SeriesEntity, scope, entry.uid);
    const plan = planImport(shifted, null, nowMs, LONGEST_MS);
    if (plan.action !== 'make' || !known) return plan;
    const wanted = seriesFieldsOf(entry);
    const isSame = (Object.keys(wanted) as (keyof typeof wanted)[]).every(
      (field) => known[field] === wanted[field],
    );
    return isSame ? { action: 'leave', reason: 'same' } : { action: 'change' };
  }

  async #knownAs<Row extends EventEntity | SeriesEntity>(
    kind: new () => Row,
    scope: HouseScope,
    uid: string,
  ): Promise<Row | null> {
    const [, id] = OWN_UID.exec(uid) ?? [];
    const own = id && (await scope.findOne<Row>(kind, { id } as FindOptionsWhere<Row>));
    return own || scope.findOne<Row>(kind, { importUid: uid } as FindOptionsWhere<Row>);
  }

  async #takeEvent(ctx: Context, scope: HouseScope, entry: ReadEntry): Promise<void> {
    const known = await this.#knownAs(EventEntity, scope, entry.uid);
    const house = await this.database.installation.findOneByOrFail(HouseEntity, { id: ctx.houseId });
    const zone = known?.zone ?? house.zone;
    const wish = {
      title: entry.title,
      startsAtLocal: localOf(entry.startsAtMs, zone),
      stopsAtLocal: localOf(entry.stopsAtMs, zone),
    };
    const { description, uid } = entry;
    if (known) await this.events.edit(ctx, known.id, known.version, { ...wish, description });
    else await this.events.plan(ctx, { ...wish, ...BARE, isDraft: false }, { importUid: uid, description });
  }

  async #takeSeries(ctx: Context, scope: HouseScope, entry: ReadEntry): Promise<void> {
    const known = await this.#knownAs(SeriesEntity, scope, entry.uid);
    const wanted = seriesFieldsOf(entry);
    if (known) return void (await this.series.edit(ctx, known.id, known.version, wanted));
    const { description, ...when } = wanted;
    const { uid, zone, leftOut } = entry;
    await this.series.plan(
      ctx,
      { ...when, firstDate: dayOf(entry.startsAtMs, zone), ...BARE },
      { importUid: uid, description, zone, leftOut },
    );
  }
}

/** What a calendar file does not say. */
const BARE = { sourceId: null, likeEventId: null, channelId: null } as const;

async function told(entry: CalendarEntry, scope: HouseScope, decide: Decide): Promise<ImportEntry> {
  if ('refused' in entry) return { ...entry.refused, startsAtMs: null, repeats: null, action: 'leave' };
  const decision = await decide(entry.read, scope);
  const { uid, title, startsAtMs, rule } = entry.read;
  return {
    uid,
    title,
    startsAtMs,
    repeats: rule,
    action: decision.action,
    reason: decision.action === 'leave' ? decision.reason : null,
  };
}

/** What a series takes from its entry. */
const seriesFieldsOf = ({ title, description, rule, startsAtMs, stopsAtMs, zone }: ReadEntry) => ({
  title,
  description,
  rule: rule!.text,
  timeOfDay: timeIn(startsAtMs, zone),
  lengthMinutes: Math.round((stopsAtMs - startsAtMs) / MINUTE_MS),
});
