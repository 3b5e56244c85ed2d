import { type PointerEvent, useState } from 'react';
import { timeOfDay } from '../words/public-time.js';
import { say } from '../words/say.js';
import type { PlayerEngine } from './engine.js';
import type { LookedAt } from './minute-picture.js';
import { lateWords, stamp } from './player-figures.js';
import type { PlayerChapter, PlayerState } from './player-state.js';

interface ScrubberProps {
  readonly state: PlayerState;
  readonly engine: PlayerEngine | null;
  readonly chapters: readonly PlayerChapter[];
}

/** Where one is, drawn to scale, with a small picture of the place that is pointed at. */
export function Scrubber({ state, engine, chapters }: ScrubberProps) {
  const { startSeconds, endSeconds, positionSeconds } = state;
  const [lookedAt, setLookedAt] = useState<number | null>(null);
  const place = lookedAt === null ? null : (engine?.lookAt(lookedAt) ?? null);
  const length = Math.max(0.1, endSeconds - startSeconds);
  const shareOf = (seconds: number): number => Math.min(1, Math.max(0, (seconds - startSeconds) / length));
  const marks = chapters.flatMap(({ atMs }) => engine?.placeOf(atMs) ?? []);
  const follow = ({ clientX, currentTarget }: PointerEvent<HTMLInputElement>): void => {
    const { left, width } = currentTarget.getBoundingClientRect();
    setLookedAt(startSeconds + Math.min(1, Math.max(0, (clientX - left) / width)) * length);
  };
  const words =
    state.kind === 'replay'
      ? say('player.placeOf', { place: stamp(positionSeconds - startSeconds), length: stamp(length) })
      : state.lateSeconds > 0
        ? say('player.behindNow', { late: lateWords(Math.round(state.lateSeconds)) })
        : say('player.now');
  return (
    // Time runs from left to right on it, in every language.
    <div dir="ltr" className="flex items-center gap-3 px-3">
      <span className="relative flex flex-1">
        {lookedAt !== null && (
          <Place
            key={place?.minute}
            place={place}
            seconds={lookedAt - startSeconds}
            share={shareOf(lookedAt)}
            isLive={state.kind === 'live'}
            chapters={chapters}
          />
        )}
        {marks
          .filter((at) => at > startSeconds && at < endSeconds)
          .map((at) => (
            <i key={at} className="chapter-mark" style={{ left: `${shareOf(at) * 100}%` }} />
          ))}
        <input
          type="range"
          aria-label={say('player.whereYouAre')}
          aria-valuetext={words}
          className="scrubber flex-1"
          style={{ '--share': `${shareOf(positionSeconds) * 100}%` } as never}
          min={startSeconds}
          max={endSeconds}
          step={0.1}
          value={positionSeconds}
          onChange={(event) => engine?.seekTo(Number(event.target.value))}
          onPointerMove={follow}
          onPointerLeave={() => setLookedAt(null)}
          onPointerUp={({ pointerType }) => pointerType !== 'mouse' && setLookedAt(null)}
          onPointerCancel={() => setLookedAt(null)}
        />
      </span>
      <span className="figures text-[0.9375rem]" aria-hidden="true">
        {state.kind === 'replay'
          ? `${stamp(positionSeconds - startSeconds)} / ${stamp(length)}`
          : state.lateSeconds > 0
            ? `−${stamp(state.lateSeconds)}`
            : say('player.now')}
      </span>
    </div>
  );
}

interface PlaceProps {
  readonly place: LookedAt | null;
  /** From the beginning. */
  readonly seconds: number;
  /** Of the whole length, 0 to 1. */
  readonly share: number;
  readonly isLive: boolean;
  readonly chapters: readonly PlayerChapter[];
}

/** A place that is pointed at: its picture where there is one, its chapter, and when it is. Its minute is its key. */
function Place({ place, seconds, share, isLive, chapters }: PlaceProps) {
  const [isThere, setThere] = useState(true);
  const chapter = place && chapters.findLast(({ atMs }) => atMs <= place.dateMs);
  return (
    <span className="looked-at" style={{ '--at': `${share * 100}%` } as never} aria-hidden="true">
      {place && isThere && <img src={place.picture} alt="" onError={() => setThere(false)} />}
      {chapter && <b>{chapter.title}</b>}
      <span className="figures">{isLive && place ? timeOfDay(place.dateMs) : stamp(seconds)}</span>
    </span>
  );
}
