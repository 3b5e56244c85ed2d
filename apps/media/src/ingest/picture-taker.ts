import { spawn } from 'node:child_process';
import { setMaxListeners } from 'node:events';
import { keyframeToAnnexB } from '@heliphon/core/ingest/annex-b';
import type { Clock } from '../clock.js';
import type { SourceConnection } from './source-connection.js';

export interface Picture {
  readonly jpeg: Buffer;
  readonly takenAtMs: number;
}

/** While somebody looks, a new picture so often. */
const EVERY_MS = 4000;
const LOOKED_AT_MS = 12_000;
const TIMEOUT_MS = 5000;
const ARGUMENTS = '-v error -f h264 -i pipe:0 -frames:v 1 -vf scale=320:-2 -q:v 5 -f mjpeg pipe:1'.split(' ');

interface Entry {
  picture: Picture | null;
  connectionId: string | null;
  takenAtMonotonicMs: number;
  lookedAtMs: number;
  busy: boolean;
}

/** Makes small JPEG pictures of sources from their keyframes: after the first, and then only while somebody looks. */
export class PictureTaker {
  readonly #entries = new Map<string, Entry>();
  readonly #abort = new AbortController();
  /** However many sources there are, each may have a picture in the making. */
  readonly #signal = this.#abort.signal;

  constructor(
    private readonly clock: Clock,
    private readonly connectionOf: (sourceId: string) => SourceConnection | undefined,
  ) {
    setMaxListeners(0, this.#signal);
  }

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
          const jpeg = await decodeToJpeg(keyframeToAnnexB(avcConfig, frame.data), this.#signal);
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

  close(): void {
    this.#abort.abort();
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

/** Decodes one keyframe; `null` where ffmpeg cannot, or is not there. */
function decodeToJpeg(annexB: Uint8Array, signal: AbortSignal): Promise<Buffer | null> {
  return new Promise((resolve) => {
    const child = spawn('ffmpeg', ARGUMENTS, {
      signal,
      timeout: TIMEOUT_MS,
      stdio: ['pipe', 'pipe', 'ignore'],
    });
    const chunks: Buffer[] = [];
    child.stdout.on('data', (chunk: Buffer) => chunks.push(chunk));
    child.on('error', () => resolve(null));
    child.on('close', (code) => resolve(code === 0 && chunks.length > 0 ? Buffer.concat(chunks) : null));
    child.stdin.on('error', () => undefined); // ffmpeg may stop reading once it has its frame
    child.stdin.end(annexB);
  });
}
