import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { Injectable } from '@nestjs/common';
import { type CountryResponse, Reader } from 'mmdb-lib';
import { isInnerAddress } from '@heliphon/core/net/inner-address';

/** Which country an address belongs to, by the registries' own tables (public domain), as they stood when we were built. */
const TABLES = '@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb';

interface Found {
  readonly country_code?: string;
}

/** Knows of addresses in which country they are; keeps none. */
@Injectable()
export class Countries {
  #reader: Promise<Reader<CountryResponse>> | null = null;

  /** @returns ISO 3166-1 alpha-2; `null` where nobody knows, also for addresses of a network of one's own */
  async of(address: string): Promise<string | null> {
    const plain = address.replace(/^::ffff:(?=\d+\.)/i, '');
    if (isInnerAddress(plain)) return null;
    // Read when the first event asks for it: eight megabytes that most houses never need.
    this.#reader ??= readFile(createRequire(import.meta.url).resolve(TABLES)).then(
      (bytes) => new Reader(bytes),
    );
    const found = (await this.#reader).get(plain) as Found | null;
    return found?.country_code ?? null;
  }
}
