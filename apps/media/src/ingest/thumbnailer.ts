import { keyframeToAnnexB } from '@heliphon/core/ingest/annex-b';
import type { Clock } from '../clock.js';
import { type ChildProcesses, outputOf } from '../processes/child-processes.js';
import type { SourceConnection } from './source-connection.js';

export interface Picture {
  readonly jpeg: Buffer;
  readonly takenAtMs: number;
}

/** While somebody looks, a new picture so often. */
const EVERY_MS = 4000;
const LOOKED_AT_MS = 12_000;
const DECODE = {
  purpose: 'thumbnail',
  command: 'ffmpeg',
  args: '-v error -f h264 -i pipe:0 -frames:v 1 -vf scale=320:-2 -q:v 5 -f mjpeg pipe:1'.split(' '),
  timeoutMs: 5000,
} as const;

interface Entry {
  picture: Picture | null;
  connectionId: string | null;
  takenAtMonotonicMs: number;
  lookedAtMs: number;
  busy: boolean;
}

/** Makes small JPEG pictures of sources from their keyframes: after the first, and then only while somebody looks. */
export class Thumbnailer {
  readonly #entries = new Map<string, Entry>();

  constructor(
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
    private readonly connectionOf: (sourceId: string) => SourceConnection | undefined,
  ) {}

  /** The newest picture; notes that somebody looks. */
  look(sourceId: string): Picture | null {
    const entry = this.#entryOf(sourceId);
    entry.lookedAtMs = this.clock.monotonicMs();
    return entry.picture;
  }

  takenAtMs(sourceId: string): number | null {
    return this.#entries.get(sourceId)?.picture?.takenAtMs ?? null;
  }

  /** Takes what is due; called about once a second. */
  async takeDue(connections: readonly SourceConnection[]): Promise<void> {
    const nowMs = this.clock.monotonicMs();
    await Promise.all(
      connections.map(async (connection) => {
        const entry = this.#entryOf(connection.sourceId);
        const isFirst = entry.connectionId !== connection.connectionId;
        const isDue = nowMs - entry.lookedAtMs < LOOKED_AT_MS && nowMs - entry.takenAtMonotonicMs >= EVERY_MS;
        if (!connection.keyframe || entry.busy || !(isFirst || isDue)) return;
        entry.busy = true;
        entry.connectionId = connection.connectionId;
        entry.takenAtMonotonicMs = nowMs;
        try {
          const { frame, avcConfig } = connection.keyframe;
          const jpeg = await outputOf(this.children.start(DECODE), keyframeToAnnexB(avcConfig, frame.data));
          if (jpeg) entry.picture = { jpeg, takenAtMs: this.clock.nowMs() };
        } finally {
          entry.busy = false;
        }
      }),
    );
    for (const sourceId of this.#entries.keys()) {
      if (!this.connectionOf(sourceId)) this.#entries.delete(sourceId);
    }
  }

  #entryOf(sourceId: string): Entry {
    const known = this.#entries.get(sourceId);
    if (known) return known;
    const entry: Entry = {
      picture: null,
      connectionId: null,
      takenAtMonotonicMs: -Infinity,
      lookedAtMs: -Infinity,
      busy: false,
    };
    this.#entries.set(sourceId, entry);
    return entry;
  }
}
