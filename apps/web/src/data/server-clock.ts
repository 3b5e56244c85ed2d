import { useEffect, useState } from 'react';

/** The server's clock, as last heard: pages never trust their own. */
let offsetMs = 0;

export function heardServerTime(serverNowMs: number): void {
  offsetMs = serverNowMs - Date.now();
}

export const serverNowMs = (): number => Date.now() + offsetMs;

/** The server's time, renewed every `everyMs`. */
export function useServerNow(everyMs = 1000): number {
  const [nowMs, setNowMs] = useState(serverNowMs);
  useEffect(() => {
    const timer = window.setInterval(() => setNowMs(serverNowMs()), everyMs);
    return () => window.clearInterval(timer);
  }, [everyMs]);
  return nowMs;
}
