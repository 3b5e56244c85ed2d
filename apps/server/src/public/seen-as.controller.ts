import { Controller, Headers, HttpCode, Param, Post } from '@nestjs/common';
import { refusalOf } from '@heliphon/core/access/watch-rules';
import type { Level } from '@heliphon/core/inherited';
import type { SeenAs, SeenAsView } from '@heliphon/contracts/watching';
import { levelSchema, seenAsSchema } from '@heliphon/contracts/watching.schema';
import { pageOf } from '../inherited/page-of.js';
import { readLevel } from '../inherited/said-document.js';
import { Ctx } from '../platform/access.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database } from '../platform/database.js';
import { Checked, JoiPipe } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { guardedOf, PublicEventsService } from './public-events.service.js';

/** Shows the house what others see. */
@Controller('api/watching/:level/:id/seen-as')
export class SeenAsController {
  constructor(
    private readonly database: Database,
    private readonly events: PublicEventsService,
    private readonly clock: Clock,
  ) {}

  /** The page of the event, or of the one that is on or comes next, as somebody else would see it. */
  @Post()
  @HttpCode(200)
  @Needs('events.read')
  async see(
    @Ctx() ctx: Context,
    @Param('level', new JoiPipe(levelSchema)) level: Level,
    @Id() id: string,
    @Checked(seenAsSchema) { country, site, knowsPassword, isInvited }: SeenAs,
    @Headers('host') host: string,
  ): Promise<SeenAsView> {
    const scope = this.database.house(ctx);
    const row = await readLevel(scope, level, id);
    const slug = await pageOf(scope, row, level, this.clock.nowMs());
    if (!slug) return { event: null };
    const known = await this.events.find(slug);
    const { rules, phase } = guardedOf(known);
    const proofs = [
      ...(knowsPassword ? (['password'] as const) : []),
      ...(isInvited ? (['invited'] as const) : []),
    ];
    const refusal = refusalOf(rules, phase, { isOfHouse: false, proofs, country, site });
    return { event: this.events.shownTo(known, refusal, host) };
  }
}
