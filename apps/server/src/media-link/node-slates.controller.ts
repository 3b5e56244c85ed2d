import { Controller, Get, Headers, Param, ParseUUIDPipe, Res } from '@nestjs/common';
import type { Response } from 'express';
import { SLATE_SHAPES, type SlateShape } from '@heliphon/core/media/slate-format';
import { Database } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { Needs } from '../platform/need.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { SlatesService } from '../slates/slates.service.js';
import { EventEntity } from '../tables/event.entity.js';
import { recogniseNode } from './node-credentials.js';

/** Hands media nodes the stills of slates. A node shows its own secret, and is nobody of a house. */
@Controller('control/v1/slates')
export class NodeSlatesController {
  constructor(
    private readonly database: Database,
    private readonly slates: SlatesService,
  ) {}

  @Get(':programmeId/:stillId/:shape')
  @Needs('public')
  async still(
    @Param('programmeId', ParseUUIDPipe) programmeId: string,
    @Param('stillId') stillId: string,
    @Param('shape') shape: string,
    @Headers('authorization') authorization: string | undefined,
    @Res() response: Response,
  ): Promise<void> {
    const manager = this.database.installation;
    if (!(await recogniseNode(manager, authorization))) throw new ProblemError(401, 'not-signed-in');
    const event = await manager.findOneBy(EventEntity, { programmeId });
    const house = event && (await manager.findOneBy(HouseEntity, { id: event.houseId }));
    const jpeg = house && isShape(shape) ? await this.slates.still(stillId, shape, event, house) : null;
    if (!jpeg) throw notFound('slate');
    response.type('image/jpeg').send(jpeg);
  }
}

const isShape = (text: string): text is SlateShape => Object.hasOwn(SLATE_SHAPES, text);
