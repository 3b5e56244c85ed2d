import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { AUDIENCES, narrower } from '../src/connectors/connector-facts.js';
import { NO_WORDS, postingText, type PostingWords } from '../src/connectors/posting-words.js';

const EVENT = { title: 'Evensong', description: 'By candlelight.', startsAtMs: 1000, posterId: 'poster' };
const words = (over: Partial<PostingWords>): PostingWords => ({ ...NO_WORDS, ...over });

describe('what is said of an event at a place', () => {
  test('is what is said everywhere, unless its event or its series has words of its own there', () => {
    const usual = {
      title: 'Evensong',
      text: 'By candlelight.',
      startsAtMs: 1000,
      pictureId: 'poster',
      audience: 'everyone',
    };
    expect(postingText(EVENT, [], 'everyone')).toEqual(usual);
    const own = words({ title: 'Tonight' });
    const ofSeries = words({ title: 'Every week', text: 'From the quay', pictureId: 'other' });
    expect(postingText(EVENT, [own, ofSeries], 'everyone')).toEqual({
      ...usual,
      title: 'Tonight',
      text: 'From the quay',
      pictureId: 'other',
    });
  });

  test('is seen by no more people than the account lets see it', () => {
    expect(postingText(EVENT, [words({ audience: 'friends' })], 'everyone').audience).toBe('friends');
    expect(postingText(EVENT, [words({ audience: 'everyone' })], 'only-me').audience).toBe('only-me');
    const audience = fc.constantFrom(...AUDIENCES);
    fc.assert(
      fc.property(audience, audience, (one, other) => {
        const both = narrower(one, other);
        expect(both).toBe(narrower(other, one));
        for (const limit of [one, other])
          expect(AUDIENCES.indexOf(both)).toBeLessThanOrEqual(AUDIENCES.indexOf(limit));
      }),
    );
  });
});
