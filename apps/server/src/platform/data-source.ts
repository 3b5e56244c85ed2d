import { DataSource } from 'typeorm';
import { ChatMessageEntity, ChatPersonEntity, ChatRoomEntity } from '../chat/chat.entity.js';
import { DestinationEntity } from '../destinations/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../events/event.entity.js';
import { RecordingEntity } from '../recordings/recording.entity.js';
import { SourceEntity } from '../sources/source.entity.js';
import { SnakeCase } from './columns.js';
import {
  AddressEntity,
  CommandEntity,
  CredentialEntity,
  GrantKeyEntity,
  HappeningEntity,
  HouseEntity,
  MediaNodeEntity,
  MembershipEntity,
  PersonEntity,
} from './entities.js';
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
    migrations: [Beginning1763870400000],
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
      EventEntity,
      EventDestinationEntity,
      SourceEntity,
      DestinationEntity,
      RecordingEntity,
      ChatRoomEntity,
      ChatPersonEntity,
      ChatMessageEntity,
    ],
  });
}
