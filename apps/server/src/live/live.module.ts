import { Module } from '@nestjs/common';
import { FiguresInMemory, FiguresStore } from './figures-store.js';
import { LiveFigures } from './live-figures.js';
import { SignalHistory } from './signal-history.js';

/** What media nodes report, as it is now. */
@Module({
  providers: [LiveFigures, SignalHistory, { provide: FiguresStore, useClass: FiguresInMemory }],
  exports: [LiveFigures],
})
export class LiveModule {}
