import { Controller, Get, HttpCode, Param, Post, Put, UploadedFile, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { LOGO_LIMITS } from '@heliphon/core/appearance/look';
import { GROUND_PICTURE_LIMITS } from '@heliphon/core/appearance/ground-picture';
import type { KeptGround, KeptLogo, LookSubject, LookView, SetLook } from '@heliphon/contracts/look';
import { lookSubjectSchema, setLookSchema } from '@heliphon/contracts/look.schema';
import { Ctx } from '../platform/access.js';
import type { Context } from '../platform/database.js';
import { Checked, JoiPipe } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion } from '../platform/parameters.js';
import { GroundPicturesService } from './ground-pictures.service.js';
import { LogosService } from './logos.service.js';
import { LooksService } from './looks.service.js';

const Level = (): ParameterDecorator => Param('level', new JoiPipe(lookSubjectSchema));

/** One file of that size, and nothing else. */
const ONE_LOGO = { limits: { fileSize: LOGO_LIMITS.bytes, files: 1, fields: 0 } } as const;

const ONE_GROUND = { limits: { fileSize: GROUND_PICTURE_LIMITS.bytes, files: 1, fields: 0 } } as const;

@Controller('api/looks')
export class LooksController {
  constructor(
    private readonly looks: LooksService,
    private readonly logos: LogosService,
    private readonly grounds: GroundPicturesService,
  ) {}

  @Get('house')
  @Needs('house.read')
  ofHouse(@Ctx() ctx: Context): Promise<LookView> {
    return this.looks.of(ctx, 'house', ctx.houseId);
  }

  @Put('house')
  @Needs('house.edit')
  setHouse(
    @Ctx() ctx: Context,
    @KnownVersion() version: number,
    @Checked(setLookSchema) { own }: SetLook,
  ): Promise<LookView> {
    return this.looks.set(ctx, 'house', ctx.houseId, version, own);
  }

  /** A picture or a drawing (RFC 7578, in the part `logo`); it shows once a look names it. */
  @Post('logos')
  @HttpCode(200)
  @Needs('events.edit')
  @UseInterceptors(FileInterceptor('logo', ONE_LOGO))
  keepLogo(@Ctx() ctx: Context, @UploadedFile() file?: { readonly buffer: Buffer }): Promise<KeptLogo> {
    return this.logos.keep(ctx, file?.buffer);
  }

  /** A picture for behind the page (RFC 7578, in the part `picture`); it shows once a look names it. */
  @Post('grounds')
  @HttpCode(200)
  @Needs('events.edit')
  @UseInterceptors(FileInterceptor('picture', ONE_GROUND))
  keepGround(@Ctx() ctx: Context, @UploadedFile() file?: { readonly buffer: Buffer }): Promise<KeptGround> {
    return this.grounds.keep(ctx, file?.buffer);
  }

  @Get(':level/:id')
  @Needs('events.read')
  of(@Ctx() ctx: Context, @Level() level: LookSubject, @Id() id: string): Promise<LookView> {
    return this.looks.of(ctx, level, id);
  }

  @Put(':level/:id')
  @Needs('events.edit')
  set(
    @Ctx() ctx: Context,
    @Level() level: LookSubject,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(setLookSchema) { own }: SetLook,
  ): Promise<LookView> {
    return this.looks.set(ctx, level, id, version, own);
  }
}
