import { type RefObject, useEffect, useRef, useState } from 'react';
import type { ClearSpeech } from './clear-speech.js';

interface ClearSpeechHandle {
  readonly isOn: boolean;
  readonly toggle: () => void;
}

/** @returns `null` where this browser plays by itself, or cannot do it. */
export function useClearSpeech(videoRef: RefObject<HTMLVideoElement | null>): ClearSpeechHandle | null {
  const [isOn, setOn] = useState(false);
  const made = useRef<Promise<ClearSpeech> | null>(null);
  useEffect(
    () => () => {
      void made.current?.then((speech) => speech.close());
      made.current = null;
    },
    [],
  );
  // Without media source extensions the sound is of another site, and stays out of reach.
  if (typeof AudioContext === 'undefined' || typeof MediaSource === 'undefined') return null;
  const toggle = (): void => {
    const video = videoRef.current;
    if (!video) return;
    // Loaded when it is first asked for; once made, the sound goes through it until the player ends.
    made.current ??= import('./clear-speech.js').then((module) => new module.ClearSpeech(video));
    void made.current.then((speech) => speech.set(!isOn)).then(() => setOn(!isOn));
  };
  return { isOn, toggle };
}
