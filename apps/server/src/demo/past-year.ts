import type { ChannelName, DemoEvent, SourceName } from './lantern-quay.js';

/** What came again and again in the last year. */
interface Strand {
  readonly title: (count: number) => string;
  readonly description: string;
  /** Of the latest, and of each before it. */
  readonly lastDaysAgo: number;
  readonly everyDays: number;
  readonly times: number;
  readonly at: string;
  readonly minutes: number;
  readonly channel: ChannelName;
  readonly source: SourceName;
  readonly poster: NonNullable<DemoEvent['poster']>;
}

const PSALMS = [
  121, 23, 46, 84, 100, 139, 16, 27, 62, 91, 103, 107, 117, 130, 133, 145, 148, 150, 8, 19, 42, 63,
];
const ON_THE_WATER = [
  'Regatta heats',
  'Naming of the Kittiwake',
  'Low-tide Walk',
  'First Swim of the Year',
  'Blessing of the Nets',
  'Lantern Parade of Boats',
];
const IN_THE_HALL = [
  'Harvest Supper',
  'Talk: Knots and Their Names',
  'Annual Meeting',
  'Children’s Concert',
  'Pancake Race Prizegiving',
  'Carols on the Quay',
  'Talk: Gulls of the Estuary',
  'Net-mending Evening',
];

const STRANDS: readonly Strand[] = [
  {
    title: (count) => `Evensong, Psalm ${PSALMS[count]}`,
    description: 'A quiet half-hour by lamplight, with a psalm and a hymn.',
    lastDaysAgo: 16,
    everyDays: 14,
    times: PSALMS.length,
    at: '19:00',
    minutes: 45,
    channel: 'Chapel',
    source: 'Chapel desk',
    poster: 'night',
  },
  {
    title: (count) => `Shanty Quiz, league night ${12 - count}`,
    description: 'Two teams, one clock, forty verses.',
    lastDaysAgo: 24,
    everyDays: 28,
    times: 12,
    at: '19:30',
    minutes: 90,
    channel: 'Hall',
    source: 'Hall camera',
    poster: 'harvest',
  },
  {
    title: (count) => ON_THE_WATER[count]!,
    description: 'Seen from the pier, with the wind in the microphone.',
    lastDaysAgo: 40,
    everyDays: 52,
    times: ON_THE_WATER.length,
    at: '11:00',
    minutes: 60,
    channel: 'Harbour',
    source: 'Pier camera',
    poster: 'noon',
  },
  {
    title: (count) => IN_THE_HALL[count]!,
    description: 'From the community hall; tea afterwards.',
    lastDaysAgo: 19,
    everyDays: 41,
    times: IN_THE_HALL.length,
    at: '18:00',
    minutes: 75,
    channel: 'Hall',
    source: 'Hall camera',
    poster: 'dusk',
  },
];

/** A year of events that are over, newest first in each strand. */
export const PAST_YEAR: readonly DemoEvent[] = STRANDS.flatMap((strand) =>
  Array.from({ length: strand.times }, (_, count) => ({
    title: strand.title(count),
    description: strand.description,
    time: {
      type: 'day' as const,
      inDays: -(strand.lastDaysAgo + count * strand.everyDays),
      at: strand.at,
      minutes: strand.minutes,
    },
    channel: strand.channel,
    source: strand.source,
    places: [],
    poster: strand.poster,
  })),
);
