/** Where a picture is watched: on our own page, on a website that embeds it, by its host, or in a player of somebody else's. */
export interface ViewersAt {
  /** `null`: our own page; empty: a player that does not say. */
  readonly site: string | null;
  readonly viewers: number;
}

interface Seen {
  readonly atMs: number;
  readonly site: string | null;
}

/** Who watches a programme now: a random value a player sends, and when it was last heard. No address is kept. */
export class ViewersNow {
  readonly #seen = new Map<string, Seen>();
  static readonly windowMs = 15_000;
  /** Players that send no value count as one together. */
  static readonly foreign = '';
  /** Bounds the memory a flood of made-up values can take. */
  static readonly maxTracked = 200_000;
  /** Made-up names of sites are not all listed. */
  static readonly maxSites = 20;

  /**
   * @param viewer - as the player calls itself
   * @param site - the host of the website that embeds it; `null` on our own page
   */
  saw(viewer: string | null, site: string | null, nowMs: number): void {
    const isKnown = viewer !== null && isViewerValue(viewer);
    const key = isKnown ? viewer : ViewersNow.foreign;
    this.#seen.delete(key);
    this.#seen.set(key, { atMs: nowMs, site: isKnown ? siteOf(site) : '' });
    if (this.#seen.size > ViewersNow.maxTracked) this.#seen.delete(this.#seen.keys().next().value!);
  }

  /** How many were heard in the last 15 s. Forgets the others. */
  count(nowMs: number): number {
    // Insertion order is order of time, so the stale ones stand first.
    for (const [key, { atMs }] of this.#seen) {
      if (nowMs - atMs <= ViewersNow.windowMs) break;
      this.#seen.delete(key);
    }
    return this.#seen.size;
  }

  /** The same by where they watch, the most first. */
  bySite(nowMs: number): ViewersAt[] {
    this.count(nowMs);
    const counts = new Map<string | null, number>();
    for (const { site } of this.#seen.values()) counts.set(site, (counts.get(site) ?? 0) + 1);
    return [...counts]
      .map(([site, viewers]) => ({ site, viewers }))
      .toSorted((a, b) => b.viewers - a.viewers)
      .slice(0, ViewersNow.maxSites);
  }
}

const isViewerValue = (value: string): boolean => /^[A-Za-z0-9_-]{8,32}$/.test(value);

/** A host, in small letters; anything else is a player that does not say. */
function siteOf(site: string | null): string | null {
  if (site === null) return null;
  const host = site.toLowerCase();
  return host.length <= 100 && /^[a-z0-9.-]+(:\d+)?$/.test(host) ? host : '';
}
