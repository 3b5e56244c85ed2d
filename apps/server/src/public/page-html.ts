import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { Request, Response } from 'express';
import { escaped } from '@heliphon/core/delivery/embed-code';
import { sayIn, type SpokenLanguage } from '@heliphon/core/languages/words';

/** JSON that ends no element it stands in. */
export const jsonInHtml = (value: object): string => JSON.stringify(value).replaceAll('<', '\\u003c');

/** Puts the words of a language into a built page: they need no way of their own. */
export function inLanguage(html: string, spoken: SpokenLanguage): string {
  const { tag, direction } = spoken;
  const words = `<script type="application/json" id="words">${jsonInHtml(spoken)}</script>`;
  return html
    .replace(/<html lang="[^"]*">/, `<html lang="${tag}" dir="${direction}">`)
    .replace(/<noscript>[^<]*/, () => `<noscript>${escaped(sayIn(spoken)('page.needsScript'))}`)
    .replace('</head>', () => `${words}</head>`);
}

const packed = promisify(gzip);

/** Sends a page, packed where the browser can open that; the browser asks again each time. */
export async function sendPage(
  request: Request,
  response: Response,
  html: string,
  status = 200,
): Promise<void> {
  response.status(status).type('html').set('Cache-Control', 'no-cache').vary('Accept-Encoding');
  if (request.acceptsEncodings('gzip')) response.set('Content-Encoding', 'gzip').send(await packed(html));
  else response.send(html);
}
