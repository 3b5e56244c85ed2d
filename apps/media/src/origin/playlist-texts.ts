import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { GrantClass } from '@heliphon/core/access/grant';
import { hasPosition, isTooFarAhead, type LiveWindow } from '@heliphon/core/packaging/live-window';
import { CUTTING } from '@heliphon/core/packaging/packager';
import { type LiveForm, type Rendition, renderLivePlaylist } from '@heliphon/core/packaging/playlist';
import type { Programme } from '../programme/programme.js';
import { SharedWaits } from './shared-waits.js';

const gzipText = promisify(gzip);

export interface PlaylistText {
  readonly plain: Buffer;
  gzipped(): Promise<Buffer>;
}

export type PlaylistAnswer =
  | { readonly status: 200; readonly text: PlaylistText; readonly ended: boolean }
  | { readonly status: 400 | 403 | 503 };

/** Which playlist is asked for: the newest, or one that holds a position; whole, or without what the player has. */
export interface PlaylistWish {
  readonly position: { readonly sequence: number; readonly part: number | null } | null;
  readonly isDelta: boolean;
}

/** A held reload with nothing new is let go after three target durations (RFC 8216bis, 6.2.5.2). */
const HOLD_MS = 3 * CUTTING.targetDurationSeconds * 1000;

export function playlistText(text: string): PlaylistText {
  const plain = Buffer.from(text);
  let gzipped: Promise<Buffer> | null = null;
  return { plain, gzipped: () => (gzipped ??= gzipText(plain, { level: 4 })) };
}

/** The live playlists of one programme: one text per state, class and form, shared by everybody who waits for it. */
export class PlaylistTexts {
  readonly #rendered = new Map<string, { window: LiveWindow; text: PlaylistText }>();
  readonly #waits: SharedWaits;

  constructor(private readonly programme: Programme) {
    this.#waits = new SharedWaits(programme);
  }

  /** Answers at once, or holds the request until the position asked for is there. */
  async answer(
    grantClass: GrantClass,
    rendition: Rendition,
    { position, isDelta }: PlaylistWish,
  ): Promise<PlaylistAnswer> {
    const window = this.programme.windowFor(grantClass);
    if (!window) return { status: 403 };
    if (position) {
      if (isTooFarAhead(window, position.sequence)) return { status: 400 };
      const { sequence, part } = position;
      const isThere = (): boolean => {
        const now = this.programme.windowFor(grantClass);
        return now !== null && hasPosition(now, sequence, part);
      };
      const arrived = await this.#waits.until(`${grantClass} ${sequence} ${part}`, isThere, HOLD_MS);
      if (!arrived) return { status: 503 };
    }
    const now = this.programme.windowFor(grantClass)!;
    return { status: 200, text: this.#render(grantClass, now, { rendition, isDelta }), ended: now.ended };
  }

  /** Holds a request for the part that is announced next until it, or another, has come. */
  async untilPartIs(number: number, grantClass: GrantClass, timeoutMs: number): Promise<void> {
    const isPast = (): boolean => this.programme.windowFor(grantClass)?.nextPart !== number;
    await this.#waits.until(`part ${grantClass} ${number}`, isPast, timeoutMs);
  }

  #render(grantClass: GrantClass, window: LiveWindow, form: LiveForm): PlaylistText {
    const key = `${grantClass} ${form.rendition} ${form.isDelta}`;
    const known = this.#rendered.get(key);
    if (known?.window === window) return known.text;
    const clock = { startsAtUtcMs: this.programme.startsAtUtcMs };
    const text = playlistText(renderLivePlaylist(window, clock, form));
    this.#rendered.set(key, { window, text });
    return text;
  }
}
