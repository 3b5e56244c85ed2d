import { withParameterSets } from '../ingest/annex-b.js';
import { type Frame, isPicture } from '../media/frame.js';
import type { TimelineSignal } from '../media/timeline.js';
import { VIDEO_TIMESCALE, type WholeTracks } from '../media/track.js';
import { writeFragment, type Sample } from './fragment.js';
import { writeInitSegment } from './init-segment.js';
import { type PartRule, partRuleFor, USUAL_PART_RULE } from './part-rule.js';
import { AudioQueue } from './audio-queue.js';

/** The rules by which every programme is cut; those of its parts it chooses for its frame rate. */
export const CUTTING = {
  targetDurationSeconds: 4,
  /** A keyframe ends a segment only after this. */
  segmentMinSeconds: 1.5,
} as const;

/** Frames of one GOP that may wait for their fragment; beyond, a part is closed whatever the clock says. */
const PART_MAX_FRAMES = 120;
/** A picture that stands longer than a part is told in pieces a little shorter than the limit; the later ones carry its sound. */
const STANDING_SHARE = 0.98;

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
  /** Begins with a keyframe. Absent in recordings from before it was noted. */
  readonly independent?: boolean;
  /** A slate stands in it for a picture that was away. Absent where none does. */
  readonly isSlate?: true;
  readonly firstPart: number;
  readonly partCount: number;
}

export type PackagerOutput =
  /** Once in a programme's life, before its first part. */
  | { readonly type: 'part-rule'; readonly rule: PartRule }
  | {
      readonly type: 'init';
      readonly number: number;
      readonly bytes: Uint8Array;
      readonly codecs: string;
      readonly tracks: WholeTracks;
    }
  | {
      readonly type: 'segment-begun';
      readonly sequence: number;
      readonly programmeMs: number;
      readonly initNumber: number;
      readonly discontinuity: boolean;
      readonly isSlate?: true;
    }
  | {
      readonly type: 'part';
      readonly part: Part;
      /** Where it ends, in `VIDEO_TIMESCALE`. */
      readonly endTime: number;
      readonly video: readonly Sample[];
      readonly sound: readonly Sample[];
    }
  | { readonly type: 'segment'; readonly segment: Segment }
  /** The part that was announced next will never come; its number is not used again. */
  | { readonly type: 'hint-withdrawn'; readonly partNumber: number };

/** Where an earlier life of the programme stopped, so that numbers only rise. */
export interface PackagerStart {
  readonly nextSequence: number;
  readonly nextPart: number;
  readonly nextInit: number;
  /** `null` where no part has been cut yet. */
  readonly partRule: PartRule | null;
}

export const PROGRAMME_BEGINNING: PackagerStart = {
  nextSequence: 0,
  nextPart: 0,
  nextInit: 0,
  partRule: null,
};

interface Run {
  readonly tracks: WholeTracks;
  readonly isSlate: boolean;
  readonly initNumber: number;
  readonly sound: AudioQueue;
}

interface OpenSegment {
  readonly sequence: number;
  readonly startTime: number;
  readonly firstPart: number;
  readonly discontinuity: boolean;
  /** Of its first part; `null` before that is cut. */
  independent: boolean | null;
  /** Where the part that is being filled begins. */
  partStartTime: number;
  partsTime: number;
  partCount: number;
}

type Timed = Omit<Sample, 'duration'>;

const TICKS_PER_MS = VIDEO_TIMESCALE / 1000;

/** Cuts what a programme's timeline brings into CMAF parts and segments (RFC 8216bis); each of its runs has an init segment. */
export class Packager {
  #nextSequence: number;
  #nextPart: number;
  #nextInit: number;
  #run: Run | null = null;
  #segment: OpenSegment | null = null;
  #pending: Timed | null = null;
  #video: Sample[] = [];
  #outputs: PackagerOutput[] = [];
  #partRule: PartRule | null;

  constructor(start: PackagerStart = PROGRAMME_BEGINNING) {
    this.#partRule = start.partRule;
    this.#nextSequence = start.nextSequence;
    this.#nextPart = start.nextPart;
    this.#nextInit = start.nextInit;
  }

  take(signal: TimelineSignal): PackagerOutput[] {
    switch (signal.type) {
      case 'run-began':
        this.#beginRun(signal);
        break;
      case 'frame':
        if (isPicture(signal.frame)) this.#addPicture(this.#timed(signal.frame));
        else this.#run?.sound.add(signal.frame);
        break;
      case 'run-ended':
        this.#endRun(signal.endTime);
    }
    return this.#flush();
  }

  #beginRun({ tracks, startsAtMs, isSlate }: Extract<TimelineSignal, { type: 'run-began' }>): void {
    const initNumber = this.#nextInit;
    this.#nextInit += 1;
    const sound = new AudioQueue(tracks.audio, startsAtMs);
    this.#run = { tracks, isSlate, initNumber, sound };
    const codecs = [tracks.video.codec, tracks.audio.codec].join(',');
    this.#outputs.push({ type: 'init', number: initNumber, bytes: writeInitSegment(tracks), codecs, tracks });
  }

  #addPicture(next: Timed): void {
    const pending = this.#pending;
    this.#pending = next;
    if (!pending) return this.#openSegment(next.decodeTime, this.#nextSequence > 0);
    this.#video.push({ ...pending, duration: next.decodeTime - pending.decodeTime });
    this.#cut(next);
  }

  #timed({ decodeTime, presentationTime, isKeyframe, data }: Frame): Timed {
    const { video } = this.#run!.tracks;
    return {
      decodeTime,
      compositionOffset: presentationTime - decodeTime,
      isKeyframe,
      data: isKeyframe ? withParameterSets(video.config, data) : data,
    };
  }

  /** Decides, with the next picture at hand, whether part and segment end before it. */
  #cut(next: Timed): void {
    if (!this.#choosePartRule(next.decodeTime)) return;
    this.#closeStandingParts(next.decodeTime);
    const segment = this.#segment!;
    const segmentTime = next.decodeTime - segment.startTime;
    if (next.isKeyframe && segmentTime >= CUTTING.segmentMinSeconds * VIDEO_TIMESCALE) {
      this.#closePart(next.decodeTime);
      this.#closeSegment();
      this.#openSegment(next.decodeTime, false);
      return;
    }
    const partTime = next.decodeTime - segment.partStartTime;
    const frameTime = this.#video.at(-1)?.duration ?? 0;
    const isFull = partTime + frameTime > this.#partRule!.limitSeconds * VIDEO_TIMESCALE;
    if (!isFull && this.#video.length < PART_MAX_FRAMES) return;
    if (this.#video.length === 0) return;
    this.#closePart(next.decodeTime);
    this.#endLongSegment(partTime);
  }

  /** Without a keyframe in time a segment ends at the part boundary nearest the target duration. */
  #endLongSegment(partTime: number): void {
    const { startTime, partStartTime } = this.#segment!;
    if (partStartTime - startTime + partTime / 2 <= CUTTING.targetDurationSeconds * VIDEO_TIMESCALE) return;
    this.#closeSegment();
    this.#openSegment(partStartTime, false);
  }

  /**
   * The first pictures tell the frame rate, and so how long parts are; until then none is cut.
   * @returns whether it is chosen
   */
  #choosePartRule(untilTime: number): boolean {
    if (this.#partRule) return true;
    const partTime = untilTime - this.#segment!.partStartTime;
    const times = this.#video.map(({ duration }) => duration).sort((a, b) => a - b);
    const usualTime = times[times.length >> 1] ?? 0;
    // As many as the usual part holds, but not the keyframe that would end the segment before.
    if (partTime + usualTime <= USUAL_PART_RULE.limitSeconds * VIDEO_TIMESCALE) return false;
    this.#partRule = partRuleFor(usualTime / VIDEO_TIMESCALE);
    this.#outputs.push({ type: 'part-rule', rule: this.#partRule });
    return true;
  }

  /** A picture stands longer than a part may last: parts go on under it with the sound that belongs there. */
  #closeStandingParts(untilTime: number): void {
    const { sound } = this.#run!;
    if (!sound.canFill) return;
    const { targetSeconds, limitSeconds } = this.#partRule!;
    const standingTime = Math.round(limitSeconds * STANDING_SHARE * VIDEO_TIMESCALE);
    const soundTime = Math.ceil(sound.frameSeconds * VIDEO_TIMESCALE);
    while (untilTime - this.#segment!.partStartTime > targetSeconds * VIDEO_TIMESCALE) {
      const { partStartTime } = this.#segment!;
      // What is left has room for a piece of sound: a part of nothing would be none, and its time lost.
      const partTime = Math.min(standingTime, untilTime - partStartTime - soundTime);
      this.#closePart(partStartTime + partTime);
      this.#endLongSegment(partTime);
    }
  }

  #openSegment(startTime: number, discontinuity: boolean): void {
    const run = this.#run!;
    this.#segment = {
      sequence: this.#nextSequence,
      startTime,
      firstPart: this.#nextPart,
      discontinuity,
      independent: null,
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
      ...slateMark(run),
    });
  }

  /** @param isLast - of its run: its sound reaches as far as its picture, or a player would wait for what never comes. */
  #closePart(endTime: number, isLast = false): void {
    const segment = this.#segment!;
    const run = this.#run!;
    const video = this.#video;
    const audio = run.sound.takeBefore(endTime / TICKS_PER_MS, isLast || video.length === 0);
    if (video.length + audio.length === 0) return;
    const number = this.#nextPart;
    this.#nextPart += 1;
    const partTime = endTime - segment.partStartTime;
    const independent = video[0]?.isKeyframe ?? false;
    segment.independent ??= independent;
    segment.partStartTime = endTime;
    segment.partsTime += partTime;
    segment.partCount += 1;
    const part: Part = {
      number,
      segmentSequence: segment.sequence,
      durationSeconds: partTime / VIDEO_TIMESCALE,
      independent,
      bytes: writeFragment({ sequence: number + 1, video, audio }),
    };
    this.#video = [];
    this.#outputs.push({ type: 'part', part, endTime, video, sound: audio });
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
        independent: segment.independent ?? false,
        ...slateMark(this.#run!),
        firstPart: segment.firstPart,
        partCount: segment.partCount,
      },
    });
  }

  /** Closes what is open and withdraws the hint. */
  #endRun(endTime: number): void {
    const pending = this.#pending;
    if (!pending) return;
    const lastTime = endTime - pending.decodeTime;
    this.#video.push({ ...pending, duration: lastTime });
    if (!this.#partRule) {
      this.#partRule = partRuleFor(lastTime / VIDEO_TIMESCALE);
      this.#outputs.push({ type: 'part-rule', rule: this.#partRule });
    }
    this.#closePart(endTime, true);
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

const slateMark = ({ isSlate }: Run): { readonly isSlate?: true } => (isSlate ? { isSlate } : {});
