import useSWR from 'swr';
import type { SpokenLanguage } from '@heliphon/core/languages/words';
import type { LanguagesView, LanguageView, TriedLanguage } from '@heliphon/contracts/languages';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

const PATH = '/api/languages';

export const useLanguages = () => useSWR<LanguagesView>(PATH, fetcher);

/** As pages speak it; `null` for none. */
export const useSpoken = (tag: string | null) =>
  useSWR<SpokenLanguage>(tag && `${PATH}/spoken/${tag}`, fetcher);

/** What a file would bring, without keeping it. */
export const tryLanguage = (file: object): Promise<TriedLanguage> =>
  ask(`${PATH}/try`, { method: 'POST', body: file });

export const keepLanguage = (file: object): Promise<LanguageView> =>
  thenAskAgain(PATH, ask(PATH, { method: 'PUT', body: file }));

export const removeLanguage = (id: string): Promise<void> =>
  thenAskAgain(PATH, ask(`${PATH}/${id}`, { method: 'DELETE' }));

export const languageFilePath = (tag: string): string => `${PATH}/files/${tag}`;
