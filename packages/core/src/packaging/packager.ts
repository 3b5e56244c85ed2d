import { writeFragment, type Sample } from './fragment.js';
import { VIDEO_TIMESCALE, writeInitSegment, type Tracks } from './init-segment.js';
import { AAC_FRAME_SAMPLES, SoundLine } from './sound-line.js';

/** The rules by which a programme is cut; constant for its whole life. */
export const CUTTING = {
  targetDurationSeconds: 4,
  partTargetSeconds: 0.35,
  partHoldBackSeconds: 1.05,
  /** A part closes before the frame that would carry it past this. */
  partLimitSeconds: 0.34,
  /** A keyframe ends a segment only after this. */
  segmentMinSeconds: 1.5,
} as const;

/** A step of the encoder's clock beyond this begins a new run behind a discontinuity. */
const CLOCK_STEP_MS = 3000;
/** A step back of up to this is borne: pictures follow one another by a tick until the clock has caught up. */
const CLOCK_SLIP_MS = 500;
/** Frames of one GOP that may wait for their fragment; beyond, a part is closed whatever the clock says. */
const PART_MAX_FRAMES = 120;
/** A picture that stands longer than a part is told in pieces of so long: its sound is carried by the later ones. */
const STANDING_PART_TIME = Math.round(VIDEO_TIMESCALE / 3);

export interface SourceVideoFrame {
  readonly decodeMs: number;
  readonly compositionOffsetMs: number;
  readonly isKeyframe: boolean;
  readonly data: Uint8Array;
}
export interface SourceAudioFrame {
  readonly decodeMs: number;
  readonly data: Uint8Array;
}

export interface Part {
  /** Counts through the programme and names the file. */
  readonly number: number;
  readonly segmentSequence: number;
  readonly durationSeconds: number;
  /** Begins with a keyframe. */
  readonly independent: boolean;
  readonly bytes: Uint8Array;
}

export interface Segment {
  readonly sequence: number;
  /** Where it begins on the programme's own time. */
  readonly programmeMs: number;
  readonly durationSeconds: number;
  readonly initNumber: number;
  /** The first behind a gap: players need `EXT-X-DISCONTINUITY` before it. */
  readonly discontinuity: boolean;
  readonly firstPart: number;
  readonly partCount: number;
}

export type PackagerOutput =
  | { readonly type: 'init'; readonly number: number; readonly bytes: Uint8Array; readonly codecs: string }
  | {
      readonly type: 'segment-begun';
      readonly sequence: number;
      readonly programmeMs: number;
      readonly initNumber: number;
      readonly discontinuity: boolean;
    }
  | { readonly type: 'part'; readonly part: Part }
  | { readonly type: 'segment'; readonly segment: Segment }
  /** The part that was announced next will never come; its number is not used again. */
  | { readonly type: 'hint-withdrawn'; readonly partNumber: number };

/** Where an earlier life of the programme stopped, so that numbers only rise and time never runs back. */
export interface PackagerStart {
  readonly nextSequence: number;
  readonly nextPart: number;
  readonly nextInit: number;
  readonly endMs: number;
}

export const PROGRAMME_BEGINNING: PackagerStart = { nextSequence: 0, nextPart: 0, nextInit: 0, endMs: 0 };

interface Run {
  readonly tracks: Tracks;
  readonly initNumber: number;
  /** Programme time less source time, in ms. */
  readonly offsetMs: number;
  readonly startsAtMs: number;
  readonly sound: SoundLine | null;
  lastDecodeMs: number;
}

interface OpenSegment {
  readonly sequence: number;
  readonly startTime: number;
  readonly firstPart: number;
  readonly discontinuity: boolean;
  /** Where the part that is being filled begins. */
  partStartTime: number;
  partsTime: number;
  partCount: number;
}

type Timed = Omit<Sample, 'duration'>;

const TICKS_PER_MS = VIDEO_TIMESCALE / 1000;

/**
 * Cuts an encoder's frames into CMAF parts and segments on the programme's time (RFC 8216bis).
 * A run is one unbroken stretch of an encoder; between two runs stands a discontinuity. No clock of its own:
 * `begin` says where on the programme's time a run starts, everything after follows the encoder's own times.
 */
export class Packager {
  #nextSequence: number;
  #nextPart: number;
  #nextInit: number;
  #endMs: number;
  #run: Run | null = null;
  #segment: OpenSegment | null = null;
  #pending: Timed | null = null;
  #video: Sample[] = [];
  #outputs: PackagerOutput[] = [];

  constructor(start: PackagerStart = PROGRAMME_BEGINNING) {
    this.#nextSequence = start.nextSequence;
    this.#nextPart = start.nextPart;
    this.#nextInit = start.nextInit;
    this.#endMs = start.endMs;
  }

  get isRunning(): boolean {
    return this.#run !== null;
  }

  /** Programme time of a source time of the present run. */
  programmeMsOf(sourceMs: number): number {
    return sourceMs + (this.#run?.offsetMs ?? 0);
  }

  /** True when the present run has exactly these tracks, or their picture with other sound. */
  continues(tracks: Tracks): boolean {
    return this.#run !== null && this.#run.tracks.video === tracks.video;
  }

  /**
   * Begins a run with its first keyframe. Ends the one before.
   * @param atMs - where on the programme's time it should stand; moved on where the last run reached further.
   */
  begin(tracks: Tracks, keyframe: SourceVideoFrame, atMs: number): PackagerOutput[] {
    this.#endRun();
    this.#beginRun(tracks, Math.max(atMs, keyframe.compositionOffsetMs), keyframe);
    this.#pending = this.#timed(keyframe);
    this.#openSegment(this.#pending.decodeTime, this.#nextSequence > 0);
    return this.#flush();
  }

  /** Begins a run of sound alone with its first frame, on the same terms. */
  beginSound(
    tracks: Tracks & { readonly video: null },
    frame: SourceAudioFrame,
    atMs: number,
  ): PackagerOutput[] {
    this.#endRun();
    const run = this.#beginRun(tracks, atMs, { decodeMs: frame.decodeMs, compositionOffsetMs: 0 });
    this.#openSegment(Math.round(run.startsAtMs * TICKS_PER_MS), this.#nextSequence > 0);
    return [...this.#flush(), ...this.#addSound(run, frame)];
  }

  /** Takes a picture of the present run; `'clock-step'` asks the owner to begin anew at the next keyframe. */
  video(frame: SourceVideoFrame): PackagerOutput[] | 'clock-step' {
    const run = this.#run;
    if (!run) return [];
    const stepMs = frame.decodeMs - run.lastDecodeMs;
    if (stepMs < -CLOCK_SLIP_MS || stepMs > CLOCK_STEP_MS) return 'clock-step';
    run.lastDecodeMs = Math.max(run.lastDecodeMs, frame.decodeMs);
    const pending = this.#pending!;
    const due = this.#timed(frame);
    // Two pictures with one time stamp, or a clock that slipped back: decode times rise all the same.
    const next = due.decodeTime > pending.decodeTime ? due : { ...due, decodeTime: pending.decodeTime + 1 };
    this.#closePartBefore(pending, next);
    this.#video.push({ ...pending, duration: next.decodeTime - pending.decodeTime });
    this.#pending = next;
    this.#cut(next);
    return this.#flush();
  }

  /** Takes sound of the present run; `'clock-step'` only where there is no picture to follow. */
  audio(frame: SourceAudioFrame): PackagerOutput[] | 'clock-step' {
    const run = this.#run;
    if (!run?.sound) return [];
    if (run.tracks.video) {
      run.sound.add(frame.decodeMs + run.offsetMs, frame.data);
      return [];
    }
    const driftMs = run.sound.driftMs(frame.decodeMs + run.offsetMs);
    return Math.abs(driftMs) > CLOCK_STEP_MS ? 'clock-step' : this.#addSound(run, frame);
  }

  /** The encoder went: closes what is open and withdraws the hint. */
  end(): PackagerOutput[] {
    this.#endRun();
    return this.#flush();
  }

  #beginRun(
    tracks: Tracks,
    atMs: number,
    first: { readonly decodeMs: number; readonly compositionOffsetMs: number },
  ): Run {
    const startsAtMs = Math.max(atMs, this.#endMs);
    const initNumber = this.#nextInit;
    this.#nextInit += 1;
    this.#run = {
      tracks,
      initNumber,
      offsetMs: startsAtMs - (first.decodeMs + first.compositionOffsetMs),
      startsAtMs,
      sound: tracks.audio && new SoundLine(tracks.audio, startsAtMs),
      lastDecodeMs: first.decodeMs,
    };
    const codecs = [tracks.video?.codec, tracks.audio?.codec].filter(Boolean).join(',');
    this.#outputs.push({ type: 'init', number: initNumber, bytes: writeInitSegment(tracks), codecs });
    return this.#run;
  }

  /** Sound alone is cut by itself: every frame can be begun with, so a segment ends with the first part after its least length. */
  #addSound(run: Run, frame: SourceAudioFrame): PackagerOutput[] {
    const sound = run.sound!;
    const segment = this.#segment!;
    sound.add(frame.decodeMs + run.offsetMs, frame.data);
    const rate = sound.track.sampleRateHz;
    const endTime = Math.round((sound.endTime * VIDEO_TIMESCALE) / rate);
    const frameTime = (AAC_FRAME_SAMPLES * VIDEO_TIMESCALE) / rate;
    if (endTime - segment.partStartTime + frameTime <= CUTTING.partLimitSeconds * VIDEO_TIMESCALE) return [];
    this.#closePart(endTime);
    if (endTime - segment.startTime >= CUTTING.segmentMinSeconds * VIDEO_TIMESCALE) {
      this.#closeSegment();
      this.#openSegment(endTime, false);
    }
    return this.#flush();
  }

  #timed(frame: SourceVideoFrame): Timed {
    return {
      decodeTime: Math.round((frame.decodeMs + this.#run!.offsetMs) * TICKS_PER_MS),
      compositionOffset: Math.round(frame.compositionOffsetMs * TICKS_PER_MS),
      isKeyframe: frame.isKeyframe,
      data: frame.data,
    };
  }

  /** Decides, with the next picture at hand, whether part and segment end before it. */
  #cut(next: Timed): void {
    const segment = this.#segment!;
    const segmentTime = next.decodeTime - segment.startTime;
    this.#closeStandingParts(next.decodeTime);
    if (next.isKeyframe && segmentTime >= CUTTING.segmentMinSeconds * VIDEO_TIMESCALE) {
      this.#closePart(next.decodeTime);
      this.#closeSegment();
      this.#openSegment(next.decodeTime, false);
      return;
    }
    const partTime = next.decodeTime - segment.partStartTime;
    const frameTime = this.#video.at(-1)?.duration ?? 0;
    const isFull = partTime + frameTime > CUTTING.partLimitSeconds * VIDEO_TIMESCALE;
    if (!isFull && this.#video.length < PART_MAX_FRAMES) return;
    if (this.#video.length === 0) return;
    this.#closePart(next.decodeTime);
    // Without a keyframe in time a segment ends at the part boundary nearest the target duration.
    if (segmentTime + partTime / 2 > CUTTING.targetDurationSeconds * VIDEO_TIMESCALE) {
      this.#closeSegment();
      this.#openSegment(next.decodeTime, false);
    }
  }

  /** Ends a part early where its next picture would stand beyond the limit. */
  #closePartBefore(picture: Timed, next: Timed): void {
    const wouldLast = next.decodeTime - this.#segment!.partStartTime;
    if (this.#video.length > 0 && wouldLast > CUTTING.partTargetSeconds * VIDEO_TIMESCALE)
      this.#closePart(picture.decodeTime);
  }

  /** A picture stands longer than a part may last: parts go on under it with the sound that belongs there. */
  #closeStandingParts(untilTime: number): void {
    const segment = this.#segment!;
    if (!this.#run!.sound?.canFill) return;
    while (untilTime - segment.partStartTime > CUTTING.partTargetSeconds * VIDEO_TIMESCALE)
      this.#closePart(segment.partStartTime + STANDING_PART_TIME);
  }

  #openSegment(startTime: number, discontinuity: boolean): void {
    const run = this.#run!;
    this.#segment = {
      sequence: this.#nextSequence,
      startTime,
      firstPart: this.#nextPart,
      discontinuity,
      partStartTime: startTime,
      partsTime: 0,
      partCount: 0,
    };
    this.#nextSequence += 1;
    this.#outputs.push({
      type: 'segment-begun',
      sequence: this.#segment.sequence,
      programmeMs: Math.round(startTime / TICKS_PER_MS),
      initNumber: run.initNumber,
      discontinuity,
    });
  }

  /** @param isLast - of its run: its sound reaches as far as its picture, or a player would wait for what never comes. */
  #closePart(endTime: number, isLast = false): void {
    const segment = this.#segment!;
    const run = this.#run!;
    const video = this.#video;
    const audio = run.sound?.takeBefore(endTime / TICKS_PER_MS, isLast || video.length === 0) ?? [];
    if (video.length + audio.length === 0) return;
    const number = this.#nextPart;
    this.#nextPart += 1;
    const partTime = endTime - segment.partStartTime;
    segment.partStartTime = endTime;
    segment.partsTime += partTime;
    segment.partCount += 1;
    this.#endMs = endTime / TICKS_PER_MS;
    const part: Part = {
      number,
      segmentSequence: segment.sequence,
      durationSeconds: partTime / VIDEO_TIMESCALE,
      independent: run.tracks.video ? (video[0]?.isKeyframe ?? false) : true,
      bytes: writeFragment({ sequence: number + 1, video, audio }),
    };
    this.#video = [];
    this.#outputs.push({ type: 'part', part });
  }

  #closeSegment(): void {
    const segment = this.#segment!;
    this.#segment = null;
    if (segment.partCount === 0) return;
    this.#outputs.push({
      type: 'segment',
      segment: {
        sequence: segment.sequence,
        programmeMs: Math.round(segment.startTime / TICKS_PER_MS),
        durationSeconds: segment.partsTime / VIDEO_TIMESCALE,
        initNumber: this.#run!.initNumber,
        discontinuity: segment.discontinuity,
        firstPart: segment.firstPart,
        partCount: segment.partCount,
      },
    });
  }

  #endRun(): void {
    const run = this.#run;
    if (!run) return;
    if (this.#pending) {
      const lastDuration = this.#video.at(-1)?.duration ?? VIDEO_TIMESCALE / 30;
      this.#video.push({ ...this.#pending, duration: lastDuration });
      this.#closePart(this.#pending.decodeTime + lastDuration, true);
    } else if (run.sound) {
      this.#closePart(Math.round((run.sound.endTime * VIDEO_TIMESCALE) / run.sound.track.sampleRateHz));
    }
    this.#closeSegment();
    this.#outputs.push({ type: 'hint-withdrawn', partNumber: this.#nextPart });
    this.#nextPart += 1;
    this.#run = null;
    this.#pending = null;
    this.#video = [];
  }

  #flush(): PackagerOutput[] {
    const outputs = this.#outputs;
    this.#outputs = [];
    return outputs;
  }
}
