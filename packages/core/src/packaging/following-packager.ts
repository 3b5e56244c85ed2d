import { withParameterSets } from '../ingest/annex-b.js';
import type { Frame } from '../media/frame.js';
import type { VideoTrack, WholeTracks } from '../media/track.js';
import { type Sample, writeFragment } from './fragment.js';
import { writeInitSegment } from './init-segment.js';
import type { PackagerOutput } from './packager.js';

type Cut = PackagerOutput;
type CutPart = Extract<PackagerOutput, { type: 'part' }>;

/** One of the original's runs, as far as its pictures have been encoded. */
interface Run {
  readonly initNumber: number;
  /** `null` before its first picture. */
  track: VideoTrack | null;
  /** Those that are in no part yet, in order. */
  pictures: Frame[];
  /** No more of its pictures come. */
  isEncoded: boolean;
}

/**
 * Cuts an encoding of a programme exactly where its original was cut, so that numbers and times agree over all renditions
 * (RFC 8216bis, 6.2.4). Its sound is the original's. It lags behind: a part comes once its last picture is encoded.
 */
export class FollowingPackager {
  /** What the original has done that is still to be done here. */
  #cuts: Cut[] = [];
  #runs: Run[] = [];
  /** Whether the run that is being cut has a header: without a picture it is passed over. */
  #hasHeader = false;
  #tracks: WholeTracks | null = null;

  /** Hears what the original's packager did, from a run's header on. */
  follow(cut: Cut): PackagerOutput[] {
    this.#cuts.push(cut);
    return this.#goOn();
  }

  /**
   * Takes an encoded picture of a run, in order.
   * @param picture - its decode time that of the picture in the original which it was made of.
   */
  take(initNumber: number, track: VideoTrack, picture: Frame): PackagerOutput[] {
    const run = this.#runOf(initNumber);
    run.track ??= track;
    run.pictures.push(picture);
    return this.#goOn();
  }

  /** No more pictures of a run come. */
  finish(initNumber: number): PackagerOutput[] {
    this.#runOf(initNumber).isEncoded = true;
    return this.#goOn();
  }

  #runOf(initNumber: number): Run {
    const known = this.#runs.find((run) => run.initNumber === initNumber);
    if (known) return known;
    const run: Run = { initNumber, track: null, pictures: [], isEncoded: false };
    this.#runs.push(run);
    return run;
  }

  #goOn(): PackagerOutput[] {
    const outputs: PackagerOutput[] = [];
    while (this.#cuts.length > 0) {
      const output = this.#perform(this.#cuts[0]!);
      if (output === 'wait') break;
      this.#cuts.shift();
      if (output) outputs.push(output);
    }
    return outputs;
  }

  /** `null` for what there is nothing of here. */
  #perform(cut: Cut): PackagerOutput | 'wait' | null {
    switch (cut.type) {
      case 'part-rule':
        return cut;
      case 'init':
        return this.#begin(cut);
      case 'part':
        return this.#hasHeader ? this.#part(cut) : null;
      case 'hint-withdrawn':
        this.#runs.shift();
        return this.#hasHeader ? cut : null;
      default:
        return this.#hasHeader ? cut : null;
    }
  }

  #begin(cut: Extract<Cut, { type: 'init' }>): PackagerOutput | 'wait' | null {
    const { track, isEncoded } = this.#runOf(cut.number);
    if (!track && !isEncoded) return 'wait';
    this.#hasHeader = track !== null;
    if (!track) return null;
    this.#tracks = { ...cut.tracks, video: track };
    const codecs = [track.codec, cut.tracks.audio.codec].join(',');
    return { ...cut, bytes: writeInitSegment(this.#tracks), codecs, tracks: this.#tracks };
  }

  #part(cut: CutPart): PackagerOutput | 'wait' {
    const run = this.#runs[0]!;
    const isThere = run.isEncoded || (run.pictures.at(-1)?.decodeTime ?? -1) >= cut.endTime;
    if (!isThere) return 'wait';
    const count = run.pictures.findIndex(({ decodeTime }) => decodeTime >= cut.endTime);
    const taken = run.pictures.splice(0, count < 0 ? run.pictures.length : count);
    const video = taken.map((picture, index) =>
      this.#sampleOf(picture, (taken[index + 1] ?? run.pictures[0])?.decodeTime ?? cut.endTime),
    );
    const { part, sound } = cut;
    const bytes = writeFragment({ sequence: part.number + 1, video, audio: sound });
    const independent = video[0]?.isKeyframe ?? false;
    return { ...cut, part: { ...part, independent, bytes }, video };
  }

  #sampleOf({ decodeTime, presentationTime, isKeyframe, data }: Frame, untilTime: number): Sample {
    return {
      decodeTime,
      duration: untilTime - decodeTime,
      compositionOffset: presentationTime - decodeTime,
      isKeyframe,
      data: isKeyframe ? withParameterSets(this.#tracks!.video.config, data) : data,
    };
  }
}

/**
 * Gives the pictures that an encoder makes of a run the times of those they were made of. The encoder keeps the order in
 * which they are shown, while the original may not: its keyframes keep their decode times, and the others follow them.
 */
export class PictureTimes {
  /** Of those that have not come back, by the ms that the encoder got them with, in the order they are shown. */
  #sent: { readonly stampMs: number; readonly frame: Frame }[] = [];
  /** How much later than it is decoded a picture is shown. */
  #offsetTime: number | null = null;
  #lastTime = -Infinity;

  /** A picture goes to the encoder. @param stampMs - when it is shown, as the encoder is told. */
  send(stampMs: number, frame: Frame): void {
    this.#offsetTime ??= frame.presentationTime - frame.decodeTime;
    let at = this.#sent.length;
    while (at > 0 && this.#sent[at - 1]!.stampMs > stampMs) at -= 1;
    this.#sent.splice(at, 0, { stampMs, frame });
  }

  /** A picture comes back; `null` for one that was never sent. */
  returned(stampMs: number, { isKeyframe, data }: Pick<Frame, 'isKeyframe' | 'data'>): Frame | null {
    const at = this.#sent.findIndex((sent) => sent.stampMs === stampMs);
    if (at < 0) return null;
    const { frame } = this.#sent[at]!;
    this.#sent.splice(0, at + 1);
    const { presentationTime, decodeTime } = frame;
    const wished = frame.isKeyframe ? decodeTime : presentationTime - this.#offsetTime!;
    this.#lastTime = Math.max(wished, this.#lastTime + 1);
    return { ...frame, isKeyframe, data, decodeTime: this.#lastTime };
  }
}
