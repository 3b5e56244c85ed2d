import { spawn, type ChildProcess } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import { concatBytes } from '@heliphon/core/bytes';
import {
  aacConfigBody,
  aacFrameBody,
  avcConfigBody,
  avcFrameBody,
  flvHeader,
  flvTag,
} from '@heliphon/core/ingest/flv-tags';
import { LOUDNESS_SAMPLE_RATE_HZ } from '@heliphon/core/loudness/k-weighting';
import { LoudnessMeter, type LoudnessReport } from '@heliphon/core/loudness/loudness-meter';
import type { Tracks } from '@heliphon/core/packaging/init-segment';
import type { SourceAudioFrame, SourceVideoFrame } from '@heliphon/core/packaging/packager';
import {
  CHECK_PICTURE,
  checkPicture,
  NO_PICTURE_CHECKED,
  type PictureCheck,
} from '@heliphon/core/signal/picture-check';
import type { Clock } from '../clock.js';
import type { FrameListener } from './source-connection.js';

/** What a decoder that fell behind may hold; beyond it frames are left out, and the figures wait. */
const QUEUE_BYTES = 1_000_000;
/** Decoding a large keyframe is work: one in so long is enough to see black and standing still. */
const LOOK_EVERY_MS = 4000;
const CELLS = CHECK_PICTURE.widthPx * CHECK_PICTURE.heightPx;
const DECODE =
  '-v error -fflags nobuffer -flags low_delay -probesize 4096 -analyzeduration 0 -threads 1 -skip_loop_filter all -f flv -i pipe:0';
const PICTURES = `-map 0:v? -vf scale=${CHECK_PICTURE.widthPx}:${CHECK_PICTURE.heightPx}:flags=area,format=gray -fps_mode passthrough -f rawvideo -flush_packets 1 pipe:3`;
const SOUND = `-map 0:a? -f f32le -ar ${LOUDNESS_SAMPLE_RATE_HZ} -flush_packets 0`;
/** Sound is handed to the decoder so many frames at once: waking it for each costs more than decoding. */
const SOUND_FRAMES_AT_ONCE = 8;

/** Decodes the keyframes and the sound of a source to see and hear what is in them: loudness, silence, black, standing still. */
export class SignalProbe implements FrameListener {
  #tracks: Tracks | null = null;
  #child: ChildProcess | null = null;
  #meter: LoudnessMeter | null = null;
  #picture = NO_PICTURE_CHECKED;
  /** The decoder's time runs from the first frame it was given. */
  #startMs = 0;
  #lookedAtMs = 0;
  /** Tags of sound that wait until there are enough of them. */
  #sound: Uint8Array[] = [];
  #isClosed = false;

  constructor(private readonly clock: Clock) {}

  get loudness(): LoudnessReport | null {
    return this.#meter?.report() ?? null;
  }

  /** Times are monotone. */
  get picture(): PictureCheck {
    return this.#picture;
  }

  videoFrame(frame: SourceVideoFrame, tracks: Tracks): void {
    if (!frame.isKeyframe) return;
    if (this.#tracks !== tracks) this.#begin(tracks, frame.decodeMs);
    else if (Math.abs(frame.decodeMs - this.#lookedAtMs) < LOOK_EVERY_MS - 100) return;
    this.#lookedAtMs = frame.decodeMs;
    this.#write([...this.#sound.splice(0), this.#tag('video', frame.decodeMs, avcFrameBody(frame))]);
  }

  audioFrame(frame: SourceAudioFrame, tracks: Tracks): void {
    if (tracks.video === null && this.#tracks !== tracks) this.#begin(tracks, frame.decodeMs);
    if (this.#tracks !== tracks) return;
    this.#sound.push(this.#tag('audio', frame.decodeMs, aacFrameBody(frame.data)));
    if (this.#sound.length >= SOUND_FRAMES_AT_ONCE) this.#write(this.#sound.splice(0));
  }

  /** The source went, or nobody wants to know any more. */
  sourceWent(): void {
    this.#isClosed = true;
    this.#endChild();
  }

  #begin(tracks: Tracks, startMs: number): void {
    this.#endChild();
    if (this.#isClosed) return;
    this.#tracks = tracks;
    this.#startMs = startMs;
    this.#picture = NO_PICTURE_CHECKED;
    const channels = tracks.audio?.channels === 1 ? 1 : 2;
    this.#meter = tracks.audio && new LoudnessMeter(channels);
    const child = spawn('ffmpeg', [...`${DECODE} ${PICTURES} ${SOUND} -ac ${channels} pipe:1`.split(' ')], {
      stdio: ['pipe', 'pipe', 'ignore', 'pipe'],
    });
    this.#child = child;
    // A decoder that dies takes the figures with it, never the programme; it starts again at the next change.
    child.on('error', () => undefined);
    const [input, sound, , pictures] = child.stdio as unknown as [Writable, Readable, null, Readable];
    input.on('error', () => undefined);
    const meter = this.#meter;
    readInPieces(sound, 4, (bytes) => meter?.push(toFloats(bytes)));
    readInPieces(pictures, CELLS, (bytes) => {
      for (let at = 0; at < bytes.byteLength; at += CELLS)
        this.#picture = checkPicture(this.#picture, bytes.slice(at, at + CELLS), this.clock.monotonicMs());
    });
    input.write(flvHeader({ video: tracks.video !== null, audio: tracks.audio !== null }));
    if (tracks.video) input.write(flvTag('video', 0, avcConfigBody(tracks.video.config)));
    if (tracks.audio) input.write(flvTag('audio', 0, aacConfigBody(tracks.audio.config)));
  }

  #tag(kind: 'video' | 'audio', sourceMs: number, body: Uint8Array): Uint8Array {
    return flvTag(kind, Math.max(0, sourceMs - this.#startMs), body);
  }

  #write(tags: readonly Uint8Array[]): void {
    const stdin: Writable | null | undefined = this.#child?.stdin;
    if (!stdin?.writable || stdin.writableLength > QUEUE_BYTES) return;
    stdin.write(concatBytes(tags));
  }

  #endChild(): void {
    const child = this.#child;
    this.#child = null;
    this.#tracks = null;
    this.#sound = [];
    child?.kill('SIGKILL');
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
