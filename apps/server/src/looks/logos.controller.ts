import { Controller, Get, Res } from '@nestjs/common';
import type { Response } from 'express';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { LogosService } from './logos.service.js';

/** Logos as pages show them: each has an address of its own for good. */
@Controller('logos')
export class LogosController {
  constructor(private readonly logos: LogosService) {}

  @Get(':id')
  @Needs('public')
  async read(@Id() id: string, @Res() response: Response): Promise<void> {
    const { type, bytes } = await this.logos.read(id);
    response
      .type(type)
      // A drawing that is opened by itself does no more than draw.
      .set('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'; sandbox")
      .set('Cache-Control', 'public, max-age=31536000, immutable')
      .send(bytes);
  }
}
