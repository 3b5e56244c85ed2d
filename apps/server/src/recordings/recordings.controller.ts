import { Controller, Delete, Get, Headers, HttpCode, Patch, Post, Query, UploadedFile } from '@nestjs/common';
import type { EditRecording, RecordingFiles, RecordingView } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import { editRecordingSchema } from '@heliphon/contracts/recordings.schema';
import { Posters } from '../files/posters.js';
import { TakesPoster, type UploadedPoster } from '../files/takes-poster.js';
import { Ctx } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion, Paging } from '../platform/parameters.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { RecordingsService } from './recordings.service.js';

@Controller('api/recordings')
export class RecordingsController {
  constructor(
    private readonly recordings: RecordingsService,
    private readonly posters: Posters,
  ) {}

  @Get()
  @Needs('recordings.read')
  list(
    @Ctx() ctx: Context,
    @Paging() page: PageWish,
    @Query('in') place?: string,
  ): Promise<Page<RecordingView>> {
    return this.recordings.list(ctx, place === 'bin', page);
  }

  @Get(':id')
  @Needs('recordings.read')
  get(@Ctx() ctx: Context, @Id() id: string): Promise<RecordingView> {
    return this.recordings.get(ctx, id);
  }

  @Get(':id/files')
  @Needs('recordings.read')
  files(@Ctx() ctx: Context, @Id() id: string, @Headers('host') host: string): Promise<RecordingFiles> {
    return this.recordings.files(ctx, id, host);
  }

  @Patch(':id')
  @Needs('recordings.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editRecordingSchema) change: EditRecording,
  ): Promise<RecordingView> {
    return this.recordings.edit(ctx, id, version, change);
  }

  @TakesPoster('recordings.edit')
  async setPoster(
    @Ctx() ctx: Context,
    @Id() id: string,
    @UploadedFile() file: UploadedPoster | undefined,
  ): Promise<RecordingView> {
    const { version } = await this.recordings.get(ctx, id);
    return this.recordings.setPoster(ctx, id, version, await this.posters.keep(file?.buffer));
  }

  @Post(':id/bin')
  @HttpCode(200)
  @Needs('recordings.edit')
  bin(@Ctx() ctx: Context, @Id() id: string): Promise<RecordingView> {
    return this.recordings.bin(ctx, id);
  }

  @Post(':id/restore')
  @HttpCode(200)
  @Needs('recordings.edit')
  restore(@Ctx() ctx: Context, @Id() id: string): Promise<RecordingView> {
    return this.recordings.restore(ctx, id);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('recordings.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.recordings.remove(ctx, id);
  }
}
