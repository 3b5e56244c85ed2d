import type { PlannedRendition } from '@heliphon/core/ladder/renditions';

export interface LadderStep {
  readonly plan: PlannedRendition;
  /** Pictures up to here are there already, in ms; negative: none is. */
  readonly afterMs: number;
}

/** A step's rate may rise so far above what is usual for it for a moment. */
const PEAK_SHARE = 1.1;
/** What a step may save up for a picture that takes more: the lower, the less its segments differ. */
const BUFFER_SECONDS = 0.6;
/** Many small pieces cost more than they gain; more than two are not needed by a picture that is smaller than its source. */
const THREADS_A_STEP = 2;
/** Keyframes come from the source alone. */
const NO_KEYFRAMES_OF_ITS_OWN = ['-g', '100000', '-keyint_min', '100000', '-sc_threshold', '0'];

/**
 * What `ffmpeg` is told to make a ladder: FLV with pictures comes in, each step goes out as FLV on a pipe of its own, with
 * the same times and the same keyframes. It waits for nothing: no look-ahead, no pictures out of order.
 */
export function ladderArgs(steps: readonly LadderStep[]): string[] {
  const input = ['-copyts', '-threads', '1', '-probesize', '32768', '-analyzeduration', '0', '-f', 'flv'];
  const split = `[0:v:0]split=${steps.length}${steps.map((_, index) => `[in${index}]`).join('')}`;
  const graph = [split, ...steps.map((step, index) => `[in${index}]${scaled(step)}[out${index}]`)].join(';');
  return [
    ...['-nostdin', '-v', 'error'],
    ...[...input, '-i', 'pipe:0'],
    ...['-filter_complex_threads', '1', '-filter_complex', graph],
    ...steps.flatMap(({ plan }, index) => outputArgs(plan, index)),
  ];
}

function scaled({ plan: { widthPx, heightPx }, afterMs }: LadderStep): string {
  const rest = afterMs < 0 ? '' : `select=gte(t\\,${((afterMs + 0.5) / 1000).toFixed(4)}),`;
  return `${rest}scale=${widthPx}:${heightPx}:flags=bicubic,setsar=1,format=yuv420p`;
}

const outputArgs = ({ videoBitrateBps }: PlannedRendition, index: number): string[] => [
  ...['-map', `[out${index}]`, '-fps_mode', 'passthrough', '-enc_time_base', '1:1000'],
  ...['-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'zerolatency', '-threads', String(THREADS_A_STEP)],
  ...['-force_key_frames', 'source', '-forced-idr', '1', ...NO_KEYFRAMES_OF_ITS_OWN],
  ...['-b:v', String(videoBitrateBps), '-maxrate', String(Math.round(videoBitrateBps * PEAK_SHARE))],
  ...['-bufsize', String(Math.round(videoBitrateBps * BUFFER_SECONDS))],
  ...['-flush_packets', '1', '-flvflags', 'no_duration_filesize', '-f', 'flv', `pipe:${3 + index}`],
];
