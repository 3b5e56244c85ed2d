import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { FlvSource } from '@heliphon/core/ingest/flv-source';
import { FlvStream } from '@heliphon/core/ingest/flv-stream';
import { isPicture } from '@heliphon/core/media/frame';
import { nameOf, type SlateFormat } from '@heliphon/core/media/slate-format';
import type { VideoTrack } from '@heliphon/core/media/track';
import type { Clock } from '../clock.js';
import { type ChildProcesses, outputOf } from '../processes/child-processes.js';

/** One group of pictures of a slate, to be shown over and over. */
export interface Reel {
  readonly name: string;
  readonly track: VideoTrack;
  readonly pictures: readonly ReelPicture[];
  readonly pictureMs: number;
}

export interface ReelPicture {
  readonly isKeyframe: boolean;
  readonly data: Uint8Array;
}

/** Of what a reel is made: a drawn still, or, where that has not come, plain ground. */
export interface ReelOrder {
  readonly still: { readonly id: string; readonly path: string } | null;
  readonly format: SlateFormat;
}

const LENGTH_SECONDS = 2;
/** A reel that could not be made is tried again after this. */
const AGAIN_AFTER_MS = 5000;
const MAKING_TIMEOUT_MS = 20_000;
/** In memory; those on disk are read again. */
const MOST_HELD = 40;
const EXTENSION = '.flv';
const PLAIN = 'plain';
/** The ground of a slate that nothing is drawn on. */
const PLAIN_COLOUR = '0x10161f';

/** Makes the pictures of slates ahead of time, once for each still, size and rate, and keeps them. */
export class SlateReels {
  readonly #held = new Map<string, Reel>();
  readonly #making = new Set<string>();
  #queue = Promise.resolve();
  readonly #failedAtMs = new Map<string, number>();
  #lettingGo = Promise.resolve();

  constructor(
    private readonly folder: string,
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
  ) {}

  /** The reel, where it is ready; where it is not, it is begun. */
  ready(order: ReelOrder): Reel | null {
    const name = reelName(order);
    const held = this.#held.get(name);
    if (held) return held;
    const isSoonAfterFailure =
      this.clock.monotonicMs() - (this.#failedAtMs.get(name) ?? -Infinity) < AGAIN_AFTER_MS;
    if (this.#making.has(name) || isSoonAfterFailure) return null;
    // One after the other: many programmes may open their doors in the same minute.
    this.#queue = this.#queue.then(() => this.#make(name, order)).finally(() => this.#making.delete(name));
    this.#making.add(name);
    return null;
  }

  /** Forgets those of stills that nobody wants any more. @param stillIds - those that are wanted */
  letGo(stillIds: ReadonlySet<string>): void {
    const isWanted = (name: string): boolean => {
      const stillId = name.slice(0, name.lastIndexOf('@'));
      return stillId === PLAIN || stillIds.has(stillId);
    };
    for (const known of [this.#held, this.#failedAtMs])
      for (const name of known.keys()) if (!isWanted(name)) known.delete(name);
    this.#lettingGo = this.#lettingGo.then(async () => {
      const files = await readdir(this.folder).catch(() => []);
      for (const file of files) if (!isWanted(file)) await rm(join(this.folder, file), { force: true });
    });
  }

  /** Waits for those that are being made. */
  async settled(): Promise<void> {
    await Promise.all([this.#queue, this.#lettingGo]);
  }

  async #make(name: string, order: ReelOrder): Promise<void> {
    const path = join(this.folder, `${name}${EXTENSION}`);
    try {
      const kept = await readFile(path).catch(() => null);
      const reel = (kept && reelOf(name, kept, order.format)) ?? (await this.#encode(name, path, order));
      this.#held.set(name, reel);
      if (this.#held.size > MOST_HELD) this.#held.delete(this.#held.keys().next().value!);
    } catch {
      // Tried again when it is next asked for; until then another reel is shown, or the gap remains.
      this.#failedAtMs.set(name, this.clock.monotonicMs());
    }
  }

  async #encode(name: string, path: string, order: ReelOrder): Promise<Reel> {
    const child = this.children.start({
      purpose: 'slate',
      command: 'ffmpeg',
      args: encodingOf(order),
      timeoutMs: MAKING_TIMEOUT_MS,
    });
    const bytes = await outputOf(child, new Uint8Array());
    const reel = bytes && reelOf(name, bytes, order.format);
    if (!reel) throw new Error(`A slate could not be made: ${name}`);
    // A reel that cannot be kept can be shown all the same.
    await mkdir(this.folder, { recursive: true })
      .then(() => writeFile(`${path}.unfinished`, bytes))
      .then(() => rename(`${path}.unfinished`, path))
      .catch(() => undefined);
    return reel;
  }
}

const reelName = ({ still, format }: ReelOrder): string => `${still?.id ?? PLAIN}@${nameOf(format)}`;

/** The still covers the picture; what is written on it stands in its middle and is never cut. */
function encodingOf({ still, format }: ReelOrder): string[] {
  const { widthPx, heightPx, rateFps } = format;
  const size = `${widthPx}:${heightPx}`;
  const from = still
    ? ['-loop', '1', '-framerate', String(rateFps), '-i', still.path]
    : ['-f', 'lavfi', '-i', `color=c=${PLAIN_COLOUR}:s=${widthPx}x${heightPx}:r=${rateFps}`];
  const fit = `scale=${size}:force_original_aspect_ratio=increase,crop=${size},setsar=1,format=yuv420p`;
  const group = ['-g', String(rateFps * LENGTH_SECONDS), '-bf', '0', '-sc_threshold', '0'];
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'stillimage', '-crf', '21', ...group];
  const out = ['-threads', '1', '-f', 'flv', '-flvflags', 'no_duration_filesize', 'pipe:1'];
  const length = ['-t', String(LENGTH_SECONDS)];
  return ['-nostdin', '-v', 'error', ...from, ...length, '-an', '-vf', fit, ...code, ...out];
}

/** `null` for what is no whole reel. */
function reelOf(name: string, flv: Uint8Array, { rateFps }: SlateFormat): Reel | null {
  const source = new FlvSource();
  const pictures: ReelPicture[] = [];
  let track: VideoTrack | null = null;
  for (const { kind, timestampMs, body } of new FlvStream().push(flv)) {
    const signal = kind === 'script' ? null : source.read({ kind, timestampMs, body });
    if (signal?.type === 'video-configured') track = signal.track;
    if (signal?.type === 'frame' && isPicture(signal.frame)) pictures.push(signal.frame);
  }
  const isWhole = pictures[0]?.isKeyframe === true && pictures.length >= rateFps * (LENGTH_SECONDS - 0.5);
  return track && isWhole ? { name, track, pictures, pictureMs: 1000 / rateFps } : null;
}
