import type { EntityTarget, ObjectLiteral } from 'typeorm';
import { AccountEntity, ConsentAskEntity, OutletEntity } from '../tables/account.entity.js';
import { BoxEntity } from '../tables/box.entity.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { ChatMessageEntity, ChatPersonEntity, ChatRoomEntity } from '../tables/chat.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { EventDutyEntity, SeriesDutyEntity, ToldDutyEntity } from '../tables/duty.entity.js';
import { DeskHolderEntity } from '../tables/desk-holder.entity.js';
import { NoteEntity } from '../tables/note.entity.js';
import { FaultEntity } from '../tables/fault.entity.js';
import { FileEntity } from '../tables/file.entity.js';
import { MorningEntity } from '../tables/morning.entity.js';
import { OrderMarkEntity, OrderSheetEntity } from '../tables/order.entity.js';
import { LegEntity } from '../tables/leg.entity.js';
import { SeriesDestinationEntity, SeriesEntity, SeriesSkipEntity } from '../tables/series.entity.js';
import { SendTokenEntity } from '../tables/send-token.entity.js';
import { WebhookDeliveryEntity, WebhookEntity } from '../tables/webhook.entity.js';
import { ViewersHaveEntity } from '../tables/viewers-have.entity.js';
import { TestSendEntity } from '../tables/test-send.entity.js';
import { EventViewersEntity } from '../tables/event-viewers.entity.js';
import { PostingCommentEntity } from '../tables/posting-comment.entity.js';
import { PlaceSetEntity } from '../tables/place-set.entity.js';
import { PostingEntity } from '../tables/posting.entity.js';
import { PostingWordsEntity } from '../tables/posting-words.entity.js';
import { AdmissionEntity, InvitedEntity, WatchPasswordEntity } from '../tables/watching.entity.js';
import { ViewerReportEntity } from '../tables/viewer-report.entity.js';
import { LanguageEntity } from '../tables/language.entity.js';
import { GroundPictureEntity } from '../tables/ground-picture.entity.js';
import { LogoEntity } from '../tables/logo.entity.js';
import { WebsiteEntity } from '../tables/website.entity.js';
import { SourceEntity } from '../tables/source.entity.js';
import {
  AddressEntity,
  CommandEntity,
  CredentialEntity,
  HappeningEntity,
  InvitationEntity,
  MembershipEntity,
} from '../platform/entities.js';
import { RecordingEntity } from '../tables/recording.entity.js';

type OfHouse = EntityTarget<ObjectLiteral & { houseId: string }>;

/** Everything that a house has, in the order in which it can be taken away: what others point at comes last. */
export const HOUSE_TABLES: readonly { readonly name: string; readonly entity: OfHouse }[] = [
  { name: 'chat-messages', entity: ChatMessageEntity },
  { name: 'chat-people', entity: ChatPersonEntity },
  { name: 'chat-rooms', entity: ChatRoomEntity },
  { name: 'viewer-reports', entity: ViewerReportEntity },
  { name: 'logos', entity: LogoEntity },
  { name: 'ground-pictures', entity: GroundPictureEntity },
  { name: 'languages', entity: LanguageEntity },
  { name: 'websites', entity: WebsiteEntity },
  { name: 'admissions', entity: AdmissionEntity },
  { name: 'invited-viewers', entity: InvitedEntity },
  { name: 'watch-passwords', entity: WatchPasswordEntity },
  { name: 'notes', entity: NoteEntity },
  { name: 'desk-holders', entity: DeskHolderEntity },
  { name: 'faults', entity: FaultEntity },
  { name: 'viewers-had', entity: ViewersHaveEntity },
  { name: 'recordings', entity: RecordingEntity },
  { name: 'commands', entity: CommandEntity },
  { name: 'order-marks', entity: OrderMarkEntity },
  { name: 'order-sheets', entity: OrderSheetEntity },
  { name: 'told-duties', entity: ToldDutyEntity },
  { name: 'event-duties', entity: EventDutyEntity },
  { name: 'posting-comments', entity: PostingCommentEntity },
  { name: 'test-sends', entity: TestSendEntity },
  { name: 'event-viewers', entity: EventViewersEntity },
  { name: 'posting-words', entity: PostingWordsEntity },
  { name: 'event-places', entity: EventDestinationEntity },
  { name: 'programme-legs', entity: LegEntity },
  { name: 'events', entity: EventEntity },
  { name: 'series-duties', entity: SeriesDutyEntity },
  { name: 'series-skips', entity: SeriesSkipEntity },
  { name: 'series-places', entity: SeriesDestinationEntity },
  { name: 'series', entity: SeriesEntity },
  { name: 'sending-lines', entity: SendTokenEntity },
  { name: 'boxes', entity: BoxEntity },
  { name: 'sources', entity: SourceEntity },
  { name: 'files', entity: FileEntity },
  { name: 'channels', entity: ChannelEntity },
  { name: 'place-sets', entity: PlaceSetEntity },
  { name: 'postings', entity: PostingEntity },
  { name: 'places', entity: DestinationEntity },
  { name: 'outlets', entity: OutletEntity },
  { name: 'accounts', entity: AccountEntity },
  { name: 'consent-asks', entity: ConsentAskEntity },
  { name: 'addresses', entity: AddressEntity },
  { name: 'invitations', entity: InvitationEntity },
  { name: 'credentials', entity: CredentialEntity },
  { name: 'mornings', entity: MorningEntity },
  { name: 'webhook-deliveries', entity: WebhookDeliveryEntity },
  { name: 'webhooks', entity: WebhookEntity },
  { name: 'memberships', entity: MembershipEntity },
  { name: 'happenings', entity: HappeningEntity },
];
