import { DataSource } from 'typeorm';
import { BoxEntity, PairingEntity } from '../boxes/box.entity.js';
import { CalendarEntity } from '../calendars/calendar.entity.js';
import { ChannelEntity } from '../channels/channel.entity.js';
import { SignalMinuteEntity } from '../media-link/signal-minute.entity.js';
import { ChatMessageEntity, ChatPersonEntity, ChatRoomEntity } from '../chat/chat.entity.js';
import { DestinationEntity } from '../destinations/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../events/event.entity.js';
import { LegEntity } from '../nodes/leg.entity.js';
import { RecordingEntity, RemovalEntity } from '../recordings/recording.entity.js';
import { SeriesDestinationEntity, SeriesEntity, SeriesSkipEntity } from '../series/series.entity.js';
import { LineEntity } from '../sources/line.entity.js';
import { SourceEntity } from '../sources/source.entity.js';
import { SnakeCase } from './columns.js';
import {
  AddressEntity,
  CommandEntity,
  CredentialEntity,
  GrantKeyEntity,
  HappeningEntity,
  HouseEntity,
  InvitationEntity,
  LetterEntity,
  MediaNodeEntity,
  MembershipEntity,
  PersonEntity,
  RecoveryCodeEntity,
} from './entities.js';
import { EventDutyEntity, SeriesDutyEntity, ToldDutyEntity } from '../duties/duty.entity.js';
import { MorningEntity } from '../letters/morning.entity.js';
import { FileEntity } from '../files/file.entity.js';
import { OrderMarkEntity, OrderSheetEntity } from '../order/order.entity.js';
import { Calendars1764100000000 } from './migrations/1764100000000-calendars.js';
import { Channels1765200000000 } from './migrations/1765200000000-channels.js';
import { Drafts1765100000000 } from './migrations/1765100000000-drafts.js';
import { Duties1764600000000 } from './migrations/1764600000000-duties.js';
import { Files1765300000000 } from './migrations/1765300000000-files.js';
import { Films1765400000000 } from './migrations/1765400000000-films.js';
import { HouseInFull1764000000000 } from './migrations/1764000000000-house-in-full.js';
import { Imports1764500000000 } from './migrations/1764500000000-imports.js';
import { Mornings1764700000000 } from './migrations/1764700000000-mornings.js';
import { Notices1764400000000 } from './migrations/1764400000000-notices.js';
import { Rehearsals1764900000000 } from './migrations/1764900000000-rehearsals.js';
import { Series1764300000000 } from './migrations/1764300000000-series.js';
import { SignalMinutes1764200000000 } from './migrations/1764200000000-signal-minutes.js';
import { Order1764800000000 } from './migrations/1764800000000-order.js';
import { Titles1765000000000 } from './migrations/1765000000000-titles.js';
import { LastSeen1765800000000 } from './migrations/1765800000000-last-seen.js';
import { Nodes1765900000000 } from './migrations/1765900000000-nodes.js';
import { Boxes1765700000000 } from './migrations/1765700000000-boxes.js';
import { Srt1765600000000 } from './migrations/1765600000000-srt.js';
import { WaysIn1765500000000 } from './migrations/1765500000000-ways-in.js';
import { Beginning1763870400000 } from './migrations/1763870400000-beginning.js';

/** The connection to MariaDB. Times travel as UTC; the schema comes from migrations alone. */
export function makeDataSource(databaseUrl: string): DataSource {
  return new DataSource({
    type: 'mariadb',
    url: databaseUrl,
    charset: 'utf8mb4_unicode_520_ci',
    timezone: 'Z',
    poolSize: 12,
    namingStrategy: new SnakeCase(),
    migrations: [
      Beginning1763870400000,
      HouseInFull1764000000000,
      Calendars1764100000000,
      SignalMinutes1764200000000,
      Series1764300000000,
      Notices1764400000000,
      Imports1764500000000,
      Duties1764600000000,
      Mornings1764700000000,
      Order1764800000000,
      Rehearsals1764900000000,
      Titles1765000000000,
      Drafts1765100000000,
      Channels1765200000000,
      Files1765300000000,
      Films1765400000000,
      WaysIn1765500000000,
      Srt1765600000000,
      Boxes1765700000000,
      LastSeen1765800000000,
      Nodes1765900000000,
    ],
    entities: [
      HouseEntity,
      PersonEntity,
      MembershipEntity,
      CredentialEntity,
      AddressEntity,
      HappeningEntity,
      CommandEntity,
      MediaNodeEntity,
      GrantKeyEntity,
      RecoveryCodeEntity,
      InvitationEntity,
      LetterEntity,
      EventEntity,
      EventDestinationEntity,
      BoxEntity,
      PairingEntity,
      SourceEntity,
      LineEntity,
      DestinationEntity,
      RecordingEntity,
      RemovalEntity,
      LegEntity,
      ChatRoomEntity,
      ChatPersonEntity,
      ChatMessageEntity,
      CalendarEntity,
      ChannelEntity,
      FileEntity,
      SignalMinuteEntity,
      MorningEntity,
      OrderSheetEntity,
      OrderMarkEntity,
      EventDutyEntity,
      SeriesDutyEntity,
      ToldDutyEntity,
      SeriesEntity,
      SeriesDestinationEntity,
      SeriesSkipEntity,
    ],
  });
}
