import { type RefObject, useEffect, useRef, useState } from 'react';
import { canPlayQuick, QuickPicture, type QuickState, UNSUPPORTED } from './quick-picture.js';

const NOTHING_YET: QuickState = { status: 'waiting', dateMs: null };
const AGAIN_MS = 1000;

/** A quick picture for a video element; dials again when its line breaks, and ends with its component. */
export function useQuickPicture(
  address: string,
  onLost: () => void,
): { readonly videoRef: RefObject<HTMLVideoElement | null>; readonly state: QuickState } {
  const videoRef = useRef<HTMLVideoElement>(null);
  const [state, setState] = useState(NOTHING_YET);
  const [turn, setTurn] = useState(0);
  const lost = useRef(onLost);
  useEffect(() => {
    lost.current = onLost;
  });
  useEffect(() => {
    if (!canPlayQuick()) return setState(UNSUPPORTED);
    let again: number | undefined;
    const picture = new QuickPicture(videoRef.current!, address, {
      changed: setState,
      lost: () => {
        setState(NOTHING_YET);
        lost.current();
        again = window.setTimeout(() => setTurn((turns) => turns + 1), AGAIN_MS);
      },
    });
    return () => {
      window.clearTimeout(again);
      picture.close();
    };
  }, [address, turn]);
  return { videoRef, state };
}
