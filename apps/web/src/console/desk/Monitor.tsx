import type { ReactNode } from 'react';
import { usePlayer } from '../../player/usePlayer.js';
import type { PlayerSource } from '../../player/player-state.js';
import { useKey } from '../../ui/useKey.js';
import { Button } from '../../ui/Button.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { Caption } from './Caption.js';

interface MonitorProps {
  readonly source: PlayerSource;
  readonly title: string;
  /** Framed in marigold while it is on air. */
  readonly isLit: boolean;
  readonly onDenied: () => void;
  /** Beside a larger one: only to look at. */
  readonly isSmall?: boolean;
  /** Stands in its caption. */
  readonly children?: ReactNode;
}

/** The picture as viewers get it, on the desk: silent until somebody wants to hear it. */
export function Monitor({ source, title, isLit, onDenied, isSmall = false, children }: MonitorProps) {
  const { videoRef, state, engine } = usePlayer(source, false, onDenied);
  const listen = (): void => engine?.sound.setMuted(!state.isMuted);
  useKey('l', isSmall ? null : listen);
  return (
    <figure className="grid gap-1">
      <div
        data-state={state.status}
        className={`relative aspect-video w-full shrink-0 overflow-hidden rounded-md border-[3px] bg-sunk ${isLit ? 'border-marigold' : 'border-edge'}`}
      >
        <video
          ref={videoRef}
          playsInline
          muted
          aria-label={DESK_TEXT.programmeOf(title)}
          className="h-full w-full object-contain"
        />
        <span className="absolute right-2 bottom-2 flex gap-2">
          {state.kind === 'replay' && (
            <Button onClick={() => (state.status === 'paused' ? void engine?.resume() : engine?.pause())}>
              {state.status === 'paused' ? 'Play' : 'Pause'}
            </Button>
          )}
          {!isSmall && (
            <Button aria-pressed={!state.isMuted} onClick={listen}>
              {state.isMuted ? 'Listen' : DESK_TEXT.stopListening}
            </Button>
          )}
        </span>
      </div>
      {isLit && (
        <Caption words={DESK_TEXT.whatViewersHave} dateMs={state.dateMs}>
          {children}
        </Caption>
      )}
    </figure>
  );
}
