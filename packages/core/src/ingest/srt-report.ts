import type { TransportReport } from '../signal/source-report.js';

/** What the SRT listener's own log says of callers. */
export type SrtNews =
  | { readonly type: 'calling'; readonly address: string }
  | { readonly type: 'wrong-passphrase' }
  | { readonly type: 'accepted' };

/** Reads a line of the listener's log; `null` for what is of no interest. */
export function readSrtLog(line: string): SrtNews | null {
  const [, address] = /request from: \[?([0-9a-fA-F.:]+?)\]?:\d+ to agent/.exec(line) ?? [];
  if (address) return { type: 'calling', address };
  if (/rsp\(REJECT\).*Incorrect passphrase/.test(line)) return { type: 'wrong-passphrase' };
  return line.startsWith('Accepted SRT source connection') ? { type: 'accepted' } : null;
}

interface SrtStatistics {
  readonly link: { readonly rtt: number };
  readonly recv: {
    readonly packets: number;
    readonly packetsDropped: number;
    readonly packetsRetransmitted: number;
  };
}

const isStatistics = (value: unknown): value is SrtStatistics => {
  const { link, recv } = (value ?? {}) as Partial<SrtStatistics>;
  return [link?.rtt, recv?.packets, recv?.packetsDropped, recv?.packetsRetransmitted].every(Number.isFinite);
};

/**
 * Reads one line of the listener's statistics (JSON), which count since the line before: what was given up as too
 * late is lost for good, what was sent once more arrived in time.
 * @returns `null` for a line that is cut short or counts nothing.
 */
export function readSrtStatistics(line: string): TransportReport | null {
  let value: unknown;
  try {
    value = JSON.parse(line);
  } catch {
    return null;
  }
  if (!isStatistics(value)) return null;
  const { packets, packetsDropped, packetsRetransmitted } = value.recv;
  const sent = packets + packetsDropped;
  if (sent === 0) return null;
  return {
    roundTripMs: Math.round(value.link.rtt),
    lostShare: packetsDropped / sent,
    retransmittedShare: packetsRetransmitted / sent,
  };
}

export const SRT_LIMITS = {
  /** Lines that may be open at once on a node, each with a port of its own. */
  slots: 20,
  latencyMs: { least: 80, usual: 200, most: 4000 },
  passphraseLength: { least: 10, most: 79 },
} as const;
