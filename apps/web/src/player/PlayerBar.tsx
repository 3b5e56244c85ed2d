import type { PlayerEngine } from './engine.js';
import type { PlayerChapter, PlayerState } from './player-state.js';
import { PLAYER_TEXT } from '../words/player.js';

const BACK_SECONDS = 10;
/** Going to a chapter may land a frame before it. */
const CHAPTER_SLACK_MS = 500;

interface PlayerBarProps {
  readonly state: PlayerState;
  readonly engine: PlayerEngine | null;
  readonly chapters: readonly PlayerChapter[];
  readonly hasChapterChoice: boolean;
  readonly onFillScreen: () => void;
}

/** The controls: words, large targets, and a scrubber drawn to scale. */
export function PlayerBar({ state, engine, chapters, hasChapterChoice, onFillScreen }: PlayerBarProps) {
  const isPaused = state.status === 'paused' || state.status === 'ended';
  const late = Math.round(state.lateSeconds);
  return (
    <div className="player-bar">
      <Scrubber
        state={state}
        marks={chapters.flatMap(({ atMs }) => engine?.placeOf(atMs) ?? [])}
        onSeek={(seconds) => engine?.seekTo(seconds)}
      />
      <div className="flex flex-wrap items-center">
        <button type="button" onClick={() => (isPaused ? void engine?.resume() : engine?.pause())}>
          {isPaused ? 'Play' : 'Pause'}
        </button>
        <button type="button" onClick={() => engine?.seekTo(state.positionSeconds - BACK_SECONDS)}>
          {PLAYER_TEXT.back10S}
        </button>
        {late > 0 && (
          <button type="button" className="player-late" onClick={() => engine?.goToNow()}>
            {PLAYER_TEXT.youAreLate(lateWords(late))}
          </button>
        )}
        <span className="flex-1" />
        <button type="button" aria-pressed={!state.isMuted} onClick={() => engine?.setMuted(!state.isMuted)}>
          {state.isMuted ? PLAYER_TEXT.soundIsOff : 'Sound'}
        </button>
        <input
          type="range"
          aria-label={PLAYER_TEXT.loudness}
          className="w-24 max-sm:hidden"
          min={0}
          max={1}
          step={0.05}
          value={state.isMuted ? 0 : state.volume}
          aria-valuetext={state.isMuted ? 'off' : PLAYER_TEXT.perCent(Math.round(state.volume * 100))}
          onChange={(event) => engine?.setVolume(Number(event.target.value))}
        />
        {state.captions !== 'none' && (
          <button
            type="button"
            aria-pressed={state.captions === 'on'}
            onClick={() => engine?.showCaptions(state.captions === 'off')}
          >
            {state.captions === 'on' ? 'Captions' : PLAYER_TEXT.captionsAreOff}
          </button>
        )}
        {hasChapterChoice && chapters.length > 1 && (
          <ChapterChoice state={state} chapters={chapters} onChoose={(atMs) => engine?.seekToDate(atMs)} />
        )}
        <QualityChoice state={state} engine={engine} />
        {document.pictureInPictureEnabled && (
          <button
            type="button"
            className="max-sm:hidden"
            onClick={() => void engine?.togglePictureInPicture()}
          >
            {PLAYER_TEXT.smallWindow}
          </button>
        )}
        <button type="button" onClick={onFillScreen}>
          {PLAYER_TEXT.fillTheScreen}
        </button>
      </div>
    </div>
  );
}

interface ChapterChoiceProps {
  readonly state: PlayerState;
  readonly chapters: readonly PlayerChapter[];
  readonly onChoose: (atMs: number) => void;
}

/** What of the order is seen, and the way to the rest of it. */
function ChapterChoice({ state: { dateMs }, chapters, onChoose }: ChapterChoiceProps) {
  const present = chapters.findLastIndex(({ atMs }) => atMs <= (dateMs ?? -Infinity) + CHAPTER_SLACK_MS);
  return (
    <select
      aria-label={PLAYER_TEXT.chapters}
      className="max-w-[11em]"
      value={present}
      onChange={(event) => onChoose(chapters[Number(event.target.value)]!.atMs)}
    >
      {present < 0 && <option value={-1}>{PLAYER_TEXT.chapters}</option>}
      {chapters.map(({ title, atMs }, at) => (
        <option key={atMs} value={at}>
          {title}
        </option>
      ))}
    </select>
  );
}

const SOUND_ONLY = 'sound';

/** Which form of the programme is played, where there is more than one. */
function QualityChoice({ state, engine }: Pick<PlayerBarProps, 'state' | 'engine'>) {
  const { heightsPx, chosenHeightPx, canBeSoundOnly, isSoundOnly } = state;
  if (heightsPx.length < 2 && !canBeSoundOnly) return null;
  const choose = (value: string): void => {
    engine?.chooseSoundOnly(value === SOUND_ONLY);
    if (value !== SOUND_ONLY) engine?.chooseHeight(value === '' ? null : Number(value));
  };
  return (
    <select
      aria-label={PLAYER_TEXT.quality}
      value={isSoundOnly ? SOUND_ONLY : (chosenHeightPx ?? '')}
      onChange={(event) => choose(event.target.value)}
    >
      <option value="">
        {heightsPx.length > 1 ? PLAYER_TEXT.qualityAutomatic : PLAYER_TEXT.pictureAndSound}
      </option>
      {heightsPx.length > 1 &&
        heightsPx.map((heightPx) => (
          <option key={heightPx} value={heightPx}>
            {heightPx}p
          </option>
        ))}
      {canBeSoundOnly && <option value={SOUND_ONLY}>{PLAYER_TEXT.soundOnly}</option>}
    </select>
  );
}

interface ScrubberProps {
  readonly state: PlayerState;
  /** Where chapters begin, in seconds. */
  readonly marks: readonly number[];
  readonly onSeek: (seconds: number) => void;
}

function Scrubber({ state, marks, onSeek }: ScrubberProps) {
  const { startSeconds, endSeconds, positionSeconds } = state;
  const length = Math.max(0.1, endSeconds - startSeconds);
  const share = Math.min(1, Math.max(0, (positionSeconds - startSeconds) / length));
  const words =
    state.kind === 'live'
      ? state.lateSeconds > 0
        ? PLAYER_TEXT.behindNow(lateWords(Math.round(state.lateSeconds)))
        : 'now'
      : `${stamp(positionSeconds - startSeconds)} of ${stamp(length)}`;
  return (
    <div className="flex items-center gap-3 px-3">
      <span className="relative flex flex-1">
        {marks
          .filter((at) => at > startSeconds && at < endSeconds)
          .map((at) => (
            <i
              key={at}
              className="chapter-mark"
              style={{ left: `${((at - startSeconds) / length) * 100}%` }}
            />
          ))}
        <input
          type="range"
          aria-label={PLAYER_TEXT.whereYouAre}
          aria-valuetext={words}
          className="scrubber flex-1"
          style={{ '--share': `${share * 100}%` } as never}
          min={startSeconds}
          max={endSeconds}
          step={0.1}
          value={positionSeconds}
          onChange={(event) => onSeek(Number(event.target.value))}
        />
      </span>
      <span className="figures text-[0.9375rem]" aria-hidden="true">
        {state.kind === 'live'
          ? state.lateSeconds > 0
            ? `−${stamp(state.lateSeconds)}`
            : 'now'
          : `${stamp(positionSeconds - startSeconds)} / ${stamp(length)}`}
      </span>
    </div>
  );
}

const lateWords = (seconds: number): string =>
  seconds < 60 ? `${seconds} s` : `${Math.round(seconds / 60)} min`;

function stamp(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  const two = (value: number): string => String(value).padStart(2, '0');
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
  return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}
