import { Router, urlencoded } from 'express';
import Joi from 'joi';
import { type Ask, type Audience, AUDIENCES, OAuthError } from './consents.js';
import { faultyInterface } from './faults.js';
import { html, type Html, type Look, pageOf } from './html.js';
import type { Outlet, Person } from './outlets.js';
import type { PlatformWorld } from './world.js';

const AUDIENCE_WORDS: Readonly<Record<Audience, string>> = {
  'only-me': 'Only me',
  friends: 'My friends',
  everyone: 'Everyone',
};

interface Given {
  readonly person: string;
  readonly outlets: readonly string[];
  readonly audience: Audience;
  readonly answer: 'allow' | 'deny';
}
const givenSchema = Joi.object<Given>({
  person: Joi.string().required(),
  outlets: Joi.array().items(Joi.string()).single().max(5000).default([]),
  audience: Joi.valid(...AUDIENCES).default('everyone'),
  answer: Joi.valid('allow', 'deny').required(),
}).unknown();

/** `/consent`, where a person says what an application may do, and the addresses at which it gets its tokens (RFC 6749, 7009). */
export function consentRoutes(world: PlatformWorld, look: Look): Router {
  const routes = Router();
  const form = urlencoded({ extended: false, limit: '500kb', parameterLimit: 6000 });

  routes.get('/consent', (request, response) => {
    const ask = world.consents.readAsk(request.query);
    const person = world.directory.people.find(({ id }) => id === request.query.person);
    const page = person ? choicePage(look, ask, person, world) : whoPage(look, request.originalUrl, world);
    response.type('html').send(page);
  });
  routes.post('/consent', form, (request, response) => {
    const ask = world.consents.readAsk(request.body as Record<string, unknown>);
    const { answer, person, outlets, audience } = Joi.attempt(request.body, givenSchema);
    const theirs = new Set(world.directory.outletsOf(person).map(({ id }) => id));
    const outletIds = outlets.filter((id) => theirs.has(id));
    response.redirect(
      303,
      answer === 'deny'
        ? world.consents.deny(ask)
        : world.consents.grant(ask, { personId: person, outletIds, audience }, world.now()),
    );
  });
  routes.use(
    '/oauth',
    faultyInterface(() => world.fault),
  );
  routes.post('/oauth/token', form, (request, response) => {
    const tokens = world.consents.tokens(request.body as Record<string, unknown>, world.now());
    response.set('Cache-Control', 'no-store').json({
      token_type: 'Bearer',
      access_token: tokens.accessToken,
      refresh_token: tokens.refreshToken,
      expires_in: tokens.expiresInSeconds,
    });
  });
  routes.post('/oauth/revoke', form, (request, response) => {
    world.consents.revokeToken(String((request.body as Record<string, unknown>).token));
    response.status(200).end();
  });
  routes.use((error: unknown, _request: unknown, response: ErrorResponse, next: (error: unknown) => void) => {
    if (!(error instanceof OAuthError)) return next(error);
    response.status(400).json({ error: error.code, error_description: error.message });
  });
  return routes;
}
type ErrorResponse = { status: (code: number) => { json: (body: object) => void } };

const whoPage = (look: Look, address: string, { directory }: PlatformWorld): string =>
  pageOf(
    look,
    'Who are you?',
    html`<p>This is a simulated platform: nobody needs a password.</p>
      ${directory.people.map(({ id, name }) => html`<p><a href="${`${address}&person=${id}`}">${name}</a></p>`)}`,
  );

function choicePage(look: Look, ask: Ask, person: Person, { directory, client }: PlatformWorld): string {
  const hidden = Object.entries({
    client_id: ask.clientId,
    redirect_uri: ask.redirectAddress,
    state: ask.state,
    response_type: 'code',
    code_challenge: ask.codeChallenge,
    code_challenge_method: 'S256',
    person: person.id,
  }).map(([name, value]) => html`<input type="hidden" name="${name}" value="${value}" />`);
  return pageOf(
    look,
    `${client.name} would like to post for you`,
    html`<p>You are signed in as ${person.name}.</p>
      <form method="post" action="/consent">
        ${hidden}
        <fieldset>
          <legend>Where may it post?</legend>
          ${directory.outletsOf(person.id).map(outletBox)}
        </fieldset>
        <fieldset>
          <legend>Who may see what it posts?</legend>
          ${AUDIENCES.map(audienceBox)}
        </fieldset>
        <button name="answer" value="allow">Allow</button>
        <button name="answer" value="deny">Do not allow</button>
      </form>`,
  );
}

const outletBox = ({ id, kind, name }: Outlet): Html =>
  html`<label><input type="checkbox" name="outlets" value="${id}" checked /> ${name} (${kind})</label>`;

const audienceBox = (audience: Audience): Html =>
  html`<label
    ><input
      type="radio"
      name="audience"
      value="${audience}"
      ${audience === 'everyone' ? html`checked` : null}
    />
    ${AUDIENCE_WORDS[audience]}</label
  >`;
