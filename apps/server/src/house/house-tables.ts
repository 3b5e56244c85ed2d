import type { EntityTarget, ObjectLiteral } from 'typeorm';
import { BoxEntity } from '../tables/box.entity.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { ChatMessageEntity, ChatPersonEntity, ChatRoomEntity } from '../tables/chat.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { EventDutyEntity, SeriesDutyEntity, ToldDutyEntity } from '../tables/duty.entity.js';
import { FileEntity } from '../tables/file.entity.js';
import { MorningEntity } from '../tables/morning.entity.js';
import { OrderMarkEntity, OrderSheetEntity } from '../tables/order.entity.js';
import { LegEntity } from '../tables/leg.entity.js';
import { SeriesDestinationEntity, SeriesEntity, SeriesSkipEntity } from '../tables/series.entity.js';
import { SendTokenEntity } from '../tables/send-token.entity.js';
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
  { name: 'recordings', entity: RecordingEntity },
  { name: 'commands', entity: CommandEntity },
  { name: 'order-marks', entity: OrderMarkEntity },
  { name: 'order-sheets', entity: OrderSheetEntity },
  { name: 'told-duties', entity: ToldDutyEntity },
  { name: 'event-duties', entity: EventDutyEntity },
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
  { name: 'places', entity: DestinationEntity },
  { name: 'addresses', entity: AddressEntity },
  { name: 'invitations', entity: InvitationEntity },
  { name: 'credentials', entity: CredentialEntity },
  { name: 'mornings', entity: MorningEntity },
  { name: 'memberships', entity: MembershipEntity },
  { name: 'happenings', entity: HappeningEntity },
];
