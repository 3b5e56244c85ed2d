import { Module } from '@nestjs/common';
import { FilesModule } from '../files/files.module.js';
import { SlatesController } from './slates.controller.js';
import { SlatesService } from './slates.service.js';

/** What viewers see while a picture is away. */
@Module({
  imports: [FilesModule],
  controllers: [SlatesController],
  providers: [SlatesService],
  exports: [SlatesService],
})
export class SlatesModule {}
