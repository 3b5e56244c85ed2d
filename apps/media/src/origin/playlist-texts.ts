import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { GrantClass } from '@heliphon/core/access/grant';
import { hasPosition, isTooFarAhead, type LiveWindow } from '@heliphon/core/packaging/live-window';
import { CUTTING } from '@heliphon/core/packaging/packager';
import { renderLivePlaylist } from '@heliphon/core/packaging/playlist';
import type { Programme } from '../programme/programme.js';

const gzipText = promisify(gzip);

export interface PlaylistText {
  readonly plain: Buffer;
  gzipped(): Promise<Buffer>;
}

export type PlaylistAnswer =
  | { readonly status: 200; readonly text: PlaylistText; readonly ended: boolean }
  | { readonly status: 400 | 403 | 503 };

/** A held reload with nothing new is let go after three target durations (RFC 8216bis, 6.2.5.2). */
const HOLD_MS = 3 * CUTTING.targetDurationSeconds * 1000;

export function playlistText(text: string): PlaylistText {
  const plain = Buffer.from(text);
  let gzipped: Promise<Buffer> | null = null;
  return { plain, gzipped: () => (gzipped ??= gzipText(plain, { level: 4 })) };
}

/** The live playlists of one programme: one text per state and class, shared by everybody who waits for it. */
export class PlaylistTexts {
  readonly #rendered = new Map<GrantClass, { window: LiveWindow; text: PlaylistText }>();

  constructor(private readonly programme: Programme) {}

  /** Answers at once, or holds the request until the position asked for is there. */
  async answer(
    grantClass: GrantClass,
    wanted: { readonly sequence: number; readonly part: number | null } | null,
    signal: AbortSignal,
  ): Promise<PlaylistAnswer> {
    const window = this.programme.windowFor(grantClass);
    if (!window) return { status: 403 };
    if (wanted) {
      if (isTooFarAhead(window, wanted.sequence)) return { status: 400 };
      const arrived = await this.#whenHas(grantClass, wanted, signal);
      if (!arrived) return { status: 503 };
    }
    const now = this.programme.windowFor(grantClass)!;
    return { status: 200, text: this.#render(grantClass, now), ended: now.ended };
  }

  #render(grantClass: GrantClass, window: LiveWindow): PlaylistText {
    const known = this.#rendered.get(grantClass);
    if (known?.window === window) return known.text;
    const text = playlistText(renderLivePlaylist(window, { startsAtUtcMs: this.programme.startsAtUtcMs }));
    this.#rendered.set(grantClass, { window, text });
    return text;
  }

  #whenHas(
    grantClass: GrantClass,
    wanted: { readonly sequence: number; readonly part: number | null },
    signal: AbortSignal,
  ): Promise<boolean> {
    const isThere = (): boolean => {
      const window = this.programme.windowFor(grantClass);
      return window !== null && hasPosition(window, wanted.sequence, wanted.part);
    };
    if (isThere()) return Promise.resolve(true);
    return waitFor(this.programme, isThere, HOLD_MS, signal);
  }
}

/** Resolves true once a condition of the programme holds, false after `timeoutMs` or when the caller went. */
export function waitFor(
  programme: Programme,
  holds: () => boolean,
  timeoutMs: number,
  signal: AbortSignal,
): Promise<boolean> {
  return new Promise((resolve) => {
    const finish = (value: boolean): void => {
      clearTimeout(timer);
      stop();
      signal.removeEventListener('abort', aborted);
      resolve(value);
    };
    const aborted = (): void => finish(false);
    const timer = setTimeout(() => finish(false), timeoutMs);
    const stop = programme.onChange(() => holds() && finish(true));
    signal.addEventListener('abort', aborted, { once: true });
  });
}
