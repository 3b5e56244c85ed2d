import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import express, { type Express } from 'express';
import type { ServerConfig } from '../platform/config.js';
import type { Posters } from '../events/posters.js';

const YEAR = '365d';

/** The built pages: console, watch page and embed, their assets, and posters. */
export async function servePages(app: Express, config: ServerConfig, posters: Posters): Promise<void> {
  const page = (name: string): Promise<string> => readFile(join(config.webFolder, name), 'utf8');
  const [console_, watch, embed] = await Promise.all([
    page('index.html'),
    page('watch.html'),
    page('embed.html'),
  ]);
  const send = (html: string): express.RequestHandler => {
    return (_request, response) => void response.type('html').set('Cache-Control', 'no-cache').send(html);
  };
  app.use(
    '/assets',
    express.static(join(config.webFolder, 'assets'), { immutable: true, maxAge: YEAR, fallthrough: false }),
  );
  app.use('/posters', express.static(posters.folder, { immutable: true, maxAge: YEAR, index: false }));
  app.get('/watch/:slug', send(watch));
  app.get('/embed/:slug', (request, response, next) => {
    response.removeHeader('X-Frame-Options'); // an embed is there to be framed
    send(embed)(request, response, next);
  });
  app.get(/^\/(?!api\/|posters\/|control\/|socket\.io\/).*/, send(console_));
}
