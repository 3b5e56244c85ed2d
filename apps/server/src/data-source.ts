import { DataSource } from 'typeorm';
import { AccountEntity, ConsentAskEntity, OutletEntity } from './tables/account.entity.js';
import { BoxEntity, PairingEntity } from './tables/box.entity.js';
import { CalendarEntity } from './tables/calendar.entity.js';
import { ChannelEntity } from './tables/channel.entity.js';
import { WebhookDeliveryEntity, WebhookEntity } from './tables/webhook.entity.js';
import { DeskHolderEntity } from './tables/desk-holder.entity.js';
import { NoteEntity } from './tables/note.entity.js';
import { FaultEntity } from './tables/fault.entity.js';
import { SignalMinuteEntity } from './tables/signal-minute.entity.js';
import { ChatMessageEntity, ChatPersonEntity, ChatRoomEntity } from './tables/chat.entity.js';
import { DestinationEntity } from './tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from './tables/event.entity.js';
import { FarewellEntity } from './tables/farewell.entity.js';
import { LegEntity } from './tables/leg.entity.js';
import { RecordingEntity, RemovalEntity } from './tables/recording.entity.js';
import { SeriesDestinationEntity, SeriesEntity, SeriesSkipEntity } from './tables/series.entity.js';
import { ViewerReportEntity } from './tables/viewer-report.entity.js';
import { LanguageEntity } from './tables/language.entity.js';
import { GroundPictureEntity } from './tables/ground-picture.entity.js';
import { LogoEntity } from './tables/logo.entity.js';
import { WebsiteEntity } from './tables/website.entity.js';
import { SendTokenEntity } from './tables/send-token.entity.js';
import { AdmissionEntity, InvitedEntity, WatchPasswordEntity } from './tables/watching.entity.js';
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
import { TestSendEntity } from './tables/test-send.entity.js';
import { EventViewersEntity } from './tables/event-viewers.entity.js';
import { PostingCommentEntity } from './tables/posting-comment.entity.js';
import { PlaceSetEntity } from './tables/place-set.entity.js';
import { PostingEntity } from './tables/posting.entity.js';
import { PostingWordsEntity } from './tables/posting-words.entity.js';
import { Postings1767900000000 } from './platform/migrations/1767900000000-postings.js';
import { TestSends1768400000000 } from './platform/migrations/1768400000000-test-sends.js';
import { Renditions1768500000000 } from './platform/migrations/1768500000000-renditions.js';
import { Looks1768600000000 } from './platform/migrations/1768600000000-looks.js';
import { Watching1768700000000 } from './platform/migrations/1768700000000-watching.js';
import { ViewerReports1769000000000 } from './platform/migrations/1769000000000-viewer-reports.js';
import { VisitCounter1769300000000 } from './platform/migrations/1769300000000-visit-counter.js';
import { GroundPictures1769200000000 } from './platform/migrations/1769200000000-ground-pictures.js';
import { Languages1769100000000 } from './platform/migrations/1769100000000-languages.js';
import { Logos1768900000000 } from './platform/migrations/1768900000000-logos.js';
import { Websites1768800000000 } from './platform/migrations/1768800000000-websites.js';
import { PostingsOnAir1768300000000 } from './platform/migrations/1768300000000-postings-on-air.js';
import { PlaceSets1768200000000 } from './platform/migrations/1768200000000-place-sets.js';
import { PostingWords1768100000000 } from './platform/migrations/1768100000000-posting-words.js';
import { AccountLetters1768000000000 } from './platform/migrations/1768000000000-account-letters.js';
import { Accounts1767800000000 } from './platform/migrations/1767800000000-accounts.js';
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
import { Faults1767000000000 } from './platform/migrations/1767000000000-faults.js';
import { Reports1767100000000 } from './platform/migrations/1767100000000-reports.js';
import { Webhooks1767200000000 } from './platform/migrations/1767200000000-webhooks.js';
import { Standby1767300000000 } from './platform/migrations/1767300000000-standby.js';
import { Notes1767400000000 } from './platform/migrations/1767400000000-notes.js';
import { Clips1767500000000 } from './platform/migrations/1767500000000-clips.js';
import { DeskHolders1767600000000 } from './platform/migrations/1767600000000-desk-holders.js';
import { SlateSound1767700000000 } from './platform/migrations/1767700000000-slate-sound.js';
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
      Faults1767000000000,
      Reports1767100000000,
      Webhooks1767200000000,
      Standby1767300000000,
      Notes1767400000000,
      Clips1767500000000,
      DeskHolders1767600000000,
      SlateSound1767700000000,
      Accounts1767800000000,
      Postings1767900000000,
      AccountLetters1768000000000,
      PostingWords1768100000000,
      PlaceSets1768200000000,
      PostingsOnAir1768300000000,
      TestSends1768400000000,
      Renditions1768500000000,
      Looks1768600000000,
      Watching1768700000000,
      Websites1768800000000,
      Logos1768900000000,
      ViewerReports1769000000000,
      Languages1769100000000,
      GroundPictures1769200000000,
      VisitCounter1769300000000,
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
      WatchPasswordEntity,
      InvitedEntity,
      AdmissionEntity,
      WebsiteEntity,
      LanguageEntity,
      LogoEntity,
      GroundPictureEntity,
      ViewerReportEntity,
      DestinationEntity,
      AccountEntity,
      OutletEntity,
      ConsentAskEntity,
      TestSendEntity,
      EventViewersEntity,
      PostingCommentEntity,
      PlaceSetEntity,
      PostingEntity,
      PostingWordsEntity,
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
      FaultEntity,
      NoteEntity,
      DeskHolderEntity,
      WebhookEntity,
      WebhookDeliveryEntity,
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
