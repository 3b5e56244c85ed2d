import { Controller, Delete, Get, Patch, Post, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { Needs } from '../platform/need.js';
import { Uploads } from './uploads.js';

/** Resumable uploads (tus.io 1.0.0): begun, asked after by `HEAD`, gone on with, or called off. */
@Controller('api/uploads')
export class UploadsController {
  constructor(private readonly uploads: Uploads) {}

  @Post()
  @Needs('files.edit')
  begin(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }

  @Get(':upload')
  @Needs('files.edit')
  ask(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }

  @Patch(':upload')
  @Needs('files.edit')
  goOn(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }

  @Delete(':upload')
  @Needs('files.edit')
  callOff(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }
}
