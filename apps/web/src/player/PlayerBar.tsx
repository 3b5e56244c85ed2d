import { useState } from 'react';
import { CAPTION_LOOKS, type CaptionLook } from './caption-look.js';
import type { PlayerEngine } from './engine.js';
import type { PlayerChapter, PlayerState } from './player-state.js';
import { lateWords } from './player-figures.js';
import { Scrubber } from './Scrubber.js';
import { SPEEDS } from './speed.js';
import type { useClearSpeech } from './useClearSpeech.js';
import type { useOtherScreen } from './useOtherScreen.js';
import { togglePictureInPicture } from './video-state.js';
import { say } from '../words/say.js';

const BACK_SECONDS = 10;
/** Going to a chapter may land a frame before it. */
const CHAPTER_SLACK_MS = 500;

interface PlayerBarProps {
  readonly state: PlayerState;
  readonly engine: PlayerEngine | null;
  readonly chapters: readonly PlayerChapter[];
  readonly hasChapterChoice: boolean;
  readonly clearSpeech: ReturnType<typeof useClearSpeech>;
  readonly otherScreen: ReturnType<typeof useOtherScreen>;
  readonly captionLook: CaptionLook;
  readonly onCaptionLook: (look: CaptionLook) => void;
  readonly onFillScreen: () => void;
}

/** The controls: words, large targets, and a scrubber drawn to scale. */
export function PlayerBar({
  state,
  engine,
  chapters,
  hasChapterChoice,
  clearSpeech,
  otherScreen,
  captionLook,
  onCaptionLook,
  onFillScreen,
}: PlayerBarProps) {
  const isPaused = state.status === 'paused' || state.status === 'ended';
  const late = Math.round(state.lateSeconds);
  // Which controls there are comes bit by bit: they show together, with the first picture.
  const [hasBegun, setBegun] = useState(false);
  if (!hasBegun && state.status !== 'loading') setBegun(true);
  return (
    <div className={`player-bar ${hasBegun ? '' : 'invisible'}`}>
      <Scrubber state={state} engine={engine} chapters={chapters} />
      <div className="flex flex-wrap items-center justify-end">
        <button type="button" onClick={() => (isPaused ? void engine?.resume() : engine?.pause())}>
          {say(isPaused ? 'player.play' : 'player.pause')}
        </button>
        <button type="button" onClick={() => engine?.seekTo(state.positionSeconds - BACK_SECONDS)}>
          {say('player.back')}
        </button>
        {late > 0 && (
          <button type="button" className="player-late" onClick={() => engine?.goToNow()}>
            {say('player.youAreLate', { late: lateWords(late) })}
          </button>
        )}
        <span className="flex-1" />
        <button
          type="button"
          aria-pressed={!state.isMuted}
          onClick={() => engine?.sound.setMuted(!state.isMuted)}
        >
          {state.isMuted ? say('player.soundIsOff') : say('player.sound')}
        </button>
        <input
          type="range"
          dir="ltr"
          aria-label={say('player.loudness')}
          className="w-16 max-sm:hidden"
          min={0}
          max={1}
          step={0.05}
          value={state.isMuted ? 0 : state.volume}
          aria-valuetext={
            state.isMuted
              ? say('player.off')
              : say('player.perCent', { value: Math.round(state.volume * 100) })
          }
          onChange={(event) => engine?.sound.setVolume(Number(event.target.value))}
        />
        {clearSpeech && !state.isMuted && (
          <button type="button" aria-pressed={clearSpeech.isOn} onClick={clearSpeech.toggle}>
            {clearSpeech.isOn ? say('player.speechIsClearer') : say('player.clearerSpeech')}
          </button>
        )}
        {state.captions !== 'none' && (
          <button
            type="button"
            aria-pressed={state.captions === 'on'}
            onClick={() => engine?.showCaptions(state.captions === 'off')}
          >
            {state.captions === 'on' ? say('player.captions') : say('player.captionsOff')}
          </button>
        )}
        {state.captions === 'on' && (
          <select
            aria-label={say('player.captionLook')}
            value={captionLook}
            onChange={({ target }) => onCaptionLook(CAPTION_LOOKS.find((look) => look === target.value)!)}
          >
            {CAPTION_LOOKS.map((look) => (
              <option key={look} value={look}>
                {say(`player.captionLook.${look}`)}
              </option>
            ))}
          </select>
        )}
        {hasChapterChoice && chapters.length > 1 && (
          <ChapterChoice state={state} chapters={chapters} onChoose={(atMs) => engine?.seekToDate(atMs)} />
        )}
        {state.kind === 'replay' && <SpeedChoice state={state} engine={engine} />}
        <QualityChoice state={state} engine={engine} />
        {document.pictureInPictureEnabled && (
          <button
            type="button"
            className="max-sm:hidden"
            onClick={() => engine && void togglePictureInPicture(engine.video)}
          >
            {say('player.smallWindow')}
          </button>
        )}
        {otherScreen && (
          <button type="button" aria-pressed={otherScreen.isOn} onClick={otherScreen.choose}>
            {say(otherScreen.isOn ? 'player.onOtherScreen' : 'player.otherScreen')}
          </button>
        )}
        <button type="button" onClick={onFillScreen}>
          {say('player.fillScreen')}
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
      aria-label={say('player.chapters')}
      className="max-w-[11em]"
      value={present}
      onChange={(event) => onChoose(chapters[Number(event.target.value)]!.atMs)}
    >
      {present < 0 && <option value={-1}>{say('player.chapters')}</option>}
      {chapters.map(({ title, atMs }, at) => (
        <option key={atMs} value={at}>
          {title}
        </option>
      ))}
    </select>
  );
}

/** How fast a replay is seen. */
const SpeedChoice = ({ state, engine }: Pick<PlayerBarProps, 'state' | 'engine'>) => (
  <select
    aria-label={say('player.speed')}
    value={state.speed}
    onChange={(event) => engine?.setSpeed(SPEEDS.find((speed) => String(speed) === event.target.value)!)}
  >
    {SPEEDS.map((speed) => (
      <option key={speed} value={speed}>
        {say(`player.speed.${speed}`)}
      </option>
    ))}
  </select>
);

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
      aria-label={say('player.size')}
      className="max-sm:max-w-[10.5em]"
      value={isSoundOnly ? SOUND_ONLY : (chosenHeightPx ?? '')}
      onChange={(event) => choose(event.target.value)}
    >
      <option value="">
        {heightsPx.length > 1 ? say('player.sizeBest') : say('player.pictureAndSound')}
      </option>
      {heightsPx.length > 1 &&
        heightsPx.map((heightPx) => (
          <option key={heightPx} value={heightPx}>
            {sizeWords(heightPx, heightsPx)}
          </option>
        ))}
      {canBeSoundOnly && <option value={SOUND_ONLY}>{say('player.soundOnly')}</option>}
    </select>
  );
}

/** @param heightsPx - of all sizes, the largest first */
function sizeWords(heightPx: number, heightsPx: readonly number[]): string {
  if (heightPx === heightsPx[0]) return say('player.sizeLarge');
  if (heightPx === heightsPx.at(-1)) return say('player.sizeSmall');
  return heightsPx.length > 3 ? say('player.sizeMiddleOf', { lines: heightPx }) : say('player.sizeMiddle');
}
