/** Where a viewer stopped, in ms since the event went on air, kept on this device alone. */
const KEY = 'heliphon.stopped';
const MOST_KEPT = 50;
/** So near its beginning or its end there is nothing to go back to: a minute, or less of a short film. */
const EDGE_MS = 60_000;
const EDGE_SHARE = 0.1;

type Stopped = Readonly<Record<string, number>>;

function readAll(): Stopped {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return typeof kept === 'object' && kept !== null ? (kept as Stopped) : {};
  } catch {
    return {}; // nothing kept, or an embed whose storage the browser keeps shut
  }
}

/** @returns `null` where nobody stopped on the way. */
export function readStopped(slug: string): number | null {
  const offsetMs: unknown = readAll()[slug];
  return typeof offsetMs === 'number' && offsetMs > 0 ? offsetMs : null;
}

/** Keeps a place, or lets it go once all has been seen; the latest fifty replays are remembered. */
export function keepStopped(slug: string, offsetMs: number, durationMs: number): void {
  const edgeMs = Math.min(EDGE_MS, durationMs * EDGE_SHARE);
  // Somebody who has just come may still want to go on where they were.
  if (offsetMs <= edgeMs) return;
  const { [slug]: _known, ...others } = readAll();
  const isOnTheWay = offsetMs < durationMs - edgeMs;
  const entries = [...Object.entries(others), ...(isOnTheWay ? [[slug, Math.round(offsetMs)] as const] : [])];
  try {
    localStorage.setItem(KEY, JSON.stringify(Object.fromEntries(entries.slice(-MOST_KEPT))));
  } catch {
    // it is not remembered
  }
}
