import express, { json, type Request, type Response, Router } from 'express';
import Joi from 'joi';
import { asked } from '../asked.js';
import type { Audience, Consent } from '../consents.js';
import { consentRoutes } from '../consent-pages.js';
import { faultRoutes } from '../fault-pages.js';
import { faultyInterface } from '../faults.js';
import type { Posting } from '../postings.js';
import type { PlatformWorld } from '../world.js';
import { WINDLASS_LOOK, windlassPages } from './pages.js';

/** Windlass's habits: a film has to be started, and waits ten minutes for a picture. */
export const WINDLASS_HABITS = { needsStart: true, endsWithoutPictureMs: 600_000, longestMs: null };

export const WINDLASS_PEOPLE = [{ id: 'ines', name: 'Ines Tarrow' }] as const;
export const WINDLASS_OUTLETS = [
  { id: 'quay-films', kind: 'channel', name: 'Lantern Quay Films', personId: 'ines', hasAllowed: true },
  { id: 'bells', kind: 'channel', name: 'Bells of the harbour', personId: 'ines', hasAllowed: true },
] as const;

/** Its own words for who may see a film. */
const VISIBILITY = { private: 'only-me', unlisted: 'friends', public: 'everyone' } as const;
type Visibility = keyof typeof VISIBILITY;
const VISIBILITIES = Object.keys(VISIBILITY) as Visibility[];
const visibilityOf = (audience: Audience): Visibility =>
  VISIBILITIES.find((name) => VISIBILITY[name] === audience)!;

interface Film {
  readonly channel: string;
  readonly clientRef: string;
  readonly name: string;
  readonly about: string;
  /** Seconds since 1970. */
  readonly plannedFor: number;
  readonly visibility: Visibility;
}
const filmSchema = Joi.object<Film>({
  channel: Joi.string().required(),
  clientRef: Joi.string().max(100).required(),
  name: Joi.string().max(100).required(),
  about: Joi.string().allow('').max(5000).required(),
  plannedFor: Joi.number().integer().required(),
  visibility: Joi.valid(...VISIBILITIES).required(),
}).required();
const ON_PAGE = 50;

class Fault extends Error {
  constructor(
    readonly status: number,
    readonly fault: string,
  ) {
    super(fault);
  }
}

/** The film site: its interface under `/api/2`, its consent page, and a page for each film. */
export function windlass(
  world: PlatformWorld,
  at: { readonly site: string; readonly ingest: string },
): express.Express {
  const app = express();
  app.use(consentRoutes(world, WINDLASS_LOOK));
  app.use(faultRoutes(world, WINDLASS_LOOK));
  app.use(
    '/api/2',
    faultyInterface(() => world.fault),
    api(world, at),
  );
  app.use(windlassPages(world));
  return app;
}

function api(world: PlatformWorld, at: { readonly site: string; readonly ingest: string }): Router {
  const routes = Router();
  routes.use(json());

  const { consentOf, postingOf: filmOf } = asked(world, {
    token: () => new Fault(401, 'token-expired'),
    unknown: () => new Fault(404, 'no-such-film'),
  });
  const view = (posting: Posting): object => ({
    film: posting.id,
    channel: posting.outletId,
    clientRef: posting.ref,
    name: posting.title,
    about: posting.text,
    plannedFor: posting.startsAtMs / 1000,
    visibility: visibilityOf(posting.audience),
    phase: { planned: 'planned', open: 'open', ended: 'over' }[posting.state.is],
    overBecause: posting.state.is === 'ended' ? posting.state.because : null,
    watch: `${at.site}/film/${posting.id}`,
    intake: { url: at.ingest, streamKey: posting.key },
  });
  const read = (request: Request, consent: Consent): Film => {
    const { error, value } = filmSchema.validate(request.body);
    if (error) throw new Fault(400, 'not-understood');
    if (!consent.outletIds.includes(value.channel)) throw new Fault(403, 'channel-not-granted');
    return value;
  };
  const wishOf = ({ name, about, plannedFor, visibility }: Film) => ({
    title: name,
    text: about,
    startsAtMs: plannedFor * 1000,
    audience: VISIBILITY[visibility],
  });

  routes.get('/self', (request, response) => {
    const { personId, endsAtMs } = consentOf(request);
    const { name } = world.directory.people.find(({ id }) => id === personId)!;
    response.json({ person: personId, name, grantedUntil: Math.floor(endsAtMs / 1000) });
  });
  routes.get('/channels', (request, response) => {
    const granted = consentOf(request).outletIds;
    const page = Number(request.query.page ?? 1) || 1;
    const channels = granted.slice((page - 1) * ON_PAGE, page * ON_PAGE).flatMap((id) => {
      const outlet = world.directory.outlet(id);
      return outlet ? [{ channel: id, name: outlet.name, lastingKey: world.keyOf(id) }] : [];
    });
    response.json({ channels, pages: Math.ceil(granted.length / ON_PAGE) });
  });
  routes.post('/films', (request, response) => {
    const film = read(request, consentOf(request));
    response.status(201).json(view(world.postings.post(film.channel, film.clientRef, wishOf(film))));
  });
  routes.get('/films', (request, response) => {
    const { outletIds } = consentOf(request);
    const films = world.postings.all.filter(
      ({ ref, outletId }) => ref === request.query.clientRef && outletIds.includes(outletId),
    );
    response.json({ films: films.map(view) });
  });
  routes.get('/films/:id', (request, response) => {
    response.json(view(filmOf(request)));
  });
  routes.put('/films/:id', (request, response) => {
    const { id } = filmOf(request);
    response.json(view(world.postings.change(id, wishOf(read(request, consentOf(request))))!));
  });
  routes.put('/films/:id/still', express.raw({ type: 'image/*', limit: '8mb' }), (request, response) => {
    world.postings.change(filmOf(request).id, { picture: request.body as Buffer });
    response.status(204).end();
  });
  routes.delete('/films/:id', (request, response) => {
    const { id } = filmOf(request);
    world.hangUp(id);
    world.postings.remove(id);
    response.status(204).end();
  });
  routes.post('/films/:id/start', (request, response) => {
    response.json(view(world.postings.start(filmOf(request).id, world.now())!));
  });
  routes.post('/films/:id/finish', (request, response) => {
    const film = world.postings.end(filmOf(request).id, 'sender', world.now())!;
    world.hangUp(film.id);
    response.json(view(film));
  });
  routes.get('/films/:id/audience', (request, response) => {
    response.json({ watching: filmOf(request).views });
  });
  routes.use((error: unknown, _request: Request, response: Response, next: (error: unknown) => void) => {
    if (!(error instanceof Fault)) return next(error);
    response.status(error.status).json({ fault: error.fault });
  });
  return routes;
}
