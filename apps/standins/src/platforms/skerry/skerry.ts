import express, { json, type Request, type Response, Router } from 'express';
import Joi from 'joi';
import { asked } from '../asked.js';
import { type Audience, AUDIENCES } from '../consents.js';
import { consentRoutes } from '../consent-pages.js';
import { faultRoutes } from '../fault-pages.js';
import { faultyInterface } from '../faults.js';
import type { Posting, PostingWish } from '../postings.js';
import type { PlatformWorld } from '../world.js';
import { SKERRY_LOOK, skerryPages } from './pages.js';

/** Skerry's habits: a broadcast begins with its picture, ends 30 s after it stopped, and after four hours. */
export const SKERRY_HABITS = { needsStart: false, endsWithoutPictureMs: 30_000, longestMs: 4 * 3_600_000 };

export const SKERRY_PEOPLE = [
  { id: 'ines', name: 'Ines Tarrow' },
  { id: 'hollis', name: 'Hollis Brand' },
] as const;
export const SKERRY_OUTLETS = [
  { id: 'wall-ines', kind: 'wall', name: 'Ines Tarrow', personId: 'ines', hasAllowed: true },
  { id: 'quay', kind: 'page', name: 'Lantern Quay Commons', personId: 'ines', hasAllowed: true },
  { id: 'chapel', kind: 'page', name: 'The harbour chapel', personId: 'ines', hasAllowed: true },
  { id: 'friends', kind: 'group', name: 'Friends of the Quay', personId: 'ines', hasAllowed: false },
  { id: 'rowers', kind: 'group', name: 'Gig rowers', personId: 'ines', hasAllowed: true },
  { id: 'wall-hollis', kind: 'wall', name: 'Hollis Brand', personId: 'hollis', hasAllowed: true },
] as const;

interface Wish {
  readonly outlet: string;
  readonly ref: string;
  readonly title: string;
  readonly text: string;
  readonly starts_at: Date;
  readonly audience: Audience;
}
const fields = {
  title: Joi.string().max(200),
  text: Joi.string().allow('').max(5000),
  starts_at: Joi.date().iso(),
  audience: Joi.valid(...AUDIENCES),
};
const wishSchema = Joi.object<Wish>({
  ...fields,
  outlet: Joi.string().required(),
  ref: Joi.string().max(100).required(),
})
  .fork(Object.keys(fields), (field) => field.required())
  .required();
const changeSchema = Joi.object<Partial<Wish>>(fields).min(1).required();
const MOST_ON_PAGE = 100;
const PICTURE_LIMIT = '8mb';

/** A refusal as Skerry tells it. */
class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    words: string,
  ) {
    super(words);
  }
}

/** The social network: its interface under `/v1`, its consent page, and the feed on which postings are seen. */
export function skerry(
  world: PlatformWorld,
  at: { readonly site: string; readonly ingest: string },
): express.Express {
  const app = express();
  app.use(consentRoutes(world, SKERRY_LOOK));
  app.use(faultRoutes(world, SKERRY_LOOK));
  app.use(
    '/v1',
    faultyInterface(() => world.fault),
    api(world, at),
  );
  app.use(skerryPages(world));
  return app;
}

function api(world: PlatformWorld, at: { readonly site: string; readonly ingest: string }): Router {
  const routes = Router();
  routes.use(json());

  const { consentOf, postingOf } = asked(world, {
    token: () => new Refusal(401, 'bad_token', 'The access token is not good any more.'),
    unknown: () => new Refusal(404, 'unknown', 'There is no such broadcast.'),
  });
  const view = (posting: Posting): object => ({
    id: posting.id,
    outlet: posting.outletId,
    ref: posting.ref,
    title: posting.title,
    text: posting.text,
    starts_at: new Date(posting.startsAtMs).toISOString(),
    audience: posting.audience,
    state: { planned: 'scheduled', open: 'live', ended: 'ended' }[posting.state.is],
    ended_because: posting.state.is === 'ended' ? posting.state.because : null,
    link: `${at.site}/b/${posting.id}`,
    ingest: { server: at.ingest, key: posting.key },
  });

  routes.get('/me', (request, response) => {
    const { personId, endsAtMs, audience } = consentOf(request);
    const { id, name } = world.directory.people.find((person) => person.id === personId)!;
    response.json({ id, name, audience, consent_ends_at: new Date(endsAtMs).toISOString() });
  });
  routes.get('/outlets', (request, response) => {
    const granted = consentOf(request).outletIds;
    const after = Number(request.query.after ?? 0) || 0;
    const data = granted.slice(after, after + MOST_ON_PAGE).flatMap((outletId) => {
      const outlet = world.directory.outlet(outletId);
      if (!outlet) return [];
      const { id, kind, name, hasAllowed } = outlet;
      return [{ id, kind, name, can_post: hasAllowed, permanent_key: world.keyOf(id) }];
    });
    const next = after + MOST_ON_PAGE;
    response.json({ data, next: next < granted.length ? String(next) : null });
  });
  routes.post('/broadcasts', (request, response) => {
    const consent = consentOf(request);
    const { outlet: outletId, ref, ...wish } = checked(wishSchema, request.body);
    const outlet = world.directory.outlet(outletId);
    if (!outlet || !consent.outletIds.includes(outletId))
      throw new Refusal(403, 'outlet_not_granted', 'The person has not allowed this outlet.');
    if (!outlet.hasAllowed)
      throw new Refusal(403, 'group_has_not_allowed', 'The group has not let this application in.');
    const { starts_at, title, text } = wish;
    const audience = narrower(wish.audience, consent.audience);
    const posted: PostingWish = { title, text, startsAtMs: starts_at.getTime(), audience };
    response.status(201).json(view(world.postings.post(outletId, ref, posted)));
  });
  routes.get('/broadcasts', (request, response) => {
    const { outletIds } = consentOf(request);
    const ref = String(request.query.ref ?? '');
    const found = world.postings.all.filter(
      (posting) => posting.ref === ref && outletIds.includes(posting.outletId),
    );
    response.json({ data: found.map(view), next: null });
  });
  routes.get('/broadcasts/:id', (request, response) => {
    response.json(view(postingOf(request)));
  });
  routes.patch('/broadcasts/:id', (request, response) => {
    const { id } = postingOf(request);
    const { starts_at, audience, title, text } = checked(changeSchema, request.body);
    const change = {
      ...(title === undefined ? {} : { title }),
      ...(text === undefined ? {} : { text }),
      ...(starts_at ? { startsAtMs: starts_at.getTime() } : {}),
      ...(audience ? { audience: narrower(audience, consentOf(request).audience) } : {}),
    };
    response.json(view(world.postings.change(id, change)!));
  });
  routes.put(
    '/broadcasts/:id/picture',
    express.raw({ type: 'image/*', limit: PICTURE_LIMIT }),
    (request, response) => {
      world.postings.change(postingOf(request).id, { picture: request.body as Buffer });
      response.status(204).end();
    },
  );
  routes.delete('/broadcasts/:id', (request, response) => {
    const { id } = postingOf(request);
    world.hangUp(id);
    world.postings.remove(id);
    response.status(204).end();
  });
  routes.post('/broadcasts/:id/end', (request, response) => {
    const ended = world.postings.end(postingOf(request).id, 'sender', world.now())!;
    world.hangUp(ended.id);
    response.json(view(ended));
  });
  routes.get('/broadcasts/:id/viewers', (request, response) => {
    response.json({ viewers: postingOf(request).views });
  });
  routes.get('/broadcasts/:id/comments', (request, response) => {
    const after = Number(request.query.after ?? 0) || 0;
    const data = postingOf(request)
      .comments.filter(({ id }) => id > after)
      .slice(0, MOST_ON_PAGE)
      .map(({ id, author, text, atMs }) => ({ id, author, text, at: new Date(atMs).toISOString() }));
    response.json({ data, next: data.length === MOST_ON_PAGE ? String(data.at(-1)!.id) : null });
  });
  routes.use((error: unknown, _request: Request, response: Response, next: (error: unknown) => void) => {
    if (!(error instanceof Refusal)) return next(error);
    response.status(error.status).json({ error: { code: error.code, message: error.message } });
  });
  return routes;
}

function checked<T>(schema: Joi.ObjectSchema<T>, body: unknown): T {
  const { error, value } = schema.validate(body);
  if (error) throw new Refusal(422, 'invalid', error.message);
  return value;
}

/** Nothing posted is seen by more people than the consent allows. */
const narrower = (one: Audience, other: Audience): Audience =>
  AUDIENCES[Math.min(AUDIENCES.indexOf(one), AUDIENCES.indexOf(other))]!;
