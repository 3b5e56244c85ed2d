import { Injectable } from '@nestjs/common';
import { compileLanguage } from '@heliphon/core/languages/compile-language';
import type { SpokenLanguage } from '@heliphon/core/languages/words';
import { Database } from '../platform/database.js';
import { AddressEntity, HouseEntity } from '../platform/entities.js';
import { sha256Hex } from '../platform/ids.js';
import { ShortMemory } from '../platform/short-memory.js';
import { LanguageEntity } from '../tables/language.entity.js';
import { SendTokenEntity } from '../tables/send-token.entity.js';
import { SHIPPED_ENGLISH, SHIPPED_LANGUAGES } from './shipped-languages.js';

/** Which language a page or a letter speaks. */
@Injectable()
export class SpokenLanguages {
  readonly #memory = new ShortMemory((houseId: string) => this.ofHouse(houseId));
  /** Of houses' own, as they were kept last. */
  readonly #compiled = new Map<string, { readonly keptAtMs: number; readonly spoken: SpokenLanguage }>();

  constructor(private readonly database: Database) {}

  /** The language of the house that has something at `/watch/SLUG` or `/channel/SLUG`; English where nothing is. */
  async ofAddress(slug: string): Promise<SpokenLanguage> {
    return this.#ofPage(await this.database.installation.findOneBy(AddressEntity, { slug }));
  }

  /** The language of the house that invited a guest by this link. */
  async ofGuestLink(link: string): Promise<SpokenLanguage> {
    const linkSha256Hex = sha256Hex(link);
    return this.#ofPage(await this.database.installation.findOneBy(SendTokenEntity, { linkSha256Hex }));
  }

  async ofHouse(houseId: string): Promise<SpokenLanguage> {
    const manager = this.database.installation;
    const house = await manager.findOneBy(HouseEntity, { id: houseId });
    const tag = house?.language ?? SHIPPED_ENGLISH.tag;
    const own = await manager.findOneBy(LanguageEntity, { houseId, tag });
    if (own) return this.#own(own);
    return (SHIPPED_LANGUAGES.find((known) => known.tag === tag) ?? SHIPPED_ENGLISH).spoken;
  }

  #ofPage(row: { readonly houseId: string } | null): Promise<SpokenLanguage> | SpokenLanguage {
    return row ? this.#memory.get(row.houseId) : SHIPPED_ENGLISH.spoken;
  }

  #own({ id, keptAtMs, tag, words }: LanguageEntity): SpokenLanguage {
    const known = this.#compiled.get(id);
    if (known?.keptAtMs === keptAtMs) return known.spoken;
    const spoken = compileLanguage(tag, words);
    this.#compiled.set(id, { keptAtMs, spoken });
    return spoken;
  }
}
