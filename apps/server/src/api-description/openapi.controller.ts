import { Controller, Get, Header } from '@nestjs/common';
import { DiscoveryService, MetadataScanner } from '@nestjs/core';
import { Needs } from '../platform/need.js';
import { routesOf } from '../platform/routes.js';
import { describeApi } from './describe-api.js';

/** The whole HTTP interface as OpenAPI 3.1, made of the routes and of the contracts they check. */
@Controller('api')
export class OpenApiController {
  #document: object | null = null;

  constructor(
    private readonly discovery: DiscoveryService,
    private readonly scanner: MetadataScanner,
  ) {}

  @Get('openapi.json')
  @Needs('public')
  @Header('Access-Control-Allow-Origin', '*')
  document(): object {
    return (this.#document ??= describeApi(routesOf(this.discovery, this.scanner)));
  }
}
