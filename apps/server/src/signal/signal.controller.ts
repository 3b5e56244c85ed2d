import { Controller, Get, Header } from '@nestjs/common';
import { asCsv, type SignalSample, thinned } from '@heliphon/core/signal/signal-sample';
import type { SignalQuery, SignalReportView, SignalView } from '@heliphon/contracts/signal';
import { signalQuerySchema } from '@heliphon/contracts/signal.schema';
import { LiveFigures } from '../live/live-figures.js';
import { viewersHadOf } from '../live/viewers-had.js';
import { Ctx } from '../platform/access.js';
import { Clock } from '../platform/clock.js';
import type { Page } from '@heliphon/contracts/problem';
import type { ViewerReportView } from '@heliphon/contracts/viewer-reports';
import { type Context, Database, type PageWish } from '../platform/database.js';
import { Filter, Id, Paging } from '../platform/parameters.js';
import { Needs } from '../platform/need.js';
import { EventEntity } from '../tables/event.entity.js';
import { Faults } from './faults.js';
import { notesOf } from '../notes/notes-of.js';
import { ViewerReports } from './viewer-reports.service.js';
import { SignalReports } from './signal-reports.js';

/** What an event's source sent, what was wrong with it, and what viewers had. */
@Controller('api/events/:id')
export class SignalController {
  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
    private readonly faults: Faults,
    private readonly reports: SignalReports,
    private readonly viewerReports: ViewerReports,
    private readonly clock: Clock,
  ) {}

  @Get('signal')
  @Needs('programme.watch')
  async signal(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Filter(signalQuerySchema) { lastMs, everyMs }: SignalQuery,
  ): Promise<SignalView> {
    const scope = this.database.house(ctx);
    const event = await scope.get(EventEntity, id, 'event');
    const [samples, viewersHad, faults, notes] = await Promise.all([
      this.#samples(event, lastMs),
      viewersHadOf(scope, event, this.clock.nowMs()),
      this.faults.of(scope, event),
      notesOf(scope, id),
    ]);
    return { samples: thinned(samples, everyMs), viewersHad, faults, notes };
  }

  @Get('signal-report')
  @Needs('events.read')
  report(@Ctx() ctx: Context, @Id() id: string): Promise<SignalReportView> {
    return this.reports.of(this.database.house(ctx), id);
  }

  /** What viewers told of missing picture or sound. */
  @Get('viewer-reports')
  @Needs('events.read')
  told(@Ctx() ctx: Context, @Id() id: string, @Paging() page: PageWish): Promise<Page<ViewerReportView>> {
    return this.viewerReports.list(ctx, id, page);
  }

  /** Every second, for a spreadsheet. */
  @Get('signal.csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="signal.csv"')
  @Needs('programme.watch')
  async table(@Ctx() ctx: Context, @Id() id: string): Promise<string> {
    const event = await this.database.house(ctx).get(EventEntity, id, 'event');
    return asCsv(await this.#samples(event));
  }

  #samples(event: EventEntity, lastMs = Infinity): Promise<SignalSample[]> {
    const toMs = event.endAtMs ?? this.clock.nowMs();
    const fromMs = Math.max(event.doorsAtMs ?? event.doorsDueAtMs, toMs - lastMs);
    return this.figures.history.of(event, fromMs, toMs);
  }
}
