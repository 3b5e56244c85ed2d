import 'reflect-metadata';
import type { Server } from 'node:http';
import { mkdir } from 'node:fs/promises';
import type { INestApplicationContext, LogLevel } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { type Express, urlencoded } from 'express';
import { DataSource } from 'typeorm';
import { AppModule, type Opened } from './app.module.js';
import { DutyLetters } from './duties/duty-letters.js';
import { EventLifeService } from './events/event-life.service.js';
import { Posters } from './events/posters.js';
import { FileWork } from './files/file-work.js';
import { ControlGateway } from './media-link/control-gateway.js';
import { MorningLetters } from './letters/morning-letters.js';
import { PostOffice } from './letters/post-office.js';
import { Grants } from './media-link/grants.js';
import { MediaNodes } from './nodes/media-nodes.js';
import { Placement } from './nodes/placement.js';
import { ServerMetrics } from './metrics/server-metrics.js';
import type { ServerConfig } from './platform/config.js';
import { DatabaseWatch } from './platform/database-watch.js';
import { makeDataSource } from './platform/data-source.js';
import { GrantKeyEntity } from './platform/entities.js';
import { Secrets } from './platform/secrets.js';
import { requestLog } from './platform/request-log.js';
import { servePages } from './public/pages.js';
import { PublicChannelsService } from './public/public-channels.service.js';
import { PublicEventsService } from './public/public-events.service.js';
import { securityHeaders } from './public/security-headers.js';
import { Housekeeper } from './recordings/housekeeper.js';
import { SeriesPlanner } from './series/series-planner.js';
import { PushService } from './push/push.service.js';

/** An order sheet at its longest, in any script. */
const LONGEST_BODY = '300kb';
const LONGEST_FORM = '4kb';
const LOG: LogLevel[] = ['warn', 'error'];

/** Connects, migrates, and opens the key file: what server and demo data both begin with. */
export async function open(config: ServerConfig): Promise<Opened> {
  await mkdir(config.dataFolder, { recursive: true });
  const dataSource = await makeDataSource(config.databaseUrl).initialize();
  await dataSource.runMigrations();
  const isFirstStart = (await dataSource.manager.count(GrantKeyEntity)) === 0;
  return { config, dataSource, secrets: await Secrets.open(config.secretFile, isFirstStart) };
}

/** The application without a port, for commands that work on the data. */
export async function openContext(config: ServerConfig): Promise<INestApplicationContext> {
  const app = await NestFactory.createApplicationContext(AppModule.with(await open(config)), {
    logger: LOG,
    abortOnError: false,
  });
  await app.get(Grants).open();
  await app.get(MediaNodes).open();
  return app;
}

/** Starts the server. The order matters: keys before grants, push before the clock moves anything, the port last. */
export async function startServer(config: ServerConfig): Promise<NestExpressApplication> {
  const opened = await open(config);
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(opened), {
    logger: LOG,
    abortOnError: false,
  });
  app.disable('x-powered-by');
  app.useBodyParser('json', { limit: LONGEST_BODY });
  // Behind a balancer on this machine its word counts for who asks, and over what.
  app.set('trust proxy', 'loopback');
  app.use(requestLog());
  app.use(app.get(ServerMetrics).measure);
  app.use(securityHeaders());
  const express = app.getHttpAdapter().getInstance() as Express;
  // Encoder boxes ask with forms (RFC 8628); nothing else does.
  express.use('/api/device', urlencoded({ limit: LONGEST_FORM, extended: false }));
  await servePages(
    express,
    config,
    app.get(MediaNodes),
    app.get(Posters),
    app.get(PublicEventsService),
    app.get(PublicChannelsService),
  );
  await app.get(Grants).open();
  await app.get(MediaNodes).open();
  await app.init();
  const http = app.getHttpServer() as Server;
  app.get(PushService).attach(http);
  app.get(ControlGateway).attach(http);
  app.get(EventLifeService).start();
  app.get(Placement).start();
  app.get(SeriesPlanner).start();
  app.get(DatabaseWatch).start();
  app.get(PostOffice).start();
  app.get(DutyLetters).start();
  app.get(MorningLetters).start();
  app.get(Housekeeper).start();
  app.get(FileWork).start();
  await app.listen(config.port, config.bind);
  return app;
}

/** Ends everything that the server opened. */
export async function stopServer(app: INestApplicationContext): Promise<void> {
  await app.close();
  await app.get(DataSource).destroy();
}
