import { type RefObject, useEffect, useRef, useState } from 'react';
import { PlayerEngine } from './engine.js';
import { logState } from './player-log.js';
import { INITIAL_STATE, type PlayerSource, type PlayerState } from './player-state.js';

/** What a player is given. */
export interface GivenSource extends PlayerSource {
  /** Smaller pictures are made of it. */
  readonly hasSizes?: boolean;
}

interface PlayerHandle {
  readonly videoRef: RefObject<HTMLVideoElement | null>;
  readonly state: PlayerState;
  /** `null` until the video element stands. */
  readonly engine: PlayerEngine | null;
}

/** A player for a video element; follows the source it is given, and ends with its component. */
export function usePlayer(
  source: GivenSource | null,
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
      {
        changed: (changed) => {
          logState(changed);
          setState(changed);
        },
        denied: () => denied.current(),
      },
      withSound,
    );
    setEngine(made);
    return () => made.close();
  }, [withSound]);

  const kind = source?.kind;
  const hls = source?.hls;
  const main = source?.hasSizes ? source.main : undefined;
  useEffect(() => {
    if (engine && kind && hls) void engine.play({ kind, hls, main });
  }, [engine, kind, hls, main]);

  return { videoRef, state, engine };
}
