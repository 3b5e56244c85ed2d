import { useEffect, useRef, useSyncExternalStore } from 'react';
import type { Fault } from '@heliphon/core/faults/fault';

const KEPT_AS = 'heliphon.fault-sound';
const TONES_HZ = [660, 495];
const TONE_S = 0.18;
const LOUDNESS = 0.15;

const listeners = new Set<() => void>();
const subscribe = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};
const isWanted = (): boolean => localStorage.getItem(KEPT_AS) === 'on';

/** Whether this desk is told by a sound, which is remembered on this device; quiet unless somebody wants it. */
export function useSoundWish(): [isOn: boolean, set: (isOn: boolean) => void] {
  const isOn = useSyncExternalStore(subscribe, isWanted);
  const set = (wish: boolean): void => {
    localStorage.setItem(KEPT_AS, wish ? 'on' : 'off');
    // Played once when it is switched on, so that people know what to listen for.
    if (wish) play();
    for (const listener of listeners) listener();
  };
  return [isOn, set];
}

/** Sounds two soft tones whenever a fault begins. */
export function useFaultSound(faults: readonly Fault[]): void {
  const known = useRef<ReadonlySet<string>>(new Set());
  useEffect(() => {
    const now = new Set(faults.map(({ kind, subjectId, fromMs }) => `${kind} ${subjectId} ${fromMs}`));
    const isNew = [...now].some((fault) => !known.current.has(fault));
    known.current = now;
    if (isNew && isWanted()) play();
  }, [faults]);
}

function play(): void {
  const context = new AudioContext();
  const gain = context.createGain();
  gain.gain.value = LOUDNESS;
  gain.connect(context.destination);
  TONES_HZ.forEach((frequencyHz, nth) => {
    const tone = context.createOscillator();
    tone.frequency.value = frequencyHz;
    tone.connect(gain);
    tone.start(context.currentTime + nth * TONE_S);
    tone.stop(context.currentTime + (nth + 1) * TONE_S);
    if (nth === TONES_HZ.length - 1) tone.onended = () => void context.close();
  });
}
