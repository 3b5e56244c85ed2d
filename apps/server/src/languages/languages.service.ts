import Joi from 'joi';
import { Injectable } from '@nestjs/common';
import { compileLanguage, WORD_KEYS } from '@heliphon/core/languages/compile-language';
import {
  LANGUAGE_FORMAT,
  LANGUAGE_VERSION,
  readLanguage,
  type LanguageFile,
  type ReadLanguage,
} from '@heliphon/core/languages/read-language';
import type { SpokenLanguage } from '@heliphon/core/languages/words';
import type { LanguagesView, LanguageView, TriedLanguage } from '@heliphon/contracts/languages';
import { pageOf } from '../inherited/page-of.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { having, idKey, payload, textKey } from '../platform/happening-payloads.js';
import { newId } from '../platform/ids.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { UndoRegistry } from '../platform/undo-registry.js';
import { LanguageEntity } from '../tables/language.entity.js';
import { SHIPPED_ENGLISH, SHIPPED_LANGUAGES } from './shipped-languages.js';

const MOST_OWN = 10;

const WHOLE = having<LanguageEntity>({
  id: idKey.required(),
  tag: textKey.required(),
  name: textKey.required(),
  words: Joi.object().unknown().required(),
});

/** The languages a house can choose from for its pages: ours, and those it made itself. */
@Injectable()
export class LanguagesService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    undo: UndoRegistry,
  ) {
    undo.register(
      'language-kept',
      'house.edit',
      payload(WHOLE.allow(null), WHOLE),
      async (scope, { before, after }) => {
        if (before) await this.#put(scope, before);
        else await this.#take(scope, after);
      },
    );
    undo.register('language-removed', 'house.edit', payload(WHOLE), async (scope, { before }) => {
      if (await scope.findOne(LanguageEntity, { tag: before.tag }))
        throw new ProblemError(409, 'changed-since');
      await this.#put(scope, before);
    });
  }

  async list(ctx: Context): Promise<LanguagesView> {
    const scope = this.database.house(ctx);
    const own = await scope.find(LanguageEntity, { order: { tag: 'ASC' } });
    const ours = SHIPPED_LANGUAGES.filter(({ tag }) => !own.some((row) => row.tag === tag));
    return {
      languages: [...ours, ...own].map(view),
      slug: await pageOf(scope, await scope.ownHouse(), 'house', this.clock.nowMs()),
    };
  }

  /** What a file would bring, and what of it is not used. @throws ProblemError 422 where it is none */
  tryOut(file: object): TriedLanguage {
    const { language, remarks } = read(file);
    const { tag, name, words } = language;
    return { tag, name, spoken: compileLanguage(tag, words), remarks };
  }

  /** Keeps one under its tag, in the place of what was there. @throws ProblemError 422 where it is none */
  async keep(ctx: Context, file: object): Promise<LanguageView> {
    const { language } = read(file);
    return this.database.transaction(ctx, async (scope) => {
      const before = await scope.findOne(LanguageEntity, { tag: language.tag });
      if (!before && (await scope.count(LanguageEntity, {})) >= MOST_OWN)
        throw new ProblemError(409, 'languages-too-many', { most: MOST_OWN });
      const previous = before && { ...before };
      const after = await this.#put(scope, { ...language, id: before?.id ?? newId() });
      await happened(scope, 'language-kept', previous, after);
      return view(after);
    });
  }

  /** @throws ProblemError 409 while pages speak it and there is none of ours for it */
  async remove(ctx: Context, id: string): Promise<void> {
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(LanguageEntity, { id }, 'language');
      await this.#take(scope, row);
      await happened(scope, 'language-removed', row, null);
    });
  }

  /** A language as its file, to begin another one from. @throws ProblemError 404 */
  async file(ctx: Context, tag: string): Promise<object> {
    const { name, words } = await this.#find(ctx, tag);
    const all = WORD_KEYS.map((key) => [key, words[key] ?? SHIPPED_ENGLISH.words[key]]);
    return {
      format: LANGUAGE_FORMAT,
      version: LANGUAGE_VERSION,
      tag,
      name,
      words: Object.fromEntries(all) as object,
    };
  }

  /** @throws ProblemError 404 */
  async spoken(ctx: Context, tag: string): Promise<SpokenLanguage> {
    return compileLanguage(tag, (await this.#find(ctx, tag)).words);
  }

  /** The house's own, or ours. @throws ProblemError 404 */
  async #find(ctx: Context, tag: string): Promise<LanguageFile> {
    const own = await this.database.house(ctx).findOne(LanguageEntity, { tag });
    const found = own ?? SHIPPED_LANGUAGES.find((known) => known.tag === tag);
    if (!found) throw notFound('language');
    return found;
  }

  async #put(
    scope: HouseScope,
    { id, tag, name, words }: Pick<LanguageEntity, 'id' | 'tag' | 'name' | 'words'>,
  ): Promise<LanguageEntity> {
    const there = await scope.findOne(LanguageEntity, { id });
    const kept = { tag, name, words, keptAtMs: this.clock.nowMs() };
    return there ? scope.save(Object.assign(there, kept)) : scope.add(LanguageEntity, { id, ...kept });
  }

  async #take(scope: HouseScope, { id, tag }: Pick<LanguageEntity, 'id' | 'tag'>): Promise<void> {
    const house = await scope.ownHouse();
    if (house.language === tag && !SHIPPED_LANGUAGES.some((known) => known.tag === tag))
      throw new ProblemError(409, 'language-in-use');
    await scope.remove(LanguageEntity, { id });
  }
}

/** Whether a house's pages can speak it. */
export const isLanguage = async (scope: HouseScope, tag: string): Promise<boolean> =>
  SHIPPED_LANGUAGES.some((known) => known.tag === tag) ||
  (await scope.findOne(LanguageEntity, { tag })) !== null;

function read(file: object): ReadLanguage {
  const result = readLanguage(file);
  if (!result.ok) throw new ProblemError(422, result.error);
  return result.value;
}

const view = ({
  tag,
  name,
  words,
  ...row
}: Pick<LanguageEntity, 'tag' | 'name' | 'words'> & { readonly id?: string }): LanguageView => ({
  tag,
  name,
  ownId: row.id ?? null,
  missing: WORD_KEYS.filter((key) => words[key] === undefined).length,
});

function happened(
  scope: HouseScope,
  kind: 'language-kept' | 'language-removed',
  before: LanguageEntity | null,
  after: LanguageEntity | null,
): Promise<unknown> {
  const subjectId = (after ?? before)!.id;
  return scope.happened({ subjectKind: 'language', subjectId, kind, before, after });
}
