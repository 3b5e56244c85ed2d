import type { ListedPart, LiveWindow } from './live-window.js';
import { CUTTING, type Segment } from './packager.js';

/** File names, relative to the playlist. */
export const partName = (number: number): string => `part-${number}.m4s`;
export const segmentName = (sequence: number): string => `seg-${sequence}.m4s`;
export const initName = (number: number): string => `init-${number}.mp4`;

const DATE_TIME_EVERY_MS = 60_000;
const seconds = (value: number): string => value.toFixed(5);

interface Clock {
  /** UTC of programme time zero, in ms. */
  readonly startsAtUtcMs: number;
}

/**
 * The media playlist of a running programme (RFC 8216bis, 4.4): slides, no PLAYLIST-TYPE, ENDLIST at its end.
 * INDEPENDENT-SEGMENTS is not declared, since a segment may begin between two keyframes.
 */
export function renderLivePlaylist(window: LiveWindow, clock: Clock): string {
  const { segments, begun } = window;
  const sequence = segments[0]?.segment.sequence ?? begun?.sequence ?? 0;
  const lines = [
    '#EXTM3U',
    '#EXT-X-VERSION:9',
    `#EXT-X-TARGETDURATION:${CUTTING.targetDurationSeconds}`,
    `#EXT-X-SERVER-CONTROL:CAN-BLOCK-RELOAD=YES,PART-HOLD-BACK=${CUTTING.partHoldBackSeconds.toFixed(3)}`,
    `#EXT-X-PART-INF:PART-TARGET=${CUTTING.partTargetSeconds.toFixed(3)}`,
    `#EXT-X-MEDIA-SEQUENCE:${sequence}`,
    `#EXT-X-DISCONTINUITY-SEQUENCE:${window.droppedDiscontinuities}`,
  ];
  const head = new SegmentHeads(clock);
  for (const { segment, parts } of segments) {
    lines.push(...head.before(segment), ...parts.map(partLine));
    lines.push(`#EXTINF:${seconds(segment.durationSeconds)},`, segmentName(segment.sequence));
  }
  if (begun && (begun.parts.length > 0 || window.nextPart !== null)) {
    lines.push(...head.before(begun), ...begun.parts.map(partLine));
  }
  if (window.nextPart !== null)
    lines.push(`#EXT-X-PRELOAD-HINT:TYPE=PART,URI="${partName(window.nextPart)}"`);
  if (window.ended) lines.push('#EXT-X-ENDLIST');
  return `${lines.join('\n')}\n`;
}

/** The playlist of a finished programme: every segment at once, never to change. */
export function renderReplayPlaylist(segments: readonly Segment[], clock: Clock): string {
  const head = new SegmentHeads(clock);
  const lines = [
    '#EXTM3U',
    '#EXT-X-VERSION:7',
    `#EXT-X-TARGETDURATION:${CUTTING.targetDurationSeconds}`,
    '#EXT-X-PLAYLIST-TYPE:VOD',
    `#EXT-X-MEDIA-SEQUENCE:${segments[0]?.sequence ?? 0}`,
    ...segments.flatMap((segment) => [
      ...head.before(segment),
      `#EXTINF:${seconds(segment.durationSeconds)},`,
      segmentName(segment.sequence),
    ]),
    '#EXT-X-ENDLIST',
  ];
  return `${lines.join('\n')}\n`;
}

type Placed = Pick<Segment, 'programmeMs' | 'initNumber' | 'discontinuity'>;

/** What stands before a segment: a discontinuity, the init segment it needs, and the date now and then. */
class SegmentHeads {
  #initNumber: number | null = null;
  #datedAtMs = -Infinity;
  constructor(private readonly clock: Clock) {}

  before(segment: Placed): string[] {
    const lines: string[] = [];
    const isFirst = this.#initNumber === null;
    const breaks = segment.discontinuity && !isFirst;
    if (breaks) lines.push('#EXT-X-DISCONTINUITY');
    if (segment.initNumber !== this.#initNumber)
      lines.push(`#EXT-X-MAP:URI="${initName(segment.initNumber)}"`);
    this.#initNumber = segment.initNumber;
    if (breaks || segment.programmeMs - this.#datedAtMs >= DATE_TIME_EVERY_MS) {
      this.#datedAtMs = segment.programmeMs;
      const date = new Date(this.clock.startsAtUtcMs + segment.programmeMs).toISOString();
      lines.push(`#EXT-X-PROGRAM-DATE-TIME:${date}`);
    }
    return lines;
  }
}

function partLine(part: ListedPart): string {
  const independent = part.independent ? ',INDEPENDENT=YES' : '';
  return `#EXT-X-PART:DURATION=${seconds(part.durationSeconds)},URI="${partName(part.number)}"${independent}`;
}
