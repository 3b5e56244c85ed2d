import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { readFile, stat } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { USUAL_LOOK } from '@heliphon/core/appearance/look';
import { resolveLook } from '@heliphon/core/appearance/palette';
import { SHIPPED_ENGLISH } from '../../apps/server/src/languages/shipped-languages.js';
import { inLanguage } from '../../apps/server/src/public/page-html.js';
import type { PublicOrder } from '@heliphon/contracts/order';
import type { PublicEvent } from '@heliphon/contracts/public-event';

const TYPES: Readonly<Record<string, string>> = {
  '.js': 'text/javascript',
  '.css': 'text/css',
  '.woff2': 'font/woff2',
};

/** Whatever a page may have to show, it has to. */
const order: PublicOrder = {
  items: [{ id: 'a', atMinutes: 0, title: 'Hymn', words: 'Words to follow' }],
  marks: [],
  chapters: [],
};
const event: PublicEvent = {
  slug: 'x',
  seq: 1,
  serverNowMs: Date.now(),
  title: 'Evensong',
  description: '',
  posterUrl: '/poster',
  state: 'doors',
  isRehearsal: false,
  refusal: null,
  pass: null,
  clipOf: null,
  notice: null,
  startsAtMs: Date.now() + 60_000,
  endsAtMs: Date.now() + 3_600_000,
  doorsAtMs: Date.now() - 1000,
  airAtMs: null,
  beginsAtMs: Date.now() + 60_000,
  zone: 'Europe/London',
  rewindMs: 0,
  house: {
    name: 'House',
    zone: 'Europe/London',
    rules: '',
    visitCounter: null,
  },
  look: resolveLook(USUAL_LOOK),
  channel: { name: 'Chapel', slug: 'chapel' },
  playback: null,
  next: [],
  signal: null,
  orderSeq: 'o-1',
  chat: { state: 'open', eventId: 'x' },
};

export interface PageServer {
  readonly origin: string;
  /** What is different of the event from now on. */
  change(changed: Partial<PublicEvent>): void;
  close(): void;
}

/**
 * Serves the built watch page of a made-up event at `/watch/x`, packed as the real server packs it.
 * @param poster - its picture. @param more - other files, by their paths
 */
export async function startPageServer(
  poster: { readonly type: string; readonly bytes: Buffer },
  more: Readonly<Record<string, Buffer>> = {},
): Promise<PageServer> {
  let changed: Partial<PublicEvent> = {};
  const server = createServer((request, response) => {
    const json = (body: unknown) =>
      response.setHeader('content-type', 'application/json').end(JSON.stringify(body));
    void (async () => {
      const path = new URL(request.url!, 'http://x').pathname;
      if (path.endsWith('/chat')) return json({ messages: [], seq: 0 });
      if (path.endsWith('/order')) return json(order);
      if (path.startsWith('/api/')) return json({ ...event, serverNowMs: Date.now(), ...changed });
      if (path === event.posterUrl) return response.setHeader('content-type', poster.type).end(poster.bytes);
      response.setHeader('content-type', TYPES[extname(path)] ?? 'text/html');
      if (path.startsWith('/watch/')) {
        const html = inLanguage(await readFile('dist/web/watch.html', 'utf8'), SHIPPED_ENGLISH.spoken);
        return response.setHeader('content-encoding', 'gzip').end(gzipSync(html));
      }
      const file = join('dist/web', path);
      if (more[path]) return response.end(more[path]);
      const packed = /gzip/.test(String(request.headers['accept-encoding'])) ? `${file}.gz` : file;
      for (const candidate of [packed, file]) {
        if (!(await stat(candidate).catch(() => null))?.isFile()) continue;
        if (candidate.endsWith('.gz')) response.setHeader('content-encoding', 'gzip');
        return response.end(await readFile(candidate));
      }
      return response.writeHead(404).end();
    })();
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    change: (next) => (changed = next),
    close: () => server.close(),
  };
}
