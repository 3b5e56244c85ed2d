import { Module } from '@nestjs/common';
import { FileFolders } from './file-folders.js';
import { FileWork } from './file-work.js';
import { FilesController } from './files.controller.js';
import { FilesService } from './files.service.js';
import { Posters } from './posters.js';
import { UploadsController } from './uploads.controller.js';
import { Uploads } from './uploads.js';

/** Files of a house, their uploads, and the posters made of pictures. */
@Module({
  controllers: [FilesController, UploadsController],
  providers: [FileFolders, FileWork, FilesService, Posters, Uploads],
  exports: [FileFolders, FilesService, Posters, Uploads],
})
export class FilesModule {}
