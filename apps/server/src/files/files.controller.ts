import { Controller, Delete, Get, HttpCode, Patch, Post, Res } from '@nestjs/common';
import type { Response } from 'express';
import type { EditFile, FileFilter, FileView } from '@heliphon/contracts/files';
import { editFileSchema, fileFilterSchema } from '@heliphon/contracts/files.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Filter, Id, KnownVersion, Paging } from '../platform/parameters.js';
import { notFound } from '../platform/problems.js';
import { FileFolders } from './file-folders.js';
import { FilesService } from './files.service.js';

/** Pictures, films and sounds of the house. They come in by `UploadsController`. */
@Controller('api/files')
export class FilesController {
  constructor(
    private readonly files: FilesService,
    private readonly folders: FileFolders,
  ) {}

  @Get()
  @Needs('files.read')
  list(
    @Ctx() ctx: Context,
    @Filter(fileFilterSchema) filter: FileFilter,
    @Paging() page: PageWish,
  ): Promise<Page<FileView>> {
    return this.files.list(ctx, filter, page);
  }

  @Get(':id')
  @Needs('files.read')
  get(@Ctx() ctx: Context, @Id() id: string): Promise<FileView> {
    return this.files.get(ctx, id);
  }

  @Patch(':id')
  @Needs('files.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(editFileSchema) change: EditFile,
  ): Promise<FileView> {
    return this.files.edit(ctx, id, version, change);
  }

  @Post(':id/bin')
  @HttpCode(200)
  @Needs('files.edit')
  bin(@Ctx() ctx: Context, @Id() id: string): Promise<FileView> {
    return this.files.bin(ctx, id);
  }

  @Post(':id/restore')
  @HttpCode(200)
  @Needs('files.edit')
  restore(@Ctx() ctx: Context, @Id() id: string): Promise<FileView> {
    return this.files.restore(ctx, id);
  }

  /** Makes it playable after all. */
  @Post(':id/making')
  @HttpCode(200)
  @Needs('files.edit')
  makeAgain(@Ctx() ctx: Context, @Id() id: string): Promise<FileView> {
    return this.files.makeAgain(ctx, id);
  }

  @Delete(':id/making')
  @HttpCode(200)
  @Needs('files.edit')
  stop(@Ctx() ctx: Context, @Id() id: string): Promise<FileView> {
    return this.files.stop(ctx, id);
  }

  /** As it came. Never shown by the browser as a page, whatever it is. */
  @Get(':id/original')
  @Needs('files.read')
  async original(@Ctx() ctx: Context, @Id() id: string, @Res() response: Response): Promise<void> {
    const file = await this.files.find(ctx, id);
    response.attachment(file.name).type('application/octet-stream');
    this.#send(response, this.folders.original(file));
  }

  /** A film or sound as every browser plays it, with ranges (RFC 9110, 14). */
  @Get(':id/play')
  @Needs('files.read')
  async play(@Ctx() ctx: Context, @Id() id: string, @Res() response: Response): Promise<void> {
    const file = await this.files.find(ctx, id);
    if (file.state !== 'ready' || file.kind === 'picture') throw notFound('file');
    this.#send(response.type(file.kind === 'sound' ? 'audio/mp4' : 'video/mp4'), this.folders.playable(file));
  }

  @Get(':id/look')
  @Needs('files.read')
  async look(@Ctx() ctx: Context, @Id() id: string, @Res() response: Response): Promise<void> {
    const file = await this.files.find(ctx, id);
    if (file.state !== 'ready' || file.kind === 'sound') throw notFound('file');
    this.#send(response.type('image/jpeg'), this.folders.look(file));
  }

  #send(response: Response, path: string): void {
    response
      .set('X-Content-Type-Options', 'nosniff')
      .set('Cache-Control', 'private, max-age=86400, immutable');
    response.sendFile(path, { dotfiles: 'allow', cacheControl: false }, (error) => {
      if (error && !response.headersSent) response.status(404).end();
    });
  }
}
