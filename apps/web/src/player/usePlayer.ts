import { type RefObject, useEffect, useRef, useState } from 'react';
import { PlayerEngine } from './engine.js';
import { INITIAL_STATE, type PlayerSource, type PlayerState } from './player-state.js';

interface PlayerHandle {
  readonly videoRef: RefObject<HTMLVideoElement | null>;
  readonly state: PlayerState;
  /** `null` until the video element stands. */
  readonly engine: PlayerEngine | null;
}

/** A player for a video element; follows the source it is given, and ends with its component. */
export function usePlayer(
  source: PlayerSource | null,
  withSound: boolean,
  onDenied: () => void,
): PlayerHandle {
  const videoRef = useRef<HTMLVideoElement>(null);
  const [state, setState] = useState(INITIAL_STATE);
  const [engine, setEngine] = useState<PlayerEngine | null>(null);
  const denied = useRef(onDenied);
  useEffect(() => {
    denied.current = onDenied;
  });

  useEffect(() => {
    const made = new PlayerEngine(
      videoRef.current!,
      { changed: setState, denied: () => denied.current() },
      withSound,
    );
    setEngine(made);
    return () => made.close();
  }, [withSound]);

  const kind = source?.kind;
  const hls = source?.hls;
  useEffect(() => {
    if (engine && kind && hls) void engine.play({ kind, hls });
  }, [engine, kind, hls]);

  return { videoRef, state, engine };
}
