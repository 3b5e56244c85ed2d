import type { Duty } from '@heliphon/core/duties/duties';
import type { Role } from '@heliphon/core/access/capabilities';

/** The made-up house in which all sample data lives. */
export const LANTERN_QUAY = {
  name: 'Lantern Quay Commons',
  zone: 'Europe/London',
  look: { accent: '#24405c', links: '#24405c', warm: '#e7b56a' },
  logoSvg:
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 34 34"><path d="M17 2 27 12v20H7V12Z" fill="none" stroke="#24405c" stroke-width="2.4"/><circle cx="17" cy="18" r="5" fill="#e7b56a"/></svg>',
  rules: 'Be kind. Say who you are. Keep to what is happening here. What hurts others is hidden.',
} as const;

/** A second small house, so that it can be seen that houses do not see each other. */
export const TIDE_MILL = {
  name: 'Tide Mill Readers',
  zone: 'Europe/London',
  look: { accent: '#4a3a5c', links: '#4a3a5c', warm: '#d9a7a0' },
  logoSvg: null,
  rules: 'Let others finish their sentence.',
} as const;

export interface DemoPerson {
  readonly role: Role;
  readonly name: string;
  readonly email: string;
}

export const LANTERN_QUAY_PEOPLE: readonly DemoPerson[] = [
  { role: 'owner', name: 'Maren Ostlund', email: 'maren@lantern-quay.example' },
  { role: 'producer', name: 'Ines Tarrow', email: 'ines@lantern-quay.example' },
  { role: 'operator', name: 'Odo Fenwright', email: 'odo@lantern-quay.example' },
  { role: 'moderator', name: 'Pell Rowan', email: 'pell@lantern-quay.example' },
  { role: 'treasurer', name: 'Hollis Quayle', email: 'hollis@lantern-quay.example' },
];

export const TIDE_MILL_PEOPLE: readonly DemoPerson[] = [
  { role: 'owner', name: 'Sib Marlow', email: 'sib@tide-mill.example' },
];

export const SOURCES = ['Pier camera', 'Chapel desk', 'Hall camera', 'Tower box', 'Spare encoder'] as const;
export type SourceName = (typeof SOURCES)[number];

/** The parts of the house that have pages of their own. */
export const CHANNELS = [
  { name: 'Chapel', description: 'Services, psalms and bells, from the chapel on the quay.' },
  { name: 'Hall', description: 'Quizzes, meetings and suppers, from the community hall.' },
  { name: 'Harbour', description: 'What happens on the water, seen from the pier.' },
] as const;
export type ChannelName = (typeof CHANNELS)[number]['name'];

export const PLACES = ['Harbour Town Channel', 'Coast relay'] as const;
export type PlaceName = (typeof PLACES)[number];

/** When an event is: days from today and a wall-clock time, or on air now. */
export type DemoTime =
  | { readonly type: 'now'; readonly hours: number }
  | { readonly type: 'day'; readonly inDays: number; readonly at: string; readonly minutes: number };

export interface DemoEvent {
  readonly title: string;
  readonly description: string;
  readonly time: DemoTime;
  readonly channel: ChannelName;
  readonly source: SourceName;
  readonly places: readonly PlaceName[];
  /** Which light its poster is drawn in; none for an event that still wants one. */
  readonly poster: 'dusk' | 'morning' | 'night' | 'noon' | 'harvest' | null;
}

/** This week; the first goes on air at the start, the ones of past days are kept with a recording. */
export const EVENTS: readonly DemoEvent[] = [
  {
    title: 'Harbour Blessing',
    description: 'The boats are blessed for the season from the pier, with the names of those at sea.',
    time: { type: 'now', hours: 6 },
    channel: 'Harbour',
    source: 'Pier camera',
    places: ['Harbour Town Channel'],
    poster: 'dusk',
  },
  {
    title: 'Lamplight Evensong',
    description: 'Psalms by lamplight, sung by whoever comes. Half an hour, and a quiet one.',
    time: { type: 'day', inDays: -2, at: '19:00', minutes: 45 },
    channel: 'Chapel',
    source: 'Chapel desk',
    places: ['Coast relay'],
    poster: 'night',
  },
  {
    title: 'Shanty Quiz, first round',
    description: 'Two teams, one clock, forty verses. The hall against the harbour.',
    time: { type: 'day', inDays: -1, at: '19:30', minutes: 90 },
    channel: 'Hall',
    source: 'Hall camera',
    places: [],
    poster: 'harvest',
  },
  {
    title: 'Bell-ringers’ Quarter Peal',
    description: '1,260 changes of Plain Bob Minor, rung for the opening of the season.',
    time: { type: 'day', inDays: 1, at: '15:00', minutes: 90 },
    channel: 'Chapel',
    source: 'Tower box',
    places: ['Harbour Town Channel', 'Coast relay'],
    poster: null,
  },
  {
    title: 'Gig-rowing Regatta finals',
    description: 'Six lanes, four finals, and the children’s gig at the end.',
    time: { type: 'day', inDays: 3, at: '13:00', minutes: 210 },
    channel: 'Harbour',
    source: 'Pier camera',
    places: ['Harbour Town Channel'],
    poster: 'noon',
  },
  {
    title: 'Shanty Quiz',
    description: 'The second round. Come early, the hall is small.',
    time: { type: 'day', inDays: 2, at: '19:30', minutes: 90 },
    channel: 'Hall',
    source: 'Hall camera',
    places: ['Harbour Town Channel'],
    poster: 'harvest',
  },
];

/** A film of the house, and what begins with it. */
export const FILM = { name: 'The harbour at dusk.flv', before: 'Gig-rowing Regatta finals' } as const;

/** The order of the Blessing, from its start. */
export const BLESSING_ORDER = `00:00 Bell and welcome
00:06 Hymn: The lamp upon the water
  The lamp upon the water
  is steady though it sways;
  it calls the boats of morning
  along their homeward ways.

  The bell above the harbour
  will count them, one by one,
  and none is out so late
  that it is not waited on.
00:14 The blessing of the boats
00:35 Names of those at sea
00:50 Hymn: Home on the tide
  Home on the tide, the gulls before,
  home with the lantern lit ashore.
01:00 Tea in the hall, and the view from the pier`;

/** What repeats every week, a week after the date that is kept already; it takes all else from that. */
export const SERIES_TITLE = 'Lamplight Evensong';

/** Who takes turns at it. */
export const SERIES_TURNS: readonly { readonly duty: Duty; readonly names: readonly string[] }[] = [
  { duty: 'producer', names: ['Ines Tarrow'] },
  { duty: 'operator', names: ['Odo Fenwright', 'Maren Ostlund'] },
  { duty: 'moderator', names: ['Pell Rowan', 'Hollis Quayle'] },
];

export const CHAT_LINES: readonly { readonly name: string; readonly text: string }[] = [
  { name: 'Aunt Sib', text: 'Is Odo ringing today?' },
  { name: 'Hollis', text: 'Could the hymn words be on the page please' },
  { name: 'Tamsin W', text: 'The wind is kinder than last year' },
  { name: 'Corrie', text: 'Good morning from the other side of the water' },
];
