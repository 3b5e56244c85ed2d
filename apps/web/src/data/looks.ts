import useSWR from 'swr';
import type { OwnLook } from '@heliphon/core/appearance/look';
import type { Level } from '@heliphon/core/inherited';
import type { KeptGround, KeptLogo, LookView } from '@heliphon/contracts/look';
import { ask } from './api.js';
import { fetcher, thenAskAgain } from './cache.js';

/** @param id - of the channel, series or event; the house needs none. */
export const lookPath = (level: Level, id?: string): string =>
  level === 'house' ? '/api/looks/house' : `/api/looks/${level}/${id}`;

export const useLook = (path: string) => useSWR<LookView>(path, fetcher);

/** Takes a logo, which a look may name from then on. @returns its id */
export async function uploadLogo(file: Blob): Promise<string> {
  const form = new FormData();
  form.set('logo', file);
  return (await ask<KeptLogo>('/api/looks/logos', { method: 'POST', form })).id;
}

/** Takes a picture for behind the page, which a look may have from then on. */
export function uploadGround(file: Blob): Promise<KeptGround> {
  const form = new FormData();
  form.set('picture', file);
  return ask('/api/looks/grounds', { method: 'POST', form });
}

/** Whatever comes of it, what stands there now is asked for again: somebody may have been quicker. */
export async function setLook(path: string, version: number, own: OwnLook): Promise<LookView> {
  const saving = ask<LookView>(path, { method: 'PUT', version, body: { own } });
  await saving.catch(() => undefined);
  return thenAskAgain(path, saving);
}
