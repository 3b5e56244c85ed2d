import { DataSource } from 'typeorm';
import { BoxEntity, PairingEntity } from './tables/box.entity.js';
import { CalendarEntity } from './tables/calendar.entity.js';
import { ChannelEntity } from './tables/channel.entity.js';
import { SignalMinuteEntity } from './tables/signal-minute.entity.js';
import { ChatMessageEntity, ChatPersonEntity, ChatRoomEntity } from './tables/chat.entity.js';
import { DestinationEntity } from './tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from './tables/event.entity.js';
import { FarewellEntity } from './tables/farewell.entity.js';
import { LegEntity } from './tables/leg.entity.js';
import { RecordingEntity, RemovalEntity } from './tables/recording.entity.js';
import { SeriesDestinationEntity, SeriesEntity, SeriesSkipEntity } from './tables/series.entity.js';
import { SendTokenEntity } from './tables/send-token.entity.js';
import { SourceEntity } from './tables/source.entity.js';
import { ViewersHaveEntity } from './tables/viewers-have.entity.js';
import { SnakeCase } from './platform/columns.js';
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
} from './platform/entities.js';
import { EventDutyEntity, SeriesDutyEntity, ToldDutyEntity } from './tables/duty.entity.js';
import { MorningEntity } from './tables/morning.entity.js';
import { FileEntity } from './tables/file.entity.js';
import { OrderMarkEntity, OrderSheetEntity } from './tables/order.entity.js';
import { Calendars1764100000000 } from './platform/migrations/1764100000000-calendars.js';
import { Channels1765200000000 } from './platform/migrations/1765200000000-channels.js';
import { Drafts1765100000000 } from './platform/migrations/1765100000000-drafts.js';
import { Duties1764600000000 } from './platform/migrations/1764600000000-duties.js';
import { Files1765300000000 } from './platform/migrations/1765300000000-files.js';
import { Films1765400000000 } from './platform/migrations/1765400000000-films.js';
import { HouseInFull1764000000000 } from './platform/migrations/1764000000000-house-in-full.js';
import { Imports1764500000000 } from './platform/migrations/1764500000000-imports.js';
import { Mornings1764700000000 } from './platform/migrations/1764700000000-mornings.js';
import { Notices1764400000000 } from './platform/migrations/1764400000000-notices.js';
import { Rehearsals1764900000000 } from './platform/migrations/1764900000000-rehearsals.js';
import { Series1764300000000 } from './platform/migrations/1764300000000-series.js';
import { SignalMinutes1764200000000 } from './platform/migrations/1764200000000-signal-minutes.js';
import { Order1764800000000 } from './platform/migrations/1764800000000-order.js';
import { Titles1765000000000 } from './platform/migrations/1765000000000-titles.js';
import { LastSeen1765800000000 } from './platform/migrations/1765800000000-last-seen.js';
import { Nodes1765900000000 } from './platform/migrations/1765900000000-nodes.js';
import { Boxes1765700000000 } from './platform/migrations/1765700000000-boxes.js';
import { Srt1765600000000 } from './platform/migrations/1765600000000-srt.js';
import { WaysIn1765500000000 } from './platform/migrations/1765500000000-ways-in.js';
import { CanonicalNames1766000000000 } from './platform/migrations/1766000000000-canonical-names.js';
import { ClientKeys1766100000000 } from './platform/migrations/1766100000000-client-keys.js';
import { Farewells1766200000000 } from './platform/migrations/1766200000000-farewells.js';
import { Journals1766300000000 } from './platform/migrations/1766300000000-journals.js';
import { TellsAnew1766400000000 } from './platform/migrations/1766400000000-tells-anew.js';
import { ChangedAt1766500000000 } from './platform/migrations/1766500000000-changed-at.js';
import { SiteSeen1766600000000 } from './platform/migrations/1766600000000-site-seen.js';
import { HappeningVersion1766700000000 } from './platform/migrations/1766700000000-happening-version.js';
import { ViewersHave1766800000000 } from './platform/migrations/1766800000000-viewers-have.js';
import { Slates1766900000000 } from './platform/migrations/1766900000000-slates.js';
import { Beginning1763870400000 } from './platform/migrations/1763870400000-beginning.js';

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
      CanonicalNames1766000000000,
      ClientKeys1766100000000,
      Farewells1766200000000,
      Journals1766300000000,
      TellsAnew1766400000000,
      ChangedAt1766500000000,
      SiteSeen1766600000000,
      HappeningVersion1766700000000,
      ViewersHave1766800000000,
      Slates1766900000000,
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
      FarewellEntity,
      EventEntity,
      EventDestinationEntity,
      BoxEntity,
      PairingEntity,
      SourceEntity,
      SendTokenEntity,
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
      ViewersHaveEntity,
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
