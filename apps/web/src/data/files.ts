import useSWR from 'swr';
import type { FileView } from '@heliphon/contracts/files';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, thenRefresh } from './cache.js';

const MAKING_EVERY_MS = 1000;

/** Files of the house; asked for again and again while one of them is being looked into or made. */
export const useFiles = (query: string) =>
  useSWR<Page<FileView>>(`/api/files?${query}`, fetcher, {
    keepPreviousData: true,
    refreshInterval: (latest) =>
      latest?.items.some(({ state }) => state === 'waiting' || state === 'making') ? MAKING_EVERY_MS : 0,
  });

export const useFilms = () => useFiles('kind=film&state=ready&limit=200');

export const useFile = (id: string | null) => useSWR<FileView>(id && `/api/files/${id}`, fetcher);

/** What the console asks of files. */

const act = (id: string, method: 'POST' | 'DELETE', what: string): Promise<FileView> =>
  thenRefresh('files', ask(`/api/files/${id}/${what}`, { method }));

export const renameFile = ({ id, version }: FileView, name: string): Promise<FileView> =>
  thenRefresh('files', ask(`/api/files/${id}`, { method: 'PATCH', version, body: { name } }));

export const binFile = (id: string): Promise<FileView> => act(id, 'POST', 'bin');

export const restoreFile = (id: string): Promise<FileView> => act(id, 'POST', 'restore');

/** Makes a film playable after all, or stops making it. */
export const makeFile = (id: string): Promise<FileView> => act(id, 'POST', 'making');

export const stopMaking = (id: string): Promise<FileView> => act(id, 'DELETE', 'making');

/** A picture of the house becomes the poster of an event or a series. */
export const choosePoster = (of: 'events' | 'series', id: string, fileId: string): Promise<unknown> =>
  thenRefresh('events', ask(`/api/${of}/${id}/poster-from-files`, { method: 'POST', body: { fileId } }));

export const removeSeriesPoster = (id: string): Promise<unknown> =>
  thenRefresh('events', ask(`/api/series/${id}/poster`, { method: 'DELETE' }));
