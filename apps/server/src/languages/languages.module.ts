import { Module } from '@nestjs/common';
import { LanguagesController } from './languages.controller.js';
import { LanguagesService } from './languages.service.js';
import { SpokenLanguages } from './spoken-languages.js';

/** What language public pages speak. */
@Module({
  controllers: [LanguagesController],
  providers: [LanguagesService, SpokenLanguages],
  exports: [SpokenLanguages],
})
export class LanguagesModule {}
