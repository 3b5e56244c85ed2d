import { Module } from '@nestjs/common';
import { FiguresInMemory, FiguresStore } from './figures-store.js';
import { AudienceKeeper } from './audience-keeper.js';
import { LiveFigures } from './live-figures.js';
import { SignalHistory } from './signal-history.js';

/** What media nodes report, as it is now. */
@Module({
  providers: [
    AudienceKeeper,
    LiveFigures,
    SignalHistory,
    { provide: FiguresStore, useClass: FiguresInMemory },
  ],
  exports: [LiveFigures],
})
export class LiveModule {}
