import type { TransportReport } from '../signal/source-report.js';

/** What a line of SRT has counted since it was last asked. */
export interface SrtCounts {
  readonly roundTripMs: number;
  readonly packets: number;
  readonly packetsDropped: number;
  readonly packetsRetransmitted: number;
}

/**
 * What the counts say of a line: what was given up as too late is lost for good, what was sent once more arrived in time.
 * @returns `null` while nothing came
 */
export function reportOfSrt({
  roundTripMs,
  packets,
  packetsDropped,
  packetsRetransmitted,
}: SrtCounts): TransportReport | null {
  const sent = packets + packetsDropped;
  if (!(sent > 0)) return null;
  return {
    roundTripMs: Math.round(roundTripMs),
    lostShare: packetsDropped / sent,
    retransmittedShare: packetsRetransmitted / sent,
  };
}

/** Codecs that are taken, as ffmpeg names them. */
const TAKEN: readonly string[] = ['h264', 'aac'];

/**
 * The first picture or sound in a transport stream that is of a kind we do not take, by what ffmpeg says of its input;
 * `null` where all of it is ours.
 */
export function strangerIn(
  words: string,
): { readonly kind: 'video' | 'audio'; readonly codec: string } | null {
  for (const [, kind, codec] of words.matchAll(/Stream #0:\d+\S*: (Video|Audio): (\w+)/g))
    if (!TAKEN.includes(codec!)) return { kind: kind === 'Audio' ? 'audio' : 'video', codec: codec! };
  return null;
}

export const SRT_LIMITS = {
  /** Lines that may be open at once on a node, each with a port of its own. */
  slots: 20,
  latencyMs: { least: 80, usual: 200, most: 4000 },
  passphraseLength: { least: 10, most: 79 },
} as const;
