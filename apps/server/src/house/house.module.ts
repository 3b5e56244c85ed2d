import { Module } from '@nestjs/common';
import { AccountsModule } from '../accounts/accounts.module.js';
import { FilesModule } from '../files/files.module.js';
import { LettersModule } from '../letters/letters.module.js';
import { SignalModule } from '../signal/signal.module.js';
import { WatchingModule } from '../watching/watching.module.js';
import { LooksModule } from '../looks/looks.module.js';
import { LiveModule } from '../live/live.module.js';
import { NodesModule } from '../nodes/nodes.module.js';
import { RecordingsModule } from '../recordings/recordings.module.js';
import { SourcesModule } from '../sources/sources.module.js';
import { FirstService } from './first-service.js';
import { HouseDeletion } from './house-deletion.js';
import { HouseController } from './house.controller.js';
import { HouseService } from './house.service.js';
import { Housekeeper } from './housekeeper.js';

/** A house as a whole: its settings, its first service, its data, its end, and what is tidied away. */
@Module({
  imports: [
    AccountsModule,
    LiveModule,
    LettersModule,
    LooksModule,
    SignalModule,
    WatchingModule,
    NodesModule,
    FilesModule,
    SourcesModule,
    RecordingsModule,
  ],
  controllers: [HouseController],
  providers: [FirstService, HouseDeletion, HouseService, Housekeeper],
})
export class HouseModule {}
