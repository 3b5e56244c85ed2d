import { Router } from 'express';
import { html, type Html, type Look, pageOf } from '../html.js';
import type { Posting } from '../postings.js';
import type { PlatformWorld } from '../world.js';

export const WINDLASS_LOOK: Look = {
  name: 'Windlass',
  motto: 'films, wound up and let go',
  css: `body{background:#221a14;color:#f0e6d8}header{padding:18px 24px;border-bottom:2px solid #b87333}header a{color:#e0a868;font:italic 700 26px/1 Georgia,serif;text-decoration:none;margin-right:14px}
a{color:#e0a868}article{padding:16px 0;border-bottom:1px solid #54402e}button{background:#b87333;color:#1b130d;border:0}button[aria-pressed=true]{outline:3px solid #f0e6d8}h1{font:italic 26px Georgia,serif}`,
};
const REFRESH_SECONDS = 5;

/** What is on, and a page for each film; who has no link to an unlisted one does not find it. */
export function windlassPages(world: PlatformWorld): Router {
  const routes = Router();
  routes.get('/', (_request, response) => {
    const films = world.postings.all.filter(({ audience }) => audience === 'everyone');
    const body =
      films.length > 0 ? html`${films.map((film) => row(film, world))}` : html`<p>There is no film yet.</p>`;
    response.type('html').send(pageOf(WINDLASS_LOOK, 'Now and next', body, REFRESH_SECONDS));
  });
  routes.get('/film/:id', (request, response, next) => {
    const film = world.postings.get(request.params.id);
    if (!film || film.audience === 'only-me') return next();
    world.postings.look(film.id);
    const body = html`${row(film, world)}
      <p>${film.text}</p>`;
    response.type('html').send(pageOf(WINDLASS_LOOK, film.title, body, REFRESH_SECONDS));
  });
  routes.get('/film/:id/still.jpg', async (request, response, next) => {
    const film = world.postings.get(request.params.id);
    const jpeg = film && (world.isLive(film) ? await world.pictureOf(film) : film.picture);
    if (!jpeg) return next();
    response.type('jpeg').set('Cache-Control', 'no-store').send(jpeg);
  });
  return routes;
}

const PHASE_WORDS = { planned: 'Coming', open: 'On now', ended: 'Over' } as const;

function row(film: Posting, world: PlatformWorld): Html {
  const { id, title, startsAtMs, state, picture, outletId } = film;
  const isLive = world.isLive(film);
  return html`<article>
    ${isLive || picture ? html`<img src="/film/${id}/still.jpg" alt="${isLive ? 'The running picture' : 'Its still'}" />` : null}
    <h2><a href="/film/${id}">${title}</a></h2>
    <p>
      ${PHASE_WORDS[state.is]} · ${world.directory.outlet(outletId)?.name ?? 'nobody'} ·
      ${new Date(startsAtMs).toUTCString()}
    </p>
  </article>`;
}
