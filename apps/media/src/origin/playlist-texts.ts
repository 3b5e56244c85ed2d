import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { GrantClass } from '@heliphon/core/access/grant';
import { hasPosition, isTooFarAhead, type LiveWindow } from '@heliphon/core/packaging/live-window';
import { CUTTING } from '@heliphon/core/packaging/packager';
import {
  type LiveForm,
  ORIGINAL_FOLDER,
  renderLivePlaylist,
  renditionFolder,
  SOUND_FOLDER,
  type TrackSelection,
} from '@heliphon/core/packaging/playlist';
import type { Programme } from '../programme/programme.js';
import type { Rendition } from '../renditions/rendition.js';
import { SharedWaits } from './shared-waits.js';

const gzipText = promisify(gzip);

export interface PlaylistText {
  readonly plain: Buffer;
  /** A promise only until it has been made once. */
  gzipped(): Buffer | Promise<Buffer>;
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
  let gzipped: Buffer | Promise<Buffer> | null = null;
  const zip = async (): Promise<Buffer> => (gzipped = await gzipText(plain, { level: 4 }));
  return { plain, gzipped: () => (gzipped ??= zip()) };
}

/** The live playlists of one rendition: one text per state, class and form, shared by everybody who waits for it. */
export class PlaylistTexts {
  readonly #rendered = new Map<string, { window: LiveWindow; text: PlaylistText }>();
  readonly #waits: SharedWaits;

  /** @param name - of a smaller picture; `null` for the original */
  constructor(
    private readonly programme: Programme,
    private readonly rendition: Rendition,
    private readonly name: string | null,
  ) {
    this.#waits = new SharedWaits(programme);
  }

  /** Answers at once, or holds the request until the position asked for is there. */
  answer(
    grantClass: GrantClass,
    selection: TrackSelection,
    { position, isDelta }: PlaylistWish,
  ): PlaylistAnswer | Promise<PlaylistAnswer> {
    const windowNow = (): LiveWindow | null => this.rendition.windowFor(grantClass);
    const window = windowNow();
    if (!window) return { status: 403 };
    const textOf = (now: LiveWindow): PlaylistAnswer => ({
      status: 200,
      text: this.#render(grantClass, now, { selection, isDelta }),
      ended: now.ended,
    });
    if (!position) return textOf(window);
    const { sequence, part } = position;
    if (isTooFarAhead(window, sequence, part)) return { status: 400 };
    if (hasPosition(window, sequence, part)) return textOf(window);
    const isThere = (): boolean => {
      const now = windowNow();
      return now !== null && hasPosition(now, sequence, part);
    };
    return this.#waits
      .until(`${grantClass} ${sequence} ${part}`, isThere, HOLD_MS)
      .then((arrived) => (arrived ? textOf(windowNow()!) : { status: 503 }));
  }

  /** Holds a request for the part that is announced next until it, or another, has come. */
  async untilPartIs(number: number, grantClass: GrantClass, timeoutMs: number): Promise<void> {
    const isPast = (): boolean => this.rendition.windowFor(grantClass)?.nextPart !== number;
    await this.#waits.until(`part ${grantClass} ${number}`, isPast, timeoutMs);
  }

  #render(
    grantClass: GrantClass,
    window: LiveWindow,
    { selection, isDelta }: Pick<LiveForm, 'selection' | 'isDelta'>,
  ): PlaylistText {
    const key = `${grantClass} ${selection} ${isDelta}`;
    const known = this.#rendered.get(key);
    if (known?.window === window) return known.text;
    const clock = { startsAtUtcMs: this.programme.startsAtUtcMs };
    const folder =
      selection === 'sound'
        ? SOUND_FOLDER
        : this.name === null
          ? ORIGINAL_FOLDER
          : renditionFolder(this.name);
    const others = formsOf(this.programme, grantClass).filter((form) => form.folder !== folder);
    const text = playlistText(renderLivePlaylist(window, clock, { selection, isDelta, folder, others }));
    this.#rendered.set(key, { window, text });
    return text;
  }
}

/** All forms in which a running programme can be played, and how far each has come. */
function formsOf(programme: Programme, grantClass: GrantClass): LiveForm['others'] {
  const { rendition, renditions } = programme;
  const forms = [
    { folder: ORIGINAL_FOLDER, rendition },
    { folder: SOUND_FOLDER, rendition },
    ...renditions.offered.map((offered) => ({
      folder: renditionFolder(offered.name),
      rendition: offered.rendition,
    })),
  ];
  return forms.flatMap((form) => {
    const window = form.rendition.windowFor(grantClass);
    return window ? [{ folder: form.folder, window }] : [];
  });
}
