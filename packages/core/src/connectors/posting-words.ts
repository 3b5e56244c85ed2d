import { type Audience, narrower } from './connector-facts.js';
import type { PostingText } from './posting-step.js';

/** What an event or a series says at one of its places instead of what it says everywhere; `null`: the same. */
export interface PostingWords {
  readonly title: string | null;
  readonly text: string | null;
  readonly pictureId: string | null;
  readonly audience: Audience | null;
}

export const NO_WORDS: PostingWords = { title: null, text: null, pictureId: null, audience: null };

interface Said {
  readonly title: string;
  readonly description: string;
  readonly startsAtMs: number;
  readonly posterId: string | null;
}

/**
 * What is said of an event at a place.
 * @param words - of the event there, and of its series: the first that has something of its own is followed.
 * @param most - nobody beyond it sees what the account posts
 */
export function postingText(
  { title, description, startsAtMs, posterId }: Said,
  words: readonly PostingWords[],
  most: Audience,
): PostingText {
  const own = <K extends keyof PostingWords>(key: K): PostingWords[K] =>
    words.find((each) => each[key] !== null)?.[key] ?? null;
  return {
    title: own('title') ?? title,
    text: own('text') ?? description,
    startsAtMs,
    pictureId: own('pictureId') ?? posterId,
    audience: narrower(most, own('audience') ?? 'everyone'),
  };
}

/** Words of one event or of one series at a place. */
export interface OwnedWords extends PostingWords {
  readonly eventId: string | null;
  readonly seriesId: string | null;
  readonly destinationId: string;
}

/** What an event says at a place, then what its series says there. */
export const wordsAt = <W extends OwnedWords>(
  words: readonly W[],
  event: { readonly id: string; readonly seriesId: string | null },
  destinationId: string,
): W[] => {
  const there = words.filter((each) => each.destinationId === destinationId);
  const own = there.filter(({ eventId }) => eventId === event.id);
  const ofSeries = there.filter(({ seriesId }) => seriesId !== null && seriesId === event.seriesId);
  return [...own, ...ofSeries];
};
