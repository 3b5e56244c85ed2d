import { Module } from '@nestjs/common';
import { DestinationSecrets } from './destination-secrets.js';
import { DestinationsController } from './destinations.controller.js';
import { DestinationsService } from './destinations.service.js';

/** Places that a programme is sent to, and their keys. */
@Module({
  controllers: [DestinationsController],
  providers: [DestinationSecrets, DestinationsService],
  exports: [DestinationSecrets],
})
export class DestinationsModule {}
