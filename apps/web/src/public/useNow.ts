import { useEffect, useState } from 'react';

/** The server's time, once a second. */
export function useNow(clockOffsetMs: number): number {
  const [nowMs, setNowMs] = useState(() => Date.now() + clockOffsetMs);
  useEffect(() => {
    const tick = (): void => setNowMs(Date.now() + clockOffsetMs);
    tick();
    const timer = window.setInterval(tick, 1000);
    return () => window.clearInterval(timer);
  }, [clockOffsetMs]);
  return nowMs;
}
