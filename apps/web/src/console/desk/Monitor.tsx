import { usePlayer } from '../../player/usePlayer.js';
import type { PlayerSource } from '../../player/player-state.js';
import { Button } from '../../ui/Button.js';
import { DESK_TEXT } from '../../words/console/desk.js';

interface MonitorProps {
  readonly source: PlayerSource;
  readonly title: string;
  /** Framed in marigold while it is on air. */
  readonly isLit: boolean;
  readonly onDenied: () => void;
}

/** The picture as viewers get it, on the desk: silent until somebody wants to hear it. */
export function Monitor({ source, title, isLit, onDenied }: MonitorProps) {
  const { videoRef, state, engine } = usePlayer(source, false, onDenied);
  return (
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
        <Button aria-pressed={!state.isMuted} onClick={() => engine?.setMuted(!state.isMuted)}>
          {state.isMuted ? 'Listen' : DESK_TEXT.stopListening}
        </Button>
      </span>
    </div>
  );
}
