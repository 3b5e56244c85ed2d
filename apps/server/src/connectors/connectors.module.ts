import { Module } from '@nestjs/common';
import { Connectors } from './connectors.js';

/** Platforms of others, and what they can be asked for. */
@Module({ providers: [Connectors], exports: [Connectors] })
export class ConnectorsModule {}
