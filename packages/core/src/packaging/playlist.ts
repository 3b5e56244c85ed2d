import type { ListedPart, ListedSegment, LiveWindow } from './live-window.js';
import { CUTTING, type Segment } from './packager.js';
import { holdBackSeconds } from './part-rule.js';

/** File names, relative to the playlist. */
export const partName = (number: number): string => `part-${number}.m4s`;
export const segmentName = (sequence: number): string => `seg-${sequence}.m4s`;
export const initName = (number: number): string => `init-${number}.mp4`;

const DATE_TIME_EVERY_MS = 60_000;
/** What lies further back from the live edge may be left out of a delta update (RFC 8216bis, 4.4.3.8). */
export const SKIP_UNTIL_SECONDS = 6 * CUTTING.targetDurationSeconds;
const seconds = (value: number): string => value.toFixed(5);

/**
 * Stands at the end while no source is there. hls.js takes a segment that nothing follows for one that is not whole
 * yet, and then counts all later ones wrongly.
 */
const NOTHING_COMING = '# Nothing is coming in just now.';

/** What of a programme is served: all of it, or its sound alone for a poor line. */
export type TrackSelection = 'whole' | 'sound';

/**
 * A form in which a programme is served has a folder: its original, its sound alone, and each smaller picture. They are
 * cut alike, so that a position in one is the same position in another.
 */
export const ORIGINAL_FOLDER = '';
export const SOUND_FOLDER = 'sound/';
export const renditionFolder = (name: string): string => `r/${name}/`;

/** From one form's folder to another's. */
const wayTo = (folder: string, from: string): string => `${from.replace(/[^/]+/g, '..')}${folder}`;

export interface LiveForm {
  readonly selection: TrackSelection;
  /** Leaves out the segments that a player who asks for it has already (`EXT-X-SKIP`, 4.4.5.2). */
  readonly isDelta: boolean;
  readonly folder: string;
  /** The other forms, and how far each has come. */
  readonly others: readonly { readonly folder: string; readonly window: LiveWindow }[];
}

const WHOLE: LiveForm = { selection: 'whole', isDelta: false, folder: ORIGINAL_FOLDER, others: [] };

interface Clock {
  /** UTC of programme time zero, in ms. */
  readonly startsAtUtcMs: number;
}

/**
 * The media playlist of a running programme (RFC 8216bis, 4.4): slides, no PLAYLIST-TYPE, ENDLIST at its end.
 * INDEPENDENT-SEGMENTS is not declared, since a segment may begin between two keyframes.
 */
export function renderLivePlaylist(
  window: LiveWindow,
  clock: Clock,
  { selection, isDelta, folder, others }: LiveForm = WHOLE,
): string {
  const { segments, begun } = window;
  const skipped = isDelta ? skippable(window) : 0;
  const sequence = segments[0]?.segment.sequence ?? begun?.sequence ?? 0;
  const head = [
    '#EXTM3U',
    '#EXT-X-VERSION:9',
    `#EXT-X-TARGETDURATION:${CUTTING.targetDurationSeconds}`,
    `#EXT-X-SERVER-CONTROL:CAN-BLOCK-RELOAD=YES,CAN-SKIP-UNTIL=${SKIP_UNTIL_SECONDS.toFixed(1)},PART-HOLD-BACK=${holdBackSeconds(window.partTargetSeconds).toFixed(3)}`,
    `#EXT-X-PART-INF:PART-TARGET=${window.partTargetSeconds.toFixed(3)}`,
    `#EXT-X-MEDIA-SEQUENCE:${sequence}`,
    `#EXT-X-DISCONTINUITY-SEQUENCE:${window.droppedDiscontinuities}`,
    ...(skipped > 0 ? [`#EXT-X-SKIP:SKIPPED-SEGMENTS=${skipped}`] : []),
  ];
  const texts = segments
    .slice(skipped)
    .map((listed, index) => listedText(listed, segments[skipped + index - 1], clock, selection));
  const tail: string[] = [];
  if (begun && (begun.parts.length > 0 || window.nextPart !== null))
    tail.push(...headLines(begun, segments.at(-1)?.segment, clock), ...partLines(begun.parts, selection));
  if (window.nextPart !== null)
    tail.push(
      `#EXT-X-PRELOAD-HINT:TYPE=PART,URI="${partName(window.nextPart)}"`,
      ...others.flatMap((other) => reportLines(other.window, wayTo(other.folder, folder))),
    );
  if (window.ended) tail.push('#EXT-X-ENDLIST');
  if (tail.length === 0) tail.push(NOTHING_COMING);
  return `${[...head, ...texts, ...tail].join('\n')}\n`;
}

/** How far another form has come, for who changes over to it (RFC 8216bis, 4.4.5.4). */
function reportLines({ segments, begun }: LiveWindow, way: string): string[] {
  const last = segments.at(-1)?.segment;
  const isBegun = begun !== null && begun.parts.length > 0;
  const sequence = isBegun ? begun.sequence : last?.sequence;
  if (sequence === undefined) return [];
  const part = (isBegun ? begun.parts.length : last!.partCount) - 1;
  return [`#EXT-X-RENDITION-REPORT:URI="${way}live.m3u8",LAST-MSN=${sequence},LAST-PART=${part}`];
}

/** How many segments from the first lie beyond the skip boundary. */
function skippable({ segments, begun }: LiveWindow): number {
  let behindSeconds = begun?.parts.reduce((sum, part) => sum + part.durationSeconds, 0) ?? 0;
  for (let index = segments.length - 1; index >= 0; index -= 1) {
    behindSeconds += segments[index]!.segment.durationSeconds;
    if (behindSeconds > SKIP_UNTIL_SECONDS) return index;
  }
  return 0;
}

/** Texts of segments that follow another: the same in every state of the playlist, so written once. */
const texts: Readonly<Record<TrackSelection, WeakMap<ListedSegment, string>>> = {
  whole: new WeakMap(),
  sound: new WeakMap(),
};

function listedText(
  listed: ListedSegment,
  previous: ListedSegment | undefined,
  clock: Clock,
  selection: TrackSelection,
): string {
  const known = previous && texts[selection].get(listed);
  if (known !== undefined) return known;
  const { segment, parts } = listed;
  const text = [
    ...headLines(segment, previous?.segment, clock),
    ...partLines(parts, selection),
    ...mediaLines(segment),
  ];
  const joined = text.join('\n');
  if (previous) texts[selection].set(listed, joined);
  return joined;
}

const mediaLines = (segment: Segment, way = ''): string[] => [
  `#EXTINF:${seconds(segment.durationSeconds)},`,
  `${way}${segmentName(segment.sequence)}`,
];

/**
 * The playlist of a finished programme: every segment at once, never to change.
 * @param wayOf - to where a segment and its header lie, from the playlist on
 */
export function renderReplayPlaylist(
  segments: readonly Segment[],
  clock: Clock,
  wayOf: (segment: Segment) => string = () => '',
): string {
  const lines = [
    '#EXTM3U',
    '#EXT-X-VERSION:7',
    `#EXT-X-TARGETDURATION:${CUTTING.targetDurationSeconds}`,
    '#EXT-X-PLAYLIST-TYPE:VOD',
    `#EXT-X-MEDIA-SEQUENCE:${segments[0]?.sequence ?? 0}`,
    ...segments.flatMap((segment, index) => {
      const previous = segments[index - 1];
      const way = wayOf(segment);
      const wayBefore = previous && wayOf(previous);
      return [...headLines(segment, previous, clock, { way, wayBefore }), ...mediaLines(segment, way)];
    }),
    '#EXT-X-ENDLIST',
  ];
  return `${lines.join('\n')}\n`;
}

/** The replay of a smaller picture: where it was not made, the original stands in for it. */
export function renderRenditionReplay(
  segments: readonly Segment[],
  made: ReadonlySet<number>,
  folder: string,
  clock: Clock,
): string {
  const toOriginal = wayTo(ORIGINAL_FOLDER, folder);
  return renderReplayPlaylist(segments, clock, ({ sequence }) => (made.has(sequence) ? '' : toOriginal));
}

/**
 * The same playlist for players that stay with the first header they got (VLC 3, where RFC 8216bis, 4.4.4.5 wants
 * another): in each run the first segment is asked for with its header in front, so that it can be played by itself.
 */
export const withHeadersInFront = (playlist: string): string =>
  playlist.replace(/(URI="init-(\d+)\.mp4"\n(?:#.*\n)*seg-\d+\.m4s)$/gm, '$1?init=$2');

type Placed = Pick<Segment, 'programmeMs' | 'initNumber' | 'discontinuity'>;

/** What stands before a segment: a discontinuity, the init segment it needs, and the date now and then. */
function headLines(
  segment: Placed,
  previous: Placed | undefined,
  clock: Clock,
  { way, wayBefore }: { way: string; wayBefore: string | undefined } = { way: '', wayBefore: '' },
): string[] {
  const lines: string[] = [];
  const breaks = segment.discontinuity && previous !== undefined;
  if (breaks) lines.push('#EXT-X-DISCONTINUITY');
  if (segment.initNumber !== previous?.initNumber || way !== wayBefore)
    lines.push(`#EXT-X-MAP:URI="${way}${initName(segment.initNumber)}"`);
  const minuteOf = ({ programmeMs }: Placed): number => Math.floor(programmeMs / DATE_TIME_EVERY_MS);
  if (!previous || breaks || minuteOf(segment) !== minuteOf(previous)) {
    const date = new Date(clock.startsAtUtcMs + segment.programmeMs).toISOString();
    lines.push(`#EXT-X-PROGRAM-DATE-TIME:${date}`);
  }
  return lines;
}

/** Sound can be begun with anywhere, a picture only with a keyframe. */
const partLines = (parts: readonly ListedPart[], selection: TrackSelection): string[] =>
  parts.map(({ number, durationSeconds, independent }) => {
    const begins = independent || selection === 'sound' ? ',INDEPENDENT=YES' : '';
    return `#EXT-X-PART:DURATION=${seconds(durationSeconds)},URI="${partName(number)}"${begins}`;
  });

/** One form of a programme as the multivariant playlist announces it. */
export interface Variant {
  readonly folder: string;
  /** The most that a segment of it took, and what they took together. */
  readonly bandwidthBps: number;
  readonly averageBandwidthBps: number;
  readonly codecs: string;
  /** `null` for sound alone. */
  readonly picture: {
    readonly widthPx: number;
    readonly heightPx: number;
    /** `null` where it is not known. */
    readonly frameRateFps: number | null;
  } | null;
}

/** The multivariant playlist of a programme, running or over (RFC 8216bis, 4.4.6): its forms, the best first. */
export function renderMultivariantPlaylist(
  variants: readonly Variant[],
  file: 'live.m3u8' | 'replay.m3u8',
): string {
  const lines = variants.flatMap(({ folder, bandwidthBps, averageBandwidthBps, codecs, picture }) => {
    const attributes = [
      `BANDWIDTH=${Math.ceil(bandwidthBps)}`,
      `AVERAGE-BANDWIDTH=${Math.ceil(averageBandwidthBps)}`,
      `CODECS="${codecs}"`,
      ...(picture ? [`RESOLUTION=${picture.widthPx}x${picture.heightPx}`] : []),
      ...(picture?.frameRateFps ? [`FRAME-RATE=${picture.frameRateFps.toFixed(3)}`] : []),
    ];
    return [`#EXT-X-STREAM-INF:${attributes.join(',')}`, `${folder}${file}`];
  });
  return `${['#EXTM3U', '#EXT-X-VERSION:9', ...lines].join('\n')}\n`;
}
