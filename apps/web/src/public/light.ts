import { useSyncExternalStore } from 'react';
import type { ResolvedLook } from '@heliphon/core/appearance/palette';

export type Light = 'day' | 'night';

const dark = matchMedia('(prefers-color-scheme: dark)');
/** The console wants to see it so, whatever this device is set to. */
let forced: Light | null = null;
const listeners = new Set<() => void>();
const tellAll = (): void => listeners.forEach((listener) => listener());

export function forceLight(light: Light): void {
  forced = light;
  tellAll();
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  dark.addEventListener('change', tellAll);
  return () => {
    listeners.delete(listener);
    if (listeners.size === 0) dark.removeEventListener('change', tellAll);
  };
}

/** Whether a page is seen in its own colours or in those for the dark; a house may have it by day only. */
export const useLight = (look: ResolvedLook | undefined): Light => {
  const light = useSyncExternalStore(subscribe, () => forced ?? (dark.matches ? 'night' : 'day'));
  return look?.night ? light : 'day';
};
