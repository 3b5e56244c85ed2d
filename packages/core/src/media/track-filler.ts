import { decodeMs, type Frame, isPicture, pictureAt, soundAt } from './frame.js';
import { AAC_FRAME_SAMPLES, aacTrack, silentFrame, USUAL_SOUND } from './silence.js';
import { STILL_PICTURE, STILL_TRACK } from './still-picture.js';
import type { AudioTrack, SoundKind, Tracks, WholeTracks } from './track.js';

/** What a programme takes next, and the tracks it belongs to: the same object for as long as these stay. */
export interface Filled {
  readonly tracks: WholeTracks;
  readonly frames: readonly Frame[];
}

/** The still picture is sent again so often, so that a player that comes in has it. */
const STILL_EVERY_MS = 1000;
/** Beyond this the encoder's clock has jumped, or nothing was filled in for a while. */
const JUMP_MS = 1000;

/**
 * Makes picture and sound of what an encoder sends, so that the tracks of a programme never change: silence where there is
 * no sound, a still where there is no picture. The silence is of the kind that is announced or was there before, so that
 * sound that comes late takes over at once, within the same track.
 */
export class TrackFiller {
  #from: Tracks | null = null;
  #whole: WholeTracks | null = null;
  #nextSilenceMs: number | null = null;
  #nextStillMs = -Infinity;

  fill(frame: Frame, tracks: Tracks): Filled {
    const whole = this.#wholeOf(tracks);
    return {
      tracks: whole,
      frames: isPicture(frame) ? this.#withSilence(frame, tracks, whole) : this.#withStill(frame, tracks),
    };
  }

  #withSilence(picture: Frame, tracks: Tracks, { audio }: WholeTracks): Frame[] {
    if (tracks.audio === null) return [picture, ...this.#silenceUntil(decodeMs(picture), audio)];
    this.#nextSilenceMs = null;
    return [picture];
  }

  #withStill(sound: Frame, tracks: Tracks): Frame[] {
    if (tracks.video !== null) return [sound];
    const ms = decodeMs(sound);
    if (ms < this.#nextStillMs && ms > this.#nextStillMs - 2 * STILL_EVERY_MS) return [sound];
    this.#nextStillMs = ms + STILL_EVERY_MS;
    return [pictureAt(ms, { offsetMs: 0, isKeyframe: true, data: STILL_PICTURE }), sound];
  }

  #wholeOf(tracks: Tracks): WholeTracks {
    if (this.#whole && this.#from === tracks) return this.#whole;
    this.#from = tracks;
    const before = this.#whole;
    const video = tracks.video ?? STILL_TRACK;
    const audio = tracks.audio ?? silenceLike(before?.audio ?? null, tracks.expectedSound ?? null);
    const isAsBefore = before !== null && before.video === video && isSameSound(before.audio, audio);
    this.#whole = isAsBefore ? before : { video, audio };
    return this.#whole;
  }

  #silenceUntil(ms: number, track: AudioTrack): Frame[] {
    const { sampleRateHz } = track;
    const data = silentFrame(track)!;
    const stepMs = (AAC_FRAME_SAMPLES * 1000) / sampleRateHz;
    if (this.#nextSilenceMs === null || Math.abs(ms - this.#nextSilenceMs) > JUMP_MS)
      this.#nextSilenceMs = ms;
    const frames: Frame[] = [];
    for (; this.#nextSilenceMs <= ms; this.#nextSilenceMs += stepMs)
      frames.push(soundAt(Math.round((this.#nextSilenceMs * sampleRateHz) / 1000), data, sampleRateHz));
    return frames;
  }
}

const isSameSound = (a: AudioTrack, b: AudioTrack): boolean =>
  a.codec === b.codec && a.sampleRateHz === b.sampleRateHz && a.channels === b.channels;

function silenceLike(before: AudioTrack | null, expected: SoundKind | null): AudioTrack {
  if (before && silentFrame(before)) return before;
  return (expected && aacTrack(expected)) ?? aacTrack(USUAL_SOUND)!;
}
