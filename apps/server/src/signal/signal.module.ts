import { Module } from '@nestjs/common';
import { ConnectorsModule } from '../connectors/connectors.module.js';
import { LettersModule } from '../letters/letters.module.js';
import { LiveModule } from '../live/live.module.js';
import { FaultKeeper } from './fault-keeper.js';
import { FaultLetters } from './fault-letters.js';
import { Faults } from './faults.js';
import { ReportLetters } from './report-letters.js';
import { SignalController } from './signal.controller.js';
import { SignalReports } from './signal-reports.js';
import { ViewerReports } from './viewer-reports.service.js';

/** What sources sent, and what was wrong with it. */
@Module({
  imports: [ConnectorsModule, LiveModule, LettersModule],
  controllers: [SignalController],
  providers: [Faults, FaultKeeper, FaultLetters, SignalReports, ReportLetters, ViewerReports],
  exports: [Faults, SignalReports, ViewerReports],
})
export class SignalModule {}
