import { readFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { Controller, Get, Header, Inject } from '@nestjs/common';
import { DiscoveryService, MetadataScanner } from '@nestjs/core';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Needs } from '../platform/need.js';
import { routesOf } from '../platform/routes.js';
import { type AnswerSchemas, describeApi } from './describe-api.js';

/** Made of the handlers' types when the server is built. */
const ANSWERS = resolve('dist/server/answers.json');

/** The whole HTTP interface as OpenAPI 3.1, made of the routes and of the contracts they check and answer. */
@Controller('api')
export class OpenApiController {
  #document: Promise<object> | null = null;

  constructor(
    private readonly discovery: DiscoveryService,
    private readonly scanner: MetadataScanner,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get('openapi.json')
  @Needs('public')
  @Header('Access-Control-Allow-Origin', '*')
  document(): Promise<object> {
    return (this.#document ??= this.#describe());
  }

  async #describe(): Promise<object> {
    const answers = JSON.parse(await readFile(ANSWERS, 'utf8')) as AnswerSchemas;
    const address = this.config.publicUrl ?? '/';
    return describeApi(routesOf(this.discovery, this.scanner), answers, address);
  }
}
