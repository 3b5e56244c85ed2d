import { readFile } from 'node:fs/promises';
import { join as pathOf } from 'node:path';
import cors from 'cors';
import { frameAncestors, refusalOf, STRANGER } from '@heliphon/core/access/watch-rules';
import type { SpokenLanguage } from '@heliphon/core/languages/words';
import packedFiles from 'express-static-gzip';
import express, { type Express, type Request, type RequestHandler, type Response } from 'express';
import type { Posters } from '../files/posters.js';
import type { MediaNodes } from '../nodes/media-nodes.js';
import type { SpokenLanguages } from '../languages/spoken-languages.js';
import { SHIPPED_ENGLISH } from '../languages/shipped-languages.js';
import { publicUrlOf } from '../platform/public-url.js';
import type { ServerConfig } from '../platform/config.js';
import { inLanguage, sendPage } from './page-html.js';
import { isPublic, type PublicEventsService } from './public-events.service.js';
import { isolable, letCount, ownWorker, pagePolicy, setFrameAncestors } from './security-headers.js';
import type { PublicChannelsService } from './public-channels.service.js';
import type { Sitemap } from './sitemap.js';
import type { SiteSightings } from './site-sightings.js';
import { channelCard, eventCard, withCard } from './share-card.js';

const YEAR = '365d';
/** Everything that is not a page of the console. */
const NO_PAGE =
  /^\/(?!api\/|posters\/|logos\/|grounds\/|control\/|socket\.io\/|calendar\/|oembed|metrics|embed\.js|watch-worker\.js).*/;

/** The built pages: console, watch page, embed, channels and guests' page, their assets, the embed's script, and posters. */
export async function servePages(
  app: Express,
  config: ServerConfig,
  nodes: MediaNodes,
  posters: Posters,
  events: PublicEventsService,
  channels: PublicChannelsService,
  sightings: SiteSightings,
  sitemap: Sitemap,
  languages: SpokenLanguages,
): Promise<void> {
  const page = (name: string): Promise<string> => readFile(pathOf(config.webFolder, name), 'utf8');
  const [console_, watch, embed, channel, join] = await Promise.all(
    ['index.html', 'watch.html', 'embed.html', 'channel.html', 'join.html'].map(page),
  );
  /** In the language of its house; where that cannot be asked for, in English. */
  const answer = async (
    request: Request,
    response: Response,
    html: string,
    asked: Promise<SpokenLanguage>,
    isThere = true,
  ): Promise<void> => {
    const spoken = await asked.catch(() => SHIPPED_ENGLISH.spoken);
    await sendPage(request, response, inLanguage(html, spoken), isThere ? 200 : 404);
  };
  const noted: RequestHandler<{ slug: string }> = (request, _response, next) => {
    const isEmbed = request.path.startsWith('/embed/');
    void sightings.note(request.params.slug, request, config, isEmbed).catch(() => undefined);
    next();
  };
  /** Watch pages and channels carry a card for sites that people share them on; without one it is still the page. */
  const sendWatch: RequestHandler<{ slug: string }> = async (request, response) => {
    const known = await events.find(request.params.slug).catch(() => null);
    const event = await events.get(request.params.slug, request.headers.host ?? '', null).catch(() => null);
    const isShown = event && !event.isRehearsal;
    if (known && (!isShown || !isPublic(known))) response.set('X-Robots-Tag', 'noindex');
    if (known?.house.visitCounter) letCount(response, known.house.visitCounter);
    const html = isShown ? withCard(watch!, eventCard(event, publicUrlOf(config, request))) : watch!;
    await answer(request, response, html, languages.ofAddress(request.params.slug), event !== null);
  };
  const sendChannel: RequestHandler<{ slug: string }> = async (request, response) => {
    const shown = await channels.get(request.params.slug).catch(() => null);
    if (shown?.house.visitCounter) letCount(response, shown.house.visitCounter);
    const html = shown ? withCard(channel!, channelCard(shown, publicUrlOf(config, request))) : channel!;
    await answer(request, response, html, languages.ofAddress(request.params.slug), shown !== null);
  };
  const sendEmbed: RequestHandler<{ slug: string }> = (request, response) =>
    answer(request, response, embed!, languages.ofAddress(request.params.slug));
  const sendJoin: RequestHandler<{ link: string }> = (request, response) =>
    answer(request, response, join!, languages.ofGuestLink(request.params.link));
  // What its people see of public pages there, such as the camera of a guest, has its words too.
  const consolePage = inLanguage(console_!, SHIPPED_ENGLISH.spoken);
  const sendConsole: RequestHandler = (request, response) => sendPage(request, response, consolePage);
  /** On a website that may not show it the embed comes all the same, to say why; what does not say its name is left to the browser. */
  const framedWhereItMay: RequestHandler<{ slug: string }> = async ({ params, headers }, response, next) => {
    const known = await events.find(params.slug).catch(() => null);
    const site = headers.referer && URL.canParse(headers.referer) ? new URL(headers.referer).host : '';
    const isRefused = known && refusalOf(known.rules, 'live', { ...STRANGER, site })?.why === 'site';
    if (known && !isRefused) setFrameAncestors(response, frameAncestors(known.rules));
    next();
  };
  const files = { immutable: true, maxAge: YEAR, index: false } as const;
  app.use(
    '/assets',
    isolable,
    // As they were packed when they were built: a telephone on a weak line waits a third as long.
    packedFiles(pathOf(config.webFolder, 'assets'), {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      index: false,
      serveStatic: { ...files, fallthrough: false },
    }),
  );
  app.use('/posters', express.static(posters.folder, files));
  app.get('/sitemap.xml', async (request, response) => {
    response.type('application/xml').set('Cache-Control', 'public, max-age=3600');
    response.send(await sitemap.text(publicUrlOf(config, request)));
  });
  app.get('/robots.txt', (request, response) => {
    response.type('text/plain').set('Cache-Control', 'public, max-age=3600');
    response.send(`User-agent: *\nDisallow: /api/\nSitemap: ${publicUrlOf(config, request)}/sitemap.xml\n`);
  });
  app.get('/watch-worker.js', ownWorker, express.static(config.webFolder, { maxAge: 0, index: false }));
  app.get('/embed.js', cors(), express.static(config.webFolder, { maxAge: '1h', index: false }));
  app.get('/watch/:slug', pagePolicy('public', nodes), noted, sendWatch);
  app.get('/embed/:slug', pagePolicy('embed', nodes), noted, framedWhereItMay, sendEmbed);
  app.get('/channel/:slug', pagePolicy('public', nodes), sendChannel);
  app.get('/join/:link', pagePolicy('public', nodes), sendJoin);
  app.get(NO_PAGE, pagePolicy('console', nodes), sendConsole);
}
