import { useState } from 'react';
import { useQuickPicture } from '../../player/useQuickPicture.js';
import { useKey } from '../../ui/useKey.js';
import { Button } from '../../ui/Button.js';
import { DESK_TEXT } from '../../words/console/desk.js';
import { Caption } from './Caption.js';

interface QuickMonitorProps {
  /** Of the desk's live playlist. */
  readonly address: string;
  readonly title: string;
  readonly onDenied: () => void;
}

/** The programme picture by picture, as it arrives here: to set a camera by, and to follow the service without delay. */
export function QuickMonitor({ address, title, onDenied }: QuickMonitorProps) {
  const { videoRef, state } = useQuickPicture(address, onDenied);
  const [isMuted, setMuted] = useState(true);
  const listen = (): void => setMuted(!isMuted);
  useKey('l', listen);
  return (
    <figure className="grid gap-1">
      <div
        data-state={state.status}
        className="relative aspect-video w-full overflow-hidden rounded-md border-[3px] border-edge bg-sunk"
      >
        <video
          ref={videoRef}
          playsInline
          muted={isMuted}
          aria-label={DESK_TEXT.quickPictureOf(title)}
          className="h-full w-full object-contain"
        />
        {state.status !== 'playing' && (
          <p role="status" className="absolute inset-x-3 top-3 max-w-[44ch] rounded-md bg-ground p-2 text-sm">
            {state.status === 'unsupported' ? DESK_TEXT.quickIsNotPossible : DESK_TEXT.quickBeginsSoon}
          </p>
        )}
        <span className="absolute right-2 bottom-2">
          <Button aria-pressed={!isMuted} onClick={listen}>
            {isMuted ? 'Listen' : DESK_TEXT.stopListening}
          </Button>
        </span>
      </div>
      <Caption words={DESK_TEXT.quickPicture} dateMs={state.dateMs} />
    </figure>
  );
}
