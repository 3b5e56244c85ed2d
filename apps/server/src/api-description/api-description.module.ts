import { Module } from '@nestjs/common';
import { DiscoveryModule } from '@nestjs/core';
import { OpenApiController } from './openapi.controller.js';

/** The API, described for programs. */
@Module({
  imports: [DiscoveryModule],
  controllers: [OpenApiController],
})
export class ApiDescriptionModule {}
