import { randomBytes } from 'node:crypto';
import type { Audience } from './consents.js';

/** What a platform does by itself with what is posted. */
export interface Habits {
  /** A posting has to be started before its picture is taken. */
  readonly needsStart: boolean;
  /** It ends when no picture has come for so long. */
  readonly endsWithoutPictureMs: number;
  /** It ends after so long, whatever happens; `null` for never. */
  readonly longestMs: number | null;
}

export type EndedBecause = 'sender' | 'no-picture' | 'too-long';

export type PostingState =
  | { readonly is: 'planned' }
  /** Started, or reached by a picture. */
  | { readonly is: 'open'; readonly sinceMs: number }
  | { readonly is: 'ended'; readonly atMs: number; readonly because: EndedBecause };

export interface PostingWish {
  readonly title: string;
  readonly text: string;
  readonly startsAtMs: number;
  readonly audience: Audience;
}

export interface Posting extends PostingWish {
  readonly id: string;
  readonly outletId: string;
  /** The application's own name for it: another wish by the same name is the same posting. */
  readonly ref: string;
  readonly key: string;
  readonly picture: Buffer | null;
  readonly state: PostingState;
  readonly lastPictureAtMs: number | null;
  readonly views: number;
  readonly comments: readonly Comment[];
}

export interface Comment {
  readonly id: number;
  readonly author: string;
  readonly text: string;
  readonly atMs: number;
}

/** What is posted on a platform. Time is passed in. */
export class Postings {
  readonly #postings = new Map<string, Posting>();
  #comments = 0;

  constructor(private readonly habits: Habits) {}

  /** The latest first. */
  get all(): Posting[] {
    return [...this.#postings.values()].toReversed();
  }

  /** @returns the posting of this reference, made now unless it stands already */
  post(outletId: string, ref: string, wish: PostingWish): Posting {
    const known = this.byRef(outletId, ref);
    if (known) return known;
    return this.#keep({
      ...wish,
      id: randomBytes(6).toString('hex'),
      outletId,
      ref,
      key: randomBytes(15).toString('base64url'),
      picture: null,
      state: { is: 'planned' },
      lastPictureAtMs: null,
      views: 0,
      comments: [],
    });
  }

  get(id: string): Posting | null {
    return this.#postings.get(id) ?? null;
  }

  byRef(outletId: string, ref: string): Posting | null {
    return this.all.find((posting) => posting.outletId === outletId && posting.ref === ref) ?? null;
  }

  byKey(key: string): Posting | null {
    return this.all.find((posting) => posting.key === key) ?? null;
  }

  /** What a picture belongs to that only says which outlet it is for: what is open there, or comes first. */
  nextOf(outletId: string): Posting | null {
    const of = this.all.filter((posting) => posting.outletId === outletId);
    const planned = of.filter(({ state }) => state.is === 'planned');
    const first = planned.toSorted((one, other) => one.startsAtMs - other.startsAtMs)[0];
    return of.find(({ state }) => state.is === 'open') ?? first ?? null;
  }

  change(id: string, change: Partial<PostingWish & Pick<Posting, 'picture'>>): Posting | null {
    const posting = this.get(id);
    return posting && this.#keep({ ...posting, ...change });
  }

  remove(id: string): void {
    this.#postings.delete(id);
  }

  start(id: string, nowMs: number): Posting | null {
    const posting = this.get(id);
    if (posting?.state.is !== 'planned') return posting;
    return this.#keep({ ...posting, state: { is: 'open', sinceMs: nowMs } });
  }

  end(id: string, because: EndedBecause, nowMs: number): Posting | null {
    const posting = this.get(id);
    if (!posting || posting.state.is === 'ended') return posting;
    return this.#keep({ ...posting, state: { is: 'ended', atMs: nowMs, because } });
  }

  /** Somebody wants to send a picture to it. @returns whether it is taken now */
  takesPicture({ id, state }: Posting, nowMs: number): boolean {
    if (state.is !== 'planned') return state.is === 'open';
    return !this.habits.needsStart && this.start(id, nowMs) !== null;
  }

  look(id: string): void {
    const posting = this.get(id);
    if (posting) this.#keep({ ...posting, views: posting.views + 1 });
  }

  comment(id: string, author: string, text: string, nowMs: number): void {
    const posting = this.get(id);
    if (!posting) return;
    this.#comments += 1;
    const comment = { id: this.#comments, author, text, atMs: nowMs };
    this.#keep({ ...posting, comments: [...posting.comments, comment] });
  }

  /**
   * Ends what has gone on for too long, or without a picture.
   * @param isLive - whether its picture comes now
   * @returns those that ended
   */
  tick(nowMs: number, isLive: (posting: Posting) => boolean): Posting[] {
    const ended: Posting[] = [];
    for (const posting of this.all) {
      if (posting.state.is !== 'open') continue;
      const { sinceMs } = posting.state;
      const seen = isLive(posting) ? this.#keep({ ...posting, lastPictureAtMs: nowMs }) : posting;
      const because = this.#endOf(seen, sinceMs, nowMs);
      if (!because) continue;
      this.end(posting.id, because, nowMs);
      ended.push(posting);
    }
    return ended;
  }

  #endOf({ lastPictureAtMs }: Posting, sinceMs: number, nowMs: number): EndedBecause | null {
    const { longestMs, endsWithoutPictureMs } = this.habits;
    if (longestMs !== null && nowMs - sinceMs >= longestMs) return 'too-long';
    return nowMs - (lastPictureAtMs ?? sinceMs) >= endsWithoutPictureMs ? 'no-picture' : null;
  }

  #keep(posting: Posting): Posting {
    this.#postings.set(posting.id, posting);
    return posting;
  }
}
