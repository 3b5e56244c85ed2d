import { In } from 'typeorm';
import { AccountEntity } from '../tables/account.entity.js';
import { BoxEntity } from '../tables/box.entity.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { FileEntity } from '../tables/file.entity.js';
import { EventEntity } from '../tables/event.entity.js';
import type { HouseScope } from '../platform/database.js';
import type { HappeningEntity } from '../platform/entities.js';
import { RecordingEntity } from '../tables/recording.entity.js';
import { SeriesEntity } from '../tables/series.entity.js';
import { SourceEntity } from '../tables/source.entity.js';

/** What the subjects of happenings are called today, by their ids; what is gone has no name here. */
export async function subjectNames(
  scope: HouseScope,
  rows: readonly HappeningEntity[],
): Promise<ReadonlyMap<string, string>> {
  const among = (kind: string) => ({
    where: { id: In(rows.filter((row) => row.subjectKind === kind).map((row) => row.subjectId)) },
  });
  const [accounts, boxes, files, channels, sources, places, recordings, series] = await Promise.all([
    scope.find(AccountEntity, among('account')),
    scope.find(BoxEntity, among('box')),
    scope.find(FileEntity, among('file')),
    scope.find(ChannelEntity, among('channel')),
    scope.find(SourceEntity, among('source')),
    scope.find(DestinationEntity, among('destination')),
    scope.find(RecordingEntity, among('recording')),
    scope.find(SeriesEntity, among('series')),
  ]);
  const eventIds = rows.filter((row) => row.subjectKind === 'event').map((row) => row.subjectId);
  const events = await scope.find(EventEntity, {
    where: { id: In([...eventIds, ...recordings.map((recording) => recording.eventId)]) },
  });
  const titles = new Map(events.map(({ id, title }) => [id, title]));
  return new Map([
    ...titles,
    ...series.map(({ id, title }) => [id, title] as const),
    ...[...accounts, ...boxes, ...files, ...channels, ...sources, ...places].map(
      ({ id, name }) => [id, name] as const,
    ),
    ...recordings.map(({ id, title, eventId }) => [id, title ?? titles.get(eventId)!] as const),
  ]);
}
