import { writeFragment, type Sample } from './fragment.js';
import { VIDEO_TIMESCALE, writeInitSegment, type Tracks } from './init-segment.js';

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

/** Sound is counted in samples and set right once it strays this far from the encoder's own times. */
const AUDIO_DRIFT_MS = 60;
const AAC_FRAME_SAMPLES = 1024;
/** A step of the encoder's clock beyond this, or back, begins a new run behind a discontinuity. */
const CLOCK_STEP_MS = 3000;
/** Frames of one GOP that may wait for their fragment; beyond, a part is closed whatever the clock says. */
const PART_MAX_FRAMES = 120;

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
  lastDecodeMs: number;
  /** Next audio sample's decode time in ticks; `null` until the first. */
  audioTime: number | null;
}

interface OpenSegment {
  readonly sequence: number;
  readonly startTime: number;
  readonly firstPart: number;
  readonly discontinuity: boolean;
  partsTime: number;
  partCount: number;
}

type Timed = Omit<Sample, 'duration'>;

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
  #audio: Timed[] = [];
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

  /**
   * Begins a run with its first keyframe. Ends the one before.
   * @param atMs - where on the programme's time it should stand; moved on where the last run reached further.
   */
  begin(tracks: Tracks, keyframe: SourceVideoFrame, atMs: number): PackagerOutput[] {
    this.#endRun();
    const startsAtMs = Math.max(atMs, this.#endMs, keyframe.compositionOffsetMs);
    const number = this.#nextInit;
    this.#nextInit += 1;
    this.#run = {
      tracks,
      initNumber: number,
      offsetMs: startsAtMs - (keyframe.decodeMs + keyframe.compositionOffsetMs),
      startsAtMs,
      lastDecodeMs: keyframe.decodeMs,
      audioTime: null,
    };
    const codecs = [tracks.video.codec, tracks.audio?.codec].filter(Boolean).join(',');
    this.#outputs.push({ type: 'init', number, bytes: writeInitSegment(tracks), codecs });
    this.#pending = this.#timed(keyframe);
    this.#openSegment(this.#pending.decodeTime, this.#nextSequence > 0);
    return this.#flush();
  }

  /** Takes a picture of the present run; `'clock-step'` asks the owner to begin anew at the next keyframe. */
  video(frame: SourceVideoFrame): PackagerOutput[] | 'clock-step' {
    const run = this.#run;
    if (!run) return [];
    const stepMs = frame.decodeMs - run.lastDecodeMs;
    if (stepMs < 0 || stepMs > CLOCK_STEP_MS) return 'clock-step';
    run.lastDecodeMs = frame.decodeMs;
    const next = this.#timed(frame);
    const pending = this.#pending!;
    // Two pictures with one time stamp: the earlier one gets a tick, so that decode times rise.
    this.#video.push({ ...pending, duration: Math.max(1, next.decodeTime - pending.decodeTime) });
    this.#pending =
      next.decodeTime > pending.decodeTime ? next : { ...next, decodeTime: pending.decodeTime + 1 };
    this.#cut(this.#pending);
    return this.#flush();
  }

  /** Takes sound of the present run; what lies before its first picture is dropped. */
  audio(frame: SourceAudioFrame): PackagerOutput[] {
    const run = this.#run;
    const track = run?.tracks.audio;
    if (!run || !track) return [];
    const atMs = frame.decodeMs + run.offsetMs;
    const atTime = Math.round((atMs * track.sampleRateHz) / 1000);
    if (run.audioTime === null) {
      if (atMs < run.startsAtMs) return [];
      run.audioTime = atTime;
    }
    const driftMs = ((atTime - run.audioTime) * 1000) / track.sampleRateHz;
    if (driftMs < -AUDIO_DRIFT_MS) return [];
    if (driftMs > AUDIO_DRIFT_MS) run.audioTime = atTime;
    this.#audio.push({ decodeTime: run.audioTime, compositionOffset: 0, isKeyframe: true, data: frame.data });
    run.audioTime += AAC_FRAME_SAMPLES;
    return [];
  }

  /** The encoder went: closes what is open and withdraws the hint. */
  end(): PackagerOutput[] {
    this.#endRun();
    return this.#flush();
  }

  #timed(frame: SourceVideoFrame): Timed {
    const toTicks = VIDEO_TIMESCALE / 1000;
    return {
      decodeTime: Math.round((frame.decodeMs + this.#run!.offsetMs) * toTicks),
      compositionOffset: Math.round(frame.compositionOffsetMs * toTicks),
      isKeyframe: frame.isKeyframe,
      data: frame.data,
    };
  }

  /** Decides, with the next picture at hand, whether part and segment end before it. */
  #cut(next: Timed): void {
    const segment = this.#segment!;
    const segmentTime = next.decodeTime - segment.startTime;
    if (next.isKeyframe && segmentTime >= CUTTING.segmentMinSeconds * VIDEO_TIMESCALE) {
      this.#closePart(next.decodeTime);
      this.#closeSegment();
      this.#openSegment(next.decodeTime, false);
      return;
    }
    const partTime = next.decodeTime - this.#video[0]!.decodeTime;
    const frameTime = this.#video.at(-1)!.duration;
    const isFull = partTime + frameTime > CUTTING.partLimitSeconds * VIDEO_TIMESCALE;
    if (!isFull && this.#video.length < PART_MAX_FRAMES) return;
    this.#closePart(next.decodeTime);
    // Without a keyframe in time a segment ends at the part boundary nearest the target duration.
    if (segmentTime + partTime / 2 > CUTTING.targetDurationSeconds * VIDEO_TIMESCALE) {
      this.#closeSegment();
      this.#openSegment(next.decodeTime, false);
    }
  }

  #openSegment(startTime: number, discontinuity: boolean): void {
    const run = this.#run!;
    this.#segment = {
      sequence: this.#nextSequence,
      startTime,
      firstPart: this.#nextPart,
      discontinuity,
      partsTime: 0,
      partCount: 0,
    };
    this.#nextSequence += 1;
    this.#outputs.push({
      type: 'segment-begun',
      sequence: this.#segment.sequence,
      programmeMs: Math.round(startTime / 90),
      initNumber: run.initNumber,
      discontinuity,
    });
  }

  #closePart(endTime: number): void {
    const segment = this.#segment!;
    const first = this.#video[0];
    if (!first) return;
    const number = this.#nextPart;
    this.#nextPart += 1;
    const partTime = endTime - first.decodeTime;
    segment.partsTime += partTime;
    segment.partCount += 1;
    this.#endMs = endTime / 90;
    const part: Part = {
      number,
      segmentSequence: segment.sequence,
      durationSeconds: partTime / VIDEO_TIMESCALE,
      independent: first.isKeyframe,
      bytes: writeFragment({
        sequence: number + 1,
        video: this.#video,
        audio: this.#takeAudioBefore(endTime),
      }),
    };
    this.#video = [];
    this.#outputs.push({ type: 'part', part });
  }

  #takeAudioBefore(endTime: number): Sample[] {
    const rate = this.#run!.tracks.audio?.sampleRateHz ?? VIDEO_TIMESCALE;
    const limit = (endTime * rate) / VIDEO_TIMESCALE;
    const taken = this.#audio.filter((sample) => sample.decodeTime < limit);
    this.#audio = this.#audio.slice(taken.length);
    return taken.map((sample, index) => ({
      ...sample,
      duration: (taken[index + 1]?.decodeTime ?? sample.decodeTime + AAC_FRAME_SAMPLES) - sample.decodeTime,
    }));
  }

  #closeSegment(): void {
    const segment = this.#segment!;
    this.#segment = null;
    if (segment.partCount === 0) return;
    this.#outputs.push({
      type: 'segment',
      segment: {
        sequence: segment.sequence,
        programmeMs: Math.round(segment.startTime / 90),
        durationSeconds: segment.partsTime / VIDEO_TIMESCALE,
        initNumber: this.#run!.initNumber,
        discontinuity: segment.discontinuity,
        firstPart: segment.firstPart,
        partCount: segment.partCount,
      },
    });
  }

  #endRun(): void {
    if (!this.#run) return;
    const pending = this.#pending!;
    const lastDuration = this.#video.at(-1)?.duration ?? VIDEO_TIMESCALE / 30;
    this.#video.push({ ...pending, duration: lastDuration });
    this.#closePart(pending.decodeTime + lastDuration);
    this.#closeSegment();
    this.#outputs.push({ type: 'hint-withdrawn', partNumber: this.#nextPart });
    this.#nextPart += 1;
    this.#run = null;
    this.#pending = null;
    this.#audio = [];
  }

  #flush(): PackagerOutput[] {
    const outputs = this.#outputs;
    this.#outputs = [];
    return outputs;
  }
}
