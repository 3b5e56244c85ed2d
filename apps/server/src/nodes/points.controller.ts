import { Controller, Get, Headers } from '@nestjs/common';
import type { PointView } from '@heliphon/contracts/nodes';
import { Needs } from '../platform/need.js';
import { MediaNodes } from './media-nodes.js';

/** The ingest points of the installation, for everybody who connects something. */
@Controller('api/points')
export class PointsController {
  constructor(private readonly nodes: MediaNodes) {}

  @Get()
  @Needs('sources.read')
  async list(@Headers('host') host: string): Promise<{ items: PointView[] }> {
    // One may have been added, or forgotten, meanwhile.
    await this.nodes.read();
    return { items: this.nodes.views(host) };
  }
}
