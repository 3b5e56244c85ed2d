import { Router, urlencoded } from 'express';
import Joi from 'joi';
import { html, type Html, type Look, pageOf } from '../html.js';
import type { Posting } from '../postings.js';
import type { PlatformWorld } from '../world.js';

export const SKERRY_LOOK: Look = {
  name: 'Skerry',
  motto: 'What the neighbours are up to',
  css: `body{background:#e9ece2;color:#23301f}header{background:#3f5a3a;color:#f3f6ec;padding:14px 24px}header a{color:inherit;font:700 24px/1 ui-rounded,system-ui;text-decoration:none;margin-right:14px}
article{background:#f8faf3;border-left:6px solid #8aa37f;padding:16px 20px;margin:16px 0}button{background:#3f5a3a;color:#f3f6ec;border:0}button[aria-pressed=true]{outline:3px solid #c9762b}h1{font-size:24px}a{color:#3f5a3a}`,
};
const commentSchema = Joi.object<{ author: string; text: string }>({
  author: Joi.string().trim().max(60).required(),
  text: Joi.string().trim().max(1000).required(),
}).required();
const REFRESH_SECONDS = 5;

/** The feed, and a page for each broadcast, on which anybody may comment. */
export function skerryPages(world: PlatformWorld): Router {
  const routes = Router();
  const nameOf = ({ outletId }: Posting): string => world.directory.outlet(outletId)?.name ?? 'Nobody';

  routes.get('/', (_request, response) => {
    const rows = world.postings.all.map((posting) => row(posting, nameOf(posting), world.isLive(posting)));
    const body = rows.length > 0 ? html`${rows}` : html`<p>Nobody has posted anything yet.</p>`;
    response.type('html').send(pageOf(SKERRY_LOOK, 'What is new', body, REFRESH_SECONDS));
  });
  routes.get('/b/:id', (request, response, next) => {
    const posting = world.postings.get(request.params.id);
    if (!posting) return next();
    world.postings.look(posting.id);
    const body = html`${row(posting, nameOf(posting), world.isLive(posting))}
      <h2>Comments</h2>
      ${posting.comments.map(({ author, text }) => html`<p><b>${author}</b> ${text}</p>`)}
      <form method="post" action="/b/${posting.id}/comments">
        <label>Your name <input name="author" required /></label>
        <label>What would you like to say? <input name="text" required /></label>
        <button>Comment</button>
      </form>`;
    response.type('html').send(pageOf(SKERRY_LOOK, posting.title, body));
  });
  routes.post('/b/:id/comments', urlencoded({ extended: false }), (request, response) => {
    const { author, text } = Joi.attempt(request.body, commentSchema);
    world.postings.comment(request.params.id, author, text, world.now());
    response.redirect(303, `/b/${request.params.id}`);
  });
  routes.get('/b/:id/picture.jpg', async (request, response, next) => {
    const posting = world.postings.get(request.params.id);
    const jpeg = posting && (world.isLive(posting) ? await world.pictureOf(posting) : posting.picture);
    if (!jpeg) return next();
    response.type('jpeg').set('Cache-Control', 'no-store').send(jpeg);
  });
  return routes;
}

const STATE_WORDS = {
  planned: 'is going to broadcast',
  open: 'is broadcasting',
  ended: 'broadcast',
} as const;

function row(posting: Posting, outlet: string, isLive: boolean): Html {
  const { id, title, text, startsAtMs, audience, state, comments } = posting;
  const hasPicture = isLive || posting.picture !== null;
  return html`<article>
    <p><b>${outlet}</b> ${STATE_WORDS[state.is]} · seen by ${audience}</p>
    <h2><a href="/b/${id}">${title}</a></h2>
    ${hasPicture ? html`<img src="/b/${id}/picture.jpg" alt="${isLive ? 'The running picture' : 'Its picture'}" />` : null}
    <p>${text}</p>
    <p>
      <time datetime="${new Date(startsAtMs).toISOString()}">${new Date(startsAtMs).toUTCString()}</time> ·
      ${comments.length} comments
    </p>
  </article>`;
}
