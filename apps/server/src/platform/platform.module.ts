import { type DynamicModule, Global, Module } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { Clearing } from './clearing.js';
import { Clock } from './clock.js';
import { CONFIG, type ServerConfig } from './config.js';
import { Database } from './database.js';
import { DatabaseWatch } from './database-watch.js';
import { Secrets } from './secrets.js';
import { FanOut, FanOutInMemory } from './shared/fan-out.js';
import { Buckets, BucketsInMemory } from './shared/limits.js';
import { UndoRegistry } from './undo-registry.js';

/** What has to be open before the application can stand. */
export interface Opened {
  readonly config: ServerConfig;
  readonly dataSource: DataSource;
  readonly secrets: Secrets;
}

const SERVICES = [Clearing, Clock, Database, DatabaseWatch, UndoRegistry];
/** What several servers would have to share is a port; one server keeps it in memory. */
const SHARED = [
  { provide: Buckets, useClass: BucketsInMemory },
  { provide: FanOut, useClass: FanOutInMemory },
];

/** What every domain stands on, and which knows none of them. */
@Global()
@Module({})
export class PlatformModule {
  static with({ config, dataSource, secrets }: Opened): DynamicModule {
    return {
      module: PlatformModule,
      providers: [
        { provide: CONFIG, useValue: config },
        { provide: DataSource, useValue: dataSource },
        { provide: Secrets, useValue: secrets },
        ...SERVICES,
        ...SHARED,
      ],
      exports: [CONFIG, DataSource, Secrets, ...SERVICES, Buckets, FanOut],
    };
  }
}
