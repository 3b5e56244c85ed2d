import useSWR, { mutate } from 'swr';
import type { ShownLevel, WebsitesView } from '@heliphon/contracts/websites';
import { ask } from './api.js';
import { fetcher } from './cache.js';

export const websitesPath = (level: ShownLevel, id: string): string => `/api/websites/${level}/${id}`;

export const useWebsites = (path: string) => useSWR<WebsitesView>(path, fetcher);

const taken = async (path: string, answer: Promise<WebsitesView>): Promise<WebsitesView> => {
  const view = await answer;
  await mutate(path, view, { revalidate: false });
  return view;
};

export const checkWebsite = (path: string, address: string): Promise<WebsitesView> =>
  taken(path, ask(`${path}/check`, { method: 'POST', body: { address } }));

export const forgetWebsite = (path: string, id: string): Promise<WebsitesView> =>
  taken(path, ask(`${path}/${id}`, { method: 'DELETE' }));
