import { IsNull, Not } from 'typeorm';
import type { OwnWatchRules } from '@heliphon/core/access/watch-rules';
import type { OwnLook } from '@heliphon/core/appearance/look';
import type { Level, Said } from '@heliphon/core/inherited';
import type { HouseScope } from '../platform/database.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { EventEntity } from '../tables/event.entity.js';
import { SeriesEntity } from '../tables/series.entity.js';

/** What a house, a channel, a series and an event each may say; `null` for nothing. */
export interface Saying {
  readonly look: OwnLook | null;
  readonly watching: OwnWatchRules | null;
}

/** What something inherits from, and itself, from the house down. */
export type Levels = readonly { readonly level: Level; readonly row: Saying & { readonly id: string } }[];

/** @param channel - `null` for the house alone */
export async function levelsOfChannel(scope: HouseScope, channel: ChannelEntity | null): Promise<Levels> {
  return [{ level: 'house', row: await scope.ownHouse() }, ...at('channel', channel)];
}

export async function levelsOfSeries(scope: HouseScope, series: SeriesEntity): Promise<Levels> {
  return [...(await levelsAbove(scope, series)), ...at('series', series)];
}

/** A rehearsal inherits as the event does that it is of. */
export async function levelsOfEvent(scope: HouseScope, event: EventEntity): Promise<Levels> {
  const planned = event.rehearsalOf && (await scope.findOne(EventEntity, { id: event.rehearsalOf }));
  const shown = planned || event;
  const [above, series] = await Promise.all([
    levelsAbove(scope, shown),
    shown.seriesId ? scope.findOne(SeriesEntity, { id: shown.seriesId }) : null,
  ]);
  return [...above, ...at('series', series), ...at('event', shown)];
}

/** What the levels say of one thing. */
export const saidOf = <K extends keyof Saying>(levels: Levels, key: K): Said<NonNullable<Saying[K]>> =>
  levels.flatMap(({ level, row }) => (row[key] ? [{ level, own: row[key] }] : []));

async function levelsAbove(scope: HouseScope, { channelId }: { channelId: string | null }): Promise<Levels> {
  const channel = channelId ? await scope.findOne(ChannelEntity, { id: channelId }) : null;
  return levelsOfChannel(scope, channel);
}

const at = (level: Level, row: Levels[number]['row'] | null): Levels => (row ? [{ level, row }] : []);

type SayingRow = Saying & { readonly id: string };
/** Rows that events may inherit from. */
export interface SayingRows {
  readonly houses: readonly SayingRow[];
  readonly channels: readonly SayingRow[];
  readonly series: readonly SayingRow[];
}
/** An event, as far as it inherits. */
export type InheritingEvent = SayingRow & Pick<EventEntity, 'houseId' | 'channelId' | 'seriesId'>;

/** Reads once what many events of a house inherit from. */
export async function sayingRowsOf(scope: HouseScope, key: keyof Saying): Promise<SayingRows> {
  const saying = { where: { [key]: Not(IsNull()) } };
  const [house, channels, series] = await Promise.all([
    scope.ownHouse(),
    scope.find(ChannelEntity, saying),
    scope.find(SeriesEntity, saying),
  ]);
  return { houses: [house], channels, series };
}

/** As `levelsOfEvent`, from rows that were read already. */
export function levelsAmong({ houses, channels, series }: SayingRows, event: InheritingEvent): Levels {
  const by = (rows: readonly SayingRow[], id: string | null): SayingRow | null =>
    rows.find((row) => row.id === id) ?? null;
  return [
    ...at('house', by(houses, event.houseId)),
    ...at('channel', by(channels, event.channelId)),
    ...at('series', by(series, event.seriesId)),
    ...at('event', event),
  ];
}
