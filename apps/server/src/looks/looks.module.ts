import { Module } from '@nestjs/common';
import { GroundPicturesController } from './ground-pictures.controller.js';
import { GroundPicturesService } from './ground-pictures.service.js';
import { LogosController } from './logos.controller.js';
import { LogosService } from './logos.service.js';
import { LooksController } from './looks.controller.js';
import { LooksService } from './looks.service.js';

/** How public pages look, from the house down to one event. */
@Module({
  controllers: [GroundPicturesController, LogosController, LooksController],
  providers: [GroundPicturesService, LogosService, LooksService],
  exports: [GroundPicturesService, LogosService],
})
export class LooksModule {}
