import { Injectable } from '@nestjs/common';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import type { PostingEntity } from '../tables/posting.entity.js';

type Named = Pick<PostingEntity, 'houseId' | 'id'>;
const placeOf = ({ houseId, id }: Named): SealPlace => ({
  houseId,
  table: 'postings',
  column: 'sealed_ingest',
  id,
});

/** The addresses at which platforms take the pictures of postings in: keys of others. */
@Injectable()
export class PostingSecrets {
  constructor(private readonly secrets: Secrets) {}

  seal(posting: Named, address: string): string {
    return this.secrets.seal(address, placeOf(posting));
  }

  /** `null` while the platform has not said where. */
  addressOf(posting: PostingEntity): string | null {
    return posting.sealedIngest && this.secrets.open(posting.sealedIngest, placeOf(posting));
  }
}
