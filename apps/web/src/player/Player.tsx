import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { duration } from '../words/public-time.js';
import { keepCaptionLook, readCaptionLook } from './caption-look.js';
import type { PlayerChapter } from './player-state.js';
import { PlayerBar } from './PlayerBar.js';
import { useClearSpeech } from './useClearSpeech.js';
import { useOtherScreen } from './useOtherScreen.js';
import { type GivenSource, usePlayer } from './usePlayer.js';
import { say } from '../words/say.js';

/** Arrows and the space bar are theirs while one is on them. */
const CONTROLS = [HTMLButtonElement, HTMLInputElement, HTMLSelectElement];
const STEP_SECONDS = 10;
const VOLUME_STEP = 0.1;

interface PlayerProps {
  readonly source: GivenSource;
  readonly title: string;
  readonly posterUrl: string | null;
  /** The encoder is away, as the house tells; `false` also when nobody knows. */
  readonly pictureIsAway: boolean;
  readonly onDenied: () => void;
  readonly chapters: readonly PlayerChapter[];
  /** Nothing beside the picture leads to the chapters: the bar does. */
  readonly hasChapterChoice?: boolean;
  /** Follows the instant that is seen, for what stands beside the picture. */
  readonly onDate?: (dateMs: number | null) => void;
  /** Is given the way to another instant. */
  readonly onReady?: (seekToDate: (dateMs: number) => void) => void;
}

/** The public player: the picture, what is to be said about it, and the controls in a bar under it. */
export function Player({
  source,
  title,
  posterUrl,
  pictureIsAway,
  onDenied,
  chapters,
  hasChapterChoice = false,
  onDate,
  onReady,
}: PlayerProps) {
  const frame = useRef<HTMLDivElement>(null);
  const { videoRef, state, engine } = usePlayer(source, true, onDenied);
  const clearSpeech = useClearSpeech(videoRef);
  const otherScreen = useOtherScreen(videoRef);
  const [captionLook, setCaptionLook] = useState(readCaptionLook);
  const isAway =
    state.kind === 'live' && (pictureIsAway || state.status === 'waiting') && state.status !== 'playing';

  const { dateMs } = state;
  useEffect(() => onDate?.(dateMs), [onDate, dateMs]);
  useEffect(() => {
    if (engine) onReady?.((instantMs) => engine.seekToDate(instantMs));
  }, [onReady, engine]);

  const fillScreen = (): void => {
    if (document.fullscreenElement) void document.exitFullscreen();
    else void frame.current?.requestFullscreen();
  };

  const onKeyDown = (event: KeyboardEvent): void => {
    if (!engine || event.ctrlKey || event.metaKey || event.altKey) return;
    const isOnControl = CONTROLS.some((kind) => event.target instanceof kind);
    const actions: Record<string, () => void> = {
      ArrowLeft: () => engine.seekTo(state.positionSeconds - STEP_SECONDS),
      ArrowRight: () => engine.seekTo(state.positionSeconds + STEP_SECONDS),
      ArrowUp: () => engine.sound.setVolume(state.volume + VOLUME_STEP),
      ArrowDown: () => engine.sound.setVolume(state.volume - VOLUME_STEP),
      ' ': () => (state.status === 'paused' ? void engine.resume() : engine.pause()),
      m: () => engine.sound.setMuted(!state.isMuted),
      f: fillScreen,
      n: () => engine.goToNow(),
    };
    const isArrow = event.key.startsWith('Arrow') || event.key === ' ';
    const action = actions[event.key];
    if (!action || (isOnControl && isArrow)) return;
    event.preventDefault();
    action();
  };

  return (
    <div
      ref={frame}
      role="group"
      aria-label={say('player.name', { title })}
      data-state={state.status}
      data-kind={state.kind}
      data-sound-only={state.isSoundOnly || undefined}
      className="flex flex-col bg-[var(--player)] [&:fullscreen]:justify-center"
      onKeyDown={onKeyDown}
    >
      <div className="relative aspect-video min-h-0 overflow-hidden bg-[var(--player-deep)]">
        <video
          ref={videoRef}
          playsInline
          poster={posterUrl ?? undefined}
          data-captions={captionLook}
          aria-label={title}
          className="h-full w-full object-contain"
          onClick={() => (state.status === 'paused' ? void engine?.resume() : engine?.pause())}
        />
        {state.wantsSound && (
          <button type="button" className="player-call" onClick={() => engine?.turnSoundOn()}>
            {say('player.turnSoundOn')}
          </button>
        )}
        {state.status === 'blocked' && (
          <button type="button" className="player-call" onClick={() => engine?.turnSoundOn()}>
            {say('player.startPicture')}
          </button>
        )}
        {!isAway && state.status === 'loading' && <p className="player-note">{say('player.loading')}</p>}
        {!isAway && state.isSoundOnly && state.status !== 'loading' && (
          <p className="player-note">{say('player.soundOnlyChosen')}</p>
        )}
        {isAway && (
          <p className="player-note">
            <strong>{say('player.willBeBack')}</strong> {say('player.nothingToDo')}
          </p>
        )}
      </div>
      {state.missed && (
        <p role="status" className="player-missed">
          {say('player.missed', { length: duration(state.missed.lengthMs) })}
          {engine && engine.placeOf(state.missed.fromMs) !== null && (
            <button type="button" onClick={() => engine.seekToDate(state.missed!.fromMs)}>
              {say('player.goBack')}
            </button>
          )}
          <button type="button" onClick={() => engine?.goToNow()}>
            {say('player.stayWithNow')}
          </button>
        </p>
      )}
      <PlayerBar
        state={state}
        engine={engine}
        chapters={chapters}
        hasChapterChoice={hasChapterChoice}
        clearSpeech={clearSpeech}
        otherScreen={otherScreen}
        captionLook={captionLook}
        onCaptionLook={(look) => {
          setCaptionLook(look);
          keepCaptionLook(look);
        }}
        onFillScreen={fillScreen}
      />
      <p role="status" className="sr-only">
        {isAway ? say('player.pictureLost') : ''}
      </p>
    </div>
  );
}
