import { compositionOffsetMs, decodeMs, type Frame, isPicture } from './frame.js';
import { TrackFiller } from './track-filler.js';
import { type Tracks, VIDEO_TIMESCALE, type WholeTracks } from './track.js';

/** A step of the encoder's clock beyond this begins a new run behind a discontinuity. */
export const CLOCK_STEP_MS = 3000;
/** A step back of up to this is borne: pictures follow one another by a tick until the clock has caught up. */
export const CLOCK_SLIP_MS = 500;
/** How long the only picture of a run is taken to stand. */
const USUAL_PICTURE_TIME = VIDEO_TIMESCALE / 30;
const TICKS_PER_MS = VIDEO_TIMESCALE / 1000;

/** What the timeline has to say, in order. Frames are on the programme's own time. */
export type TimelineSignal =
  /** A keyframe follows. @param startsAtMs - where it is decoded. */
  | {
      readonly type: 'run-began';
      readonly tracks: WholeTracks;
      readonly startsAtMs: number;
      readonly isSlate: boolean;
    }
  | { readonly type: 'frame'; readonly frame: Frame }
  /** @param endTime - where its last picture ends, in `VIDEO_TIMESCALE`. */
  | { readonly type: 'run-ended'; readonly endTime: number };

/** When something comes, on the programme's time, and whether it stands in for a picture that is away. */
interface Arrival {
  readonly atMs: number;
  readonly isSlate: boolean;
}

interface Run {
  readonly tracks: WholeTracks;
  /** Programme time less source time. */
  readonly offsetMs: number;
  lastSourceMs: number;
  /** Of its last picture, in `VIDEO_TIMESCALE`. */
  lastTime: number;
  lastPictureTime: number;
  /** Until when the latest of its pictures is shown. */
  shownUntilTime: number;
  /** The encoder's clock has jumped: nothing is taken until a keyframe begins the next run. */
  hasJumped: boolean;
}

/**
 * One clock for a programme: puts whatever comes on the programme's time, only rising, whole in its tracks. A run is one
 * unbroken stretch of an encoder; between two runs stands a discontinuity. It has no clock of its own: a run stands where
 * its first keyframe came, everything after follows the encoder's own times.
 */
export class Timeline {
  readonly #filler = new TrackFiller();
  #run: Run | null = null;
  #endMs: number;
  /** Until when pictures of earlier runs are shown: where they are out of order, later than the last was decoded. */
  #shownUntilMs = 0;

  /** @param endMs - where the programme's earlier life stopped; nothing is put before it. */
  constructor(endMs = 0) {
    this.#endMs = endMs;
  }

  get isRunning(): boolean {
    return this.#run !== null;
  }

  /** Where the runs so far end, on the programme's time. */
  get endMs(): number {
    return this.#run ? (this.#run.lastTime + this.#run.lastPictureTime) / TICKS_PER_MS : this.#endMs;
  }

  /** Of the run that goes on; `null` while none does. */
  get tracks(): WholeTracks | null {
    return this.#run && !this.#run.hasJumped ? this.#run.tracks : null;
  }

  /**
   * @param atMs - when the frame came, on the programme's time.
   * @param isSlate - it stands in for a picture that is away.
   */
  push(frame: Frame, tracks: Tracks, atMs: number, isSlate = false): TimelineSignal[] {
    const filled = this.#filler.fill(frame, tracks);
    const arrival = { atMs, isSlate };
    return filled.frames.flatMap((piece) =>
      isPicture(piece) ? this.#picture(piece, filled.tracks, arrival) : this.#sound(piece, filled.tracks),
    );
  }

  /** The source went: closes the run. */
  break(): TimelineSignal[] {
    const run = this.#run;
    if (!run) return [];
    const endTime = run.lastTime + run.lastPictureTime;
    this.#run = null;
    this.#endMs = endTime / TICKS_PER_MS;
    this.#shownUntilMs = run.shownUntilTime / TICKS_PER_MS;
    return [{ type: 'run-ended', endTime }];
  }

  #picture(picture: Frame, tracks: WholeTracks, arrival: Arrival): TimelineSignal[] {
    const run = this.#run;
    if (run && !run.hasJumped && continues(run, picture, tracks)) {
      const sourceMs = decodeMs(picture);
      const stepMs = sourceMs - run.lastSourceMs;
      if (stepMs >= -CLOCK_SLIP_MS && stepMs <= CLOCK_STEP_MS) return [this.#placed(run, picture, sourceMs)];
      run.hasJumped = true;
    }
    return picture.isKeyframe ? this.#begin(picture, tracks, arrival) : [];
  }

  /** Two pictures with one time stamp, or a clock that slipped back: decode times rise all the same. */
  #placed(run: Run, picture: Frame, sourceMs: number): TimelineSignal {
    run.lastSourceMs = Math.max(run.lastSourceMs, sourceMs);
    const decodeTime = Math.max(timeOf(sourceMs + run.offsetMs), run.lastTime + 1);
    run.lastPictureTime = decodeTime - run.lastTime;
    run.lastTime = decodeTime;
    return { type: 'frame', frame: this.#shown(run, onProgramme(picture, decodeTime)) };
  }

  #begin(keyframe: Frame, tracks: WholeTracks, { atMs, isSlate }: Arrival): TimelineSignal[] {
    const ended = this.break();
    const offsetMs = compositionOffsetMs(keyframe);
    // It is decoded after what was decoded before, and shown after what was shown.
    const startsAtMs = Math.max(atMs, this.#endMs + offsetMs, this.#shownUntilMs);
    const sourceMs = decodeMs(keyframe);
    const decodeTime = timeOf(startsAtMs - offsetMs);
    const run: Run = {
      tracks,
      offsetMs: startsAtMs - offsetMs - sourceMs,
      lastSourceMs: sourceMs,
      lastTime: decodeTime,
      lastPictureTime: USUAL_PICTURE_TIME,
      shownUntilTime: 0,
      hasJumped: false,
    };
    this.#run = run;
    return [
      ...ended,
      { type: 'run-began', tracks, startsAtMs: decodeTime / TICKS_PER_MS, isSlate },
      { type: 'frame', frame: this.#shown(run, onProgramme(keyframe, decodeTime)) },
    ];
  }

  #shown(run: Run, picture: Frame): Frame {
    run.shownUntilTime = Math.max(run.shownUntilTime, picture.presentationTime + run.lastPictureTime);
    return picture;
  }

  #sound(sound: Frame, tracks: WholeTracks): TimelineSignal[] {
    const run = this.#run;
    if (!run || run.hasJumped || run.tracks !== tracks) return [];
    const timescale = tracks.audio.sampleRateHz;
    const time = Math.round(((decodeMs(sound) + run.offsetMs) * timescale) / 1000);
    return [{ type: 'frame', frame: { ...sound, timescale, decodeTime: time, presentationTime: time } }];
  }
}

/** Other sound waits for the next keyframe; the picture goes on until then. */
const continues = (run: Run, picture: Frame, tracks: WholeTracks): boolean =>
  run.tracks === tracks || (!picture.isKeyframe && run.tracks.video === tracks.video);

const timeOf = (ms: number): number => Math.round(ms * TICKS_PER_MS);

const onProgramme = (picture: Frame, decodeTime: number): Frame => ({
  ...picture,
  timescale: VIDEO_TIMESCALE,
  decodeTime,
  presentationTime: decodeTime + timeOf(compositionOffsetMs(picture)),
});
