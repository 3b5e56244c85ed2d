import { Controller, Get, Headers, Res } from '@nestjs/common';
import type { Response } from 'express';
import { In } from 'typeorm';
import { FileEntity } from '../tables/file.entity.js';
import { FileFolders } from '../files/file-folders.js';
import { Database } from '../platform/database.js';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { recogniseNode } from './node-credentials.js';

/** Hands media nodes the films that programmes begin with, and the sounds of slates. A node shows its own secret, and is nobody of a house. */
@Controller('control/v1/films')
export class NodeFilmsController {
  constructor(
    private readonly database: Database,
    private readonly folders: FileFolders,
  ) {}

  @Get(':id')
  @Needs('public')
  async film(
    @Id() id: string,
    @Headers('authorization') authorization: string | undefined,
    @Res() response: Response,
  ): Promise<void> {
    const manager = this.database.installation;
    if (!(await recogniseNode(manager, authorization))) throw new ProblemError(401, 'not-signed-in');
    const film = await manager.findOneBy(FileEntity, { id, kind: In(['film', 'sound']), state: 'ready' });
    if (!film) throw notFound('file');
    response.type('video/mp4').sendFile(this.folders.playable(film), { dotfiles: 'allow' }, (error) => {
      if (error && !response.headersSent) response.status(404).end();
    });
  }
}
