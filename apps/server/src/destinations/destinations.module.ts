import { Module } from '@nestjs/common';
import { DestinationSecrets } from './destination-secrets.js';
import { DestinationsController } from './destinations.controller.js';
import { PlaceSetsController } from './place-sets.controller.js';
import { PlaceSetsService } from './place-sets.service.js';
import { DestinationsService } from './destinations.service.js';

/** Places that a programme is sent to, and their keys. */
@Module({
  controllers: [DestinationsController, PlaceSetsController],
  providers: [DestinationSecrets, DestinationsService, PlaceSetsService],
  exports: [DestinationSecrets],
})
export class DestinationsModule {}
