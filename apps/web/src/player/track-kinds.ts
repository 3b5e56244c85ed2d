import type { Fragment } from 'hls.js';

/** What hls.js says of an init segment; its own types leave it open. */
interface ParsedInit {
  readonly frag: Fragment;
  readonly tracks: object;
}

/** Which kinds of tracks (picture, sound) an opened stream has brought so far, by its init segments. */
export class TrackKinds {
  #kinds: string | null = null;
  readonly #known = new Set<string>();

  get hasBoth(): boolean {
    return Boolean(this.#kinds?.includes('audio') && this.#kinds.includes('video'));
  }

  /** True for an init segment that comes after others, and that nobody has looked into yet. */
  mayChangeWith({ sn, relurl }: Fragment): boolean {
    return sn === 'initSegment' && this.#known.size > 0 && !this.#known.has(relurl ?? '');
  }

  /** @param parsed - what hls.js tells of a parsed init segment. @returns the segment where it brings other kinds */
  changedBy(parsed: unknown): Fragment | null {
    const { frag, tracks } = parsed as ParsedInit;
    const before = this.#kinds;
    this.#kinds = Object.keys(tracks).sort().join();
    this.#known.add(frag.relurl ?? '');
    return before !== null && before !== this.#kinds ? frag : null;
  }
}
