import { NO_WORDS, type PostingWords } from '@heliphon/core/connectors/posting-words';
import type { OutletWordsView } from '@heliphon/contracts/postings';
import type { OutletPlace } from '../accounts/outlet-places.js';
import type { Connectors } from '../connectors/connectors.js';
import type { PostingWordsEntity } from '../tables/posting-words.entity.js';

const LONGEST = 5000;

/** @param own - what is said there, where that is something else */
export function outletWordsView(
  { place, outlet, account }: OutletPlace,
  own: PostingWordsEntity | undefined,
  connectors: Connectors,
): OutletWordsView {
  const facts = connectors.get(account.platform)?.facts;
  return {
    destinationId: place.id,
    name: outlet.name,
    platform: connectors.nameOf(account.platform),
    mostAudience: account.audience ?? 'everyone',
    titleLength: facts?.titleLength ?? LONGEST,
    textLength: facts?.textLength ?? LONGEST,
    words: own ? plainWords(own) : NO_WORDS,
  };
}

export const plainWords = ({ title, text, pictureId, audience }: PostingWords): PostingWords => ({
  title,
  text,
  pictureId,
  audience,
});
