import { Controller, Get, Res } from '@nestjs/common';
import type { Response } from 'express';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { GroundPicturesService } from './ground-pictures.service.js';

/** Pictures behind pages: each has an address of its own for good. */
@Controller('grounds')
export class GroundPicturesController {
  constructor(private readonly pictures: GroundPicturesService) {}

  @Get(':id')
  @Needs('public')
  async read(@Id() id: string, @Res() response: Response): Promise<void> {
    const bytes = await this.pictures.read(id);
    response.type('image/jpeg').set('Cache-Control', 'public, max-age=31536000, immutable').send(bytes);
  }
}
