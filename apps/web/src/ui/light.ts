import { useSyncExternalStore } from 'react';

export type Light = 'day' | 'booth';
const KEY = 'heliphon.light';
const listeners = new Set<() => void>();

/** What somebody chose; `null` where nobody did, and each room has its own. */
function chosenLight(): Light | null {
  const value = localStorage.getItem(KEY);
  return value === 'day' || value === 'booth' ? value : null;
}

export function chooseLight(light: Light): void {
  localStorage.setItem(KEY, light);
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** The light of a room: the one that was chosen, else the room's own. */
export function useLight(roomLight: Light): Light {
  return useSyncExternalStore(subscribe, chosenLight) ?? roomLight;
}
