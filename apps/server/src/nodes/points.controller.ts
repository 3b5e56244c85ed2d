import { Controller, Get, Headers } from '@nestjs/common';
import { In } from 'typeorm';
import type { PointView } from '@heliphon/contracts/nodes';
import { EventEntity } from '../tables/event.entity.js';
import { Ctx } from '../platform/access.js';
import { type Context, Database } from '../platform/database.js';
import { Needs } from '../platform/need.js';
import { SourceEntity } from '../tables/source.entity.js';
import { MediaNodes } from './media-nodes.js';

/** The ingest points of the installation, for everybody who connects something. */
@Controller('api/points')
export class PointsController {
  constructor(
    private readonly nodes: MediaNodes,
    private readonly database: Database,
  ) {}

  @Get()
  @Needs('sources.read')
  async list(@Ctx() ctx: Context, @Headers('host') host: string): Promise<{ items: PointView[] }> {
    const scope = this.database.house(ctx);
    const [sources, running] = await Promise.all([
      scope.find(SourceEntity, { select: { id: true } }),
      scope.find(EventEntity, {
        where: { state: In(['doors', 'air']) },
        select: { id: true, programmeId: true },
      }),
      // One may have been added, or forgotten, meanwhile.
      this.nodes.read(),
    ]);
    const sourceIds = new Set(sources.map(({ id }) => id));
    const programmeIds = new Set(running.map(({ programmeId }) => programmeId));
    return { items: this.nodes.views(host, { sourceIds, programmeIds }) };
  }
}
