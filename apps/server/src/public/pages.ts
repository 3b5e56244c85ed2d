import { readFile } from 'node:fs/promises';
import { join as pathOf } from 'node:path';
import express, { type Express, type RequestHandler, type Response } from 'express';
import type { Posters } from '../events/posters.js';
import type { MediaNodes } from '../nodes/media-nodes.js';
import { publicUrlOf } from '../people/public-url.js';
import type { ServerConfig } from '../platform/config.js';
import type { PublicEventsService } from './public-events.service.js';
import { pagePolicy } from './security-headers.js';
import type { PublicChannelsService } from './public-channels.service.js';
import { channelCard, eventCard, withCard } from './share-card.js';

const YEAR = '365d';
/** Everything that is not a page of the console. */
const NO_PAGE = /^\/(?!api\/|posters\/|control\/|socket\.io\/|calendar\/|oembed|metrics|embed\.js).*/;

/** The built pages: console, watch page, embed, channels and guests' page, their assets, the embed's script, and posters. */
export async function servePages(
  app: Express,
  config: ServerConfig,
  nodes: MediaNodes,
  posters: Posters,
  events: PublicEventsService,
  channels: PublicChannelsService,
): Promise<void> {
  const page = (name: string): Promise<string> => readFile(pathOf(config.webFolder, name), 'utf8');
  const [console_, watch, embed, channel, join] = await Promise.all(
    ['index.html', 'watch.html', 'embed.html', 'channel.html', 'join.html'].map(page),
  );
  const send = (html: string): RequestHandler => {
    return (_request, response) => void response.type('html').set('Cache-Control', 'no-cache').send(html);
  };
  const answer = (response: Response, html: string, isThere: boolean): void =>
    void response
      .status(isThere ? 200 : 404)
      .type('html')
      .set('Cache-Control', 'no-cache')
      .send(html);
  /** Watch pages and channels carry a card for sites that people share them on; without one it is still the page. */
  const sendWatch: RequestHandler<{ slug: string }> = async (request, response) => {
    const event = await events.get(request.params.slug, request.headers.host ?? '').catch(() => null);
    if (event?.isRehearsal) response.set('X-Robots-Tag', 'noindex');
    const isShown = event && !event.isRehearsal;
    const html = isShown ? withCard(watch!, eventCard(event, publicUrlOf(config, request))) : watch!;
    answer(response, html, event !== null);
  };
  const sendChannel: RequestHandler<{ slug: string }> = async (request, response) => {
    const shown = await channels.get(request.params.slug).catch(() => null);
    const html = shown ? withCard(channel!, channelCard(shown, publicUrlOf(config, request))) : channel!;
    answer(response, html, shown !== null);
  };
  const files = { immutable: true, maxAge: YEAR, index: false } as const;
  app.use('/assets', express.static(pathOf(config.webFolder, 'assets'), { ...files, fallthrough: false }));
  app.use('/posters', express.static(posters.folder, files));
  app.get('/embed.js', express.static(config.webFolder, { maxAge: '1h', index: false }));
  app.get('/watch/:slug', pagePolicy('public', nodes), sendWatch);
  app.get('/embed/:slug', pagePolicy('embed', nodes), send(embed!));
  app.get('/channel/:slug', pagePolicy('public', nodes), sendChannel);
  app.get('/join/:link', pagePolicy('public', nodes), send(join!));
  app.get(NO_PAGE, pagePolicy('console', nodes), send(console_!));
}
