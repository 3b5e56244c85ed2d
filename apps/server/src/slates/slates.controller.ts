import { Controller, Get, Header, Param, StreamableFile } from '@nestjs/common';
import { SLATE_MOMENTS, type SlateMoment } from '@heliphon/contracts/slate';
import { slateQuerySchema, type SlateQuery } from '@heliphon/contracts/slate.schema';
import { Ctx } from '../platform/access.js';
import { type Context, Database } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { Needs } from '../platform/need.js';
import { Filter, Id } from '../platform/parameters.js';
import { notFound } from '../platform/problems.js';
import { EventEntity } from '../tables/event.entity.js';
import { SlatesService } from './slates.service.js';

/** Shows people what viewers will see while a picture is away. */
@Controller('api')
export class SlatesController {
  constructor(
    private readonly database: Database,
    private readonly slates: SlatesService,
  ) {}

  @Get('events/:id/slate/:moment')
  @Needs('events.read')
  @Header('cache-control', 'private, no-cache')
  async ofEvent(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Param('moment') moment: string,
  ): Promise<StreamableFile> {
    if (!isMoment(moment)) throw notFound('slate');
    const event = await this.database.house(ctx).get(EventEntity, id, 'event');
    return jpeg(await this.slates.preview(moment, event, await this.#house(ctx)));
  }

  /** With the house's words, or with others to try them. */
  @Get('house/slate')
  @Needs('house.read')
  @Header('cache-control', 'private, no-cache')
  async ofHouse(
    @Ctx() ctx: Context,
    @Filter(slateQuerySchema) { words }: SlateQuery,
  ): Promise<StreamableFile> {
    return jpeg(await this.slates.preview('back', null, await this.#house(ctx), words));
  }

  #house({ houseId }: Context): Promise<HouseEntity> {
    return this.database.installation.findOneByOrFail(HouseEntity, { id: houseId });
  }
}

const isMoment = (text: string): text is SlateMoment => SLATE_MOMENTS.includes(text as SlateMoment);

const jpeg = (bytes: Buffer): StreamableFile => new StreamableFile(bytes, { type: 'image/jpeg' });
