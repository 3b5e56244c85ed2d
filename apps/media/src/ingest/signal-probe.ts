import type { Readable } from 'node:stream';
import { concatBytes } from '@heliphon/core/bytes';
import { flvHeader, flvTag } from '@heliphon/core/ingest/flv-tags';
import { configBodies, frameBody, stampMs } from '@heliphon/core/ingest/flv-writer';
import { LOUDNESS_SAMPLE_RATE_HZ } from '@heliphon/core/loudness/k-weighting';
import { type HeardBlock, LoudnessMeter, type LoudnessReport } from '@heliphon/core/loudness/loudness-meter';
import { decodeMs, type Frame, isPicture } from '@heliphon/core/media/frame';
import type { Tracks } from '@heliphon/core/media/track';
import {
  CHECK_PICTURE,
  checkPicture,
  NO_PICTURE_CHECKED,
  type PictureCheck,
} from '@heliphon/core/signal/picture-check';
import type { Clock } from '../clock.js';
import type { Child, ChildProcesses } from '../processes/child-processes.js';
import type { FrameListener } from './source-connection.js';

/** What a decoder that fell behind may hold; beyond it frames are left out, and the figures wait. */
const QUEUE_BYTES = 1_000_000;
/** Decoding a large keyframe is work: one in so long is enough to see black and standing still. */
const LOOK_EVERY_MS = 4000;
const CELLS = CHECK_PICTURE.widthPx * CHECK_PICTURE.heightPx;
const DECODE =
  '-v error -fflags nobuffer -flags low_delay -probesize 4096 -analyzeduration 1 -threads 1 -skip_loop_filter all -f flv -i pipe:0';
const PICTURES = `-map 0:v? -vf scale=${CHECK_PICTURE.widthPx}:${CHECK_PICTURE.heightPx}:flags=area,format=gray -fps_mode passthrough -f rawvideo -flush_packets 1 pipe:3`;
const SOUND = `-map 0:a? -f f32le -ar ${LOUDNESS_SAMPLE_RATE_HZ} -flush_packets 0`;
/** Sound is handed to the decoder so many frames at once: waking it for each costs more than decoding. */
const SOUND_FRAMES_AT_ONCE = 24;

/** Decodes the keyframes and the sound of a source to see and hear what is in them: loudness, silence, black, standing still. */
export class SignalProbe implements FrameListener {
  #tracks: Tracks | null = null;
  #child: Child | null = null;
  #meter: LoudnessMeter | null = null;
  #picture = NO_PICTURE_CHECKED;
  /** The decoder's time runs from the first frame it was given. */
  #startMs = 0;
  #lookedAtMs = 0;
  /** Tags of sound that wait until there are enough of them. */
  #sound: Uint8Array[] = [];
  #isClosed = false;

  constructor(
    private readonly clock: Clock,
    private readonly children: ChildProcesses,
    private readonly onHeard: (block: HeardBlock) => void,
  ) {}

  get loudness(): LoudnessReport | null {
    return this.#meter?.report() ?? null;
  }

  /** Times are monotone. */
  get picture(): PictureCheck {
    return this.#picture;
  }

  frame(frame: Frame, tracks: Tracks): void {
    if (isPicture(frame)) this.#see(frame, tracks);
    else this.#hear(frame, tracks);
  }

  /** The source went, or nobody wants to know any more. */
  sourceWent(): void {
    this.#isClosed = true;
    this.#endChild();
  }

  #see(picture: Frame, tracks: Tracks): void {
    if (!picture.isKeyframe) return;
    const ms = decodeMs(picture);
    if (this.#tracks !== tracks) this.#begin(tracks, ms);
    else if (Math.abs(ms - this.#lookedAtMs) < LOOK_EVERY_MS - 100) return;
    this.#lookedAtMs = ms;
    this.#write([...this.#sound.splice(0), this.#tag(picture)]);
  }

  #hear(sound: Frame, tracks: Tracks): void {
    if (tracks.video === null && this.#tracks !== tracks) this.#begin(tracks, decodeMs(sound));
    if (this.#tracks !== tracks) return;
    this.#sound.push(this.#tag(sound));
    if (this.#sound.length >= SOUND_FRAMES_AT_ONCE) this.#write(this.#sound.splice(0));
  }

  #begin(tracks: Tracks, startMs: number): void {
    this.#endChild();
    if (this.#isClosed) return;
    this.#tracks = tracks;
    this.#startMs = startMs;
    this.#picture = NO_PICTURE_CHECKED;
    const channels = tracks.audio?.channels === 1 ? 1 : 2;
    this.#meter = tracks.audio && new LoudnessMeter(channels, this.onHeard);
    // A decoder that dies takes the figures with it, never the programme; it starts again at the next change.
    const child = this.children.start({
      purpose: 'probe',
      command: 'ffmpeg',
      args: `${DECODE} ${PICTURES} ${SOUND} -ac ${channels} pipe:1`.split(' '),
      sidePipes: 1,
    });
    this.#child = child;
    const meter = this.#meter;
    readInPieces(child.stdout, 4, (bytes) => meter?.push(toFloats(bytes)));
    readInPieces(child.sidePipe(), CELLS, (bytes) => {
      for (let at = 0; at < bytes.byteLength; at += CELLS)
        this.#picture = checkPicture(this.#picture, bytes.slice(at, at + CELLS), this.clock.monotonicMs());
    });
    child.stdin.write(flvHeader({ video: tracks.video !== null, audio: tracks.audio !== null }));
    for (const { kind, body } of configBodies(tracks)) child.stdin.write(flvTag(kind, 0, body));
  }

  #tag(frame: Frame): Uint8Array {
    const { kind, body } = frameBody(frame);
    return flvTag(kind, stampMs(frame, this.#startMs), body);
  }

  #write(tags: readonly Uint8Array[]): void {
    const stdin = this.#child?.stdin;
    if (!stdin?.writable || stdin.writableLength > QUEUE_BYTES) return;
    stdin.write(concatBytes(tags));
  }

  #endChild(): void {
    const child = this.#child;
    this.#child = null;
    this.#tracks = null;
    this.#sound = [];
    child?.kill();
  }
}

/** Hands on what comes in whole pieces of `pieceBytes`. */
function readInPieces(stream: Readable, pieceBytes: number, take: (bytes: Uint8Array) => void): void {
  let rest: Buffer = Buffer.alloc(0);
  stream.on('error', () => undefined);
  stream.on('data', (chunk: Buffer) => {
    const all = rest.byteLength > 0 ? Buffer.concat([rest, chunk]) : chunk;
    const whole = all.byteLength - (all.byteLength % pieceBytes);
    rest = all.subarray(whole);
    if (whole > 0) take(all.subarray(0, whole));
  });
}

/** Copies only where a buffer of the pool begins at an odd place. */
function toFloats(bytes: Uint8Array): Float32Array {
  const even = bytes.byteOffset % Float32Array.BYTES_PER_ELEMENT === 0 ? bytes : bytes.slice();
  return new Float32Array(even.buffer, even.byteOffset, even.byteLength / Float32Array.BYTES_PER_ELEMENT);
}
