import 'reflect-metadata';
import type { Server } from 'node:http';
import { mkdir } from 'node:fs/promises';
import type { INestApplicationContext, LogLevel } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import cors from 'cors';
import { type Express, urlencoded } from 'express';
import { DataSource } from 'typeorm';
import { AccountLetters } from './accounts/account-letters.js';
import { AccountLooks } from './accounts/account-looks.js';
import { AccountTokens } from './accounts/account-tokens.js';
import { AppModule } from './app.module.js';
import type { Opened } from './platform/platform.module.js';
import { DutyLetters } from './duties/duty-letters.js';
import { EventLifeService } from './events/event-life.service.js';
import { Posters } from './files/posters.js';
import { FileWork } from './files/file-work.js';
import { ControlGateway } from './media-link/control-gateway.js';
import { SpokenLanguages } from './languages/spoken-languages.js';
import { MorningLetters } from './mornings/morning-letters.js';
import { PostOffice } from './letters/post-office.js';
import { Grants } from './nodes/grants.js';
import { MediaNodes } from './nodes/media-nodes.js';
import { Placement } from './nodes/placement.js';
import { OPEN_PATH } from './platform/access.js';
import { ServerMetrics } from './metrics/server-metrics.js';
import type { ServerConfig } from './platform/config.js';
import { DatabaseWatch } from './platform/database-watch.js';
import { makeDataSource } from './data-source.js';
import { GrantKeyEntity } from './platform/entities.js';
import { Secrets } from './platform/secrets.js';
import { refuseDrawings } from './platform/pictures.js';
import { requireHost } from './platform/require-host.js';
import { requestLog } from './platform/request-log.js';
import { servePages } from './public/pages.js';
import { PublicChannelsService } from './public/public-channels.service.js';
import { PublicEventsService } from './public/public-events.service.js';
import { FaultKeeper } from './signal/fault-keeper.js';
import { ReportLetters } from './signal/report-letters.js';
import { WebhookSender } from './webhooks/webhook-sender.js';
import { WebsiteWatch } from './websites/website-watch.js';
import { Sitemap } from './public/sitemap.js';
import { SiteSightings } from './public/site-sightings.js';
import { securityHeaders } from './public/security-headers.js';
import { Housekeeper } from './house/housekeeper.js';
import { SeriesPlanner } from './series/series-planner.js';
import { AudienceKeeper } from './live/audience-keeper.js';
import { TestSends } from './postings/test-sends.js';
import { PostingFigures } from './postings/posting-figures.js';
import { PostingKeeper } from './postings/posting-keeper.js';
import { PushService } from './push/push.service.js';

/** An order sheet at its longest, in any script. */
const LONGEST_BODY = '300kb';
/** A browser asks first, and then not again for so long. */
const PREFLIGHT_SECONDS = 7200;
const LONGEST_FORM = '4kb';
// Longer than a proxy or client keeps an idle connection (nginx: 60 s), so that no request meets one just being closed.
const KEEP_ALIVE_MS = 75_000;
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

/** What works by itself, from the start to the end. */
const AT_WORK = [
  EventLifeService,
  Placement,
  SeriesPlanner,
  DatabaseWatch,
  PostOffice,
  DutyLetters,
  MorningLetters,
  FaultKeeper,
  ReportLetters,
  WebhookSender,
  AccountTokens,
  AccountLooks,
  AccountLetters,
  PostingKeeper,
  PostingFigures,
  TestSends,
  AudienceKeeper,
  WebsiteWatch,
  Housekeeper,
  FileWork,
];

/** Starts the server. The order matters: keys before grants, push before the clock moves anything, the port last. */
export async function startServer(config: ServerConfig): Promise<NestExpressApplication> {
  refuseDrawings();
  const opened = await open(config);
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(opened), {
    logger: LOG,
    abortOnError: false,
  });
  app.disable('x-powered-by');
  app.useBodyParser('json', { limit: LONGEST_BODY });
  app.set('trust proxy', [...config.trustedProxies]);
  app.use(requireHost());
  app.use(requestLog());
  app.use(app.get(ServerMetrics).measure);
  app.use(securityHeaders());
  app.use(
    OPEN_PATH,
    cors({
      allowedHeaders: ['Content-Type', 'Authorization', 'Heliphon-Admission', 'Heliphon-Pass'],
      maxAge: PREFLIGHT_SECONDS,
    }),
  );
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
    app.get(SiteSightings),
    app.get(Sitemap),
    app.get(SpokenLanguages),
  );
  await app.get(Grants).open();
  await app.get(MediaNodes).open();
  await app.init();
  const http = app.getHttpServer() as Server;
  http.keepAliveTimeout = KEEP_ALIVE_MS;
  app.get(PushService).attach(http);
  app.get(ControlGateway).attach(http);
  for (const kind of AT_WORK) app.get<{ start(): void }>(kind).start();
  await app.listen(config.port, config.bind);
  return app;
}

/** Ends everything that the server opened. */
export async function stopServer(app: INestApplicationContext): Promise<void> {
  await app.close();
  await app.get(DataSource).destroy();
}
