import { Parser } from 'htmlparser2';
import type { ReadPage } from '@heliphon/core/websites/judge-page';

/** More than a page has, but for one that is made to cost. */
const MOST = 2000;

/** Finds what may be an embed in a page (WHATWG HTML). */
export function readEmbeds(html: string): ReadPage {
  const frames: ReadPage['frames'][number][] = [];
  const scripts: ReadPage['scripts'][number][] = [];
  const policies: string[] = [];
  const parser = new Parser({
    onopentag: (name, attributes) => {
      if (frames.length + scripts.length > MOST) return parser.reset();
      const { src = '' } = attributes;
      if (name === 'iframe') {
        // Some websites load their frames late, and keep the address elsewhere until then.
        const address = src || attributes['data-src'] || '';
        frames.push({ src: address, widthPx: pixels(attributes['width']) });
      }
      if (name === 'script') scripts.push({ src, slug: attributes['data-event'] ?? null });
      if (name === 'meta' && /^content-security-policy$/i.test(attributes['http-equiv'] ?? ''))
        policies.push(attributes['content'] ?? '');
    },
  });
  parser.write(html);
  parser.end();
  return { frames, scripts, policies };
}

/** @returns `null` for a share of the page, or nothing that is a length */
const pixels = (text: string | undefined): number | null =>
  text !== undefined && /^\d+(px)?$/.test(text.trim()) ? parseInt(text) : null;
