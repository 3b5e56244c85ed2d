import { Module } from '@nestjs/common';
import { LettersModule } from '../letters/letters.module.js';
import { WebsiteSightings } from './website-sightings.js';
import { WebsiteWatch } from './website-watch.js';
import { WebsitesController } from './websites.controller.js';
import { WebsitesService } from './websites.service.js';

/** Websites on which something of a house stands. */
@Module({
  imports: [LettersModule],
  controllers: [WebsitesController],
  providers: [WebsiteSightings, WebsiteWatch, WebsitesService],
  exports: [WebsiteSightings],
})
export class WebsitesModule {}
