const LATEST_MS = 1500;

/** Does something once the page has nothing more urgent to do, at the latest after a moment. Returns its undo. */
export function whenIdle(work: () => void): () => void {
  if (!('requestIdleCallback' in window)) {
    const timer = setTimeout(work, LATEST_MS / 5);
    return () => clearTimeout(timer);
  }
  const handle = requestIdleCallback(work, { timeout: LATEST_MS });
  return () => cancelIdleCallback(handle);
}
