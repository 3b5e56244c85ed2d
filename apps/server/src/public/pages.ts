import { readFile } from 'node:fs/promises';
import { join as pathOf } from 'node:path';
import cors from 'cors';
import express, { type Express, type RequestHandler, type Response } from 'express';
import type { Posters } from '../files/posters.js';
import type { MediaNodes } from '../nodes/media-nodes.js';
import { publicUrlOf } from '../platform/public-url.js';
import type { ServerConfig } from '../platform/config.js';
import type { PublicEventsService } from './public-events.service.js';
import { isolable, pagePolicy } from './security-headers.js';
import type { PublicChannelsService } from './public-channels.service.js';
import type { SiteSightings } from './site-sightings.js';
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
  sightings: SiteSightings,
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
  const noted: RequestHandler<{ slug: string }> = (request, _response, next) => {
    void sightings.note(request.params.slug, request, config).catch(() => undefined);
    next();
  };
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
  app.use(
    '/assets',
    isolable,
    express.static(pathOf(config.webFolder, 'assets'), { ...files, fallthrough: false }),
  );
  app.use('/posters', express.static(posters.folder, files));
  app.get('/embed.js', cors(), express.static(config.webFolder, { maxAge: '1h', index: false }));
  app.get('/watch/:slug', pagePolicy('public', nodes), noted, sendWatch);
  app.get('/embed/:slug', pagePolicy('embed', nodes), noted, send(embed!));
  app.get('/channel/:slug', pagePolicy('public', nodes), sendChannel);
  app.get('/join/:link', pagePolicy('public', nodes), send(join!));
  app.get(NO_PAGE, pagePolicy('console', nodes), send(console_!));
}
