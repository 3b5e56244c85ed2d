import { json, Router } from 'express';
import Joi from 'joi';
import { PLATFORM_FAULTS, type PlatformFault } from './faults.js';
import { html, type Html, type Look, pageOf } from './html.js';
import type { PlatformWorld } from './world.js';

const FAULT_WORDS: Readonly<Record<PlatformFault, string>> = {
  none: 'All is well',
  outage: 'Answer everything with an error',
  slow: 'Take 15 s for each answer',
  'rate-limit': 'Ask for patience',
  'refuse-key': 'Refuse every key',
  'never-reads': 'Take the connection, read nothing',
  'closes-often': 'Hang up every 20 s',
};

/** What happens once, and does not last. */
const EVENTS = {
  'revoke-consents': 'Everybody takes their consent back',
  'expire-tokens': 'Let the access tokens run out',
  'lose-postings': 'Lose what is posted and not open yet',
  'end-open': 'End what is on, as after its longest time',
  'many-outlets': 'Give the first person 3,000 pages',
} as const;
type EventName = keyof typeof EVENTS;

const orderSchema = Joi.object<{ fault?: PlatformFault; event?: EventName }>({
  fault: Joi.valid(...PLATFORM_FAULTS),
  event: Joi.valid(...Object.keys(EVENTS)),
}).xor('fault', 'event');
const outletSchema = Joi.object<{ name?: string; hasAllowed?: boolean }>({
  name: Joi.string().max(200),
  hasAllowed: Joi.boolean(),
}).min(1);

/** `/faults`: what can be made to go wrong over there. */
export function faultRoutes(world: PlatformWorld, look: Look): Router {
  const routes = Router();
  routes.get('/faults', (_request, response) => {
    response.type('html').send(faultPage(world, look));
  });
  routes.post('/faults', json(), (request, response) => {
    const { fault, event } = Joi.attempt(request.body, orderSchema);
    if (fault) world.setFault(fault);
    if (event) happen(world, event);
    response.status(204).end();
  });
  routes.post('/faults/outlets/:id', json(), (request, response) => {
    const { name, hasAllowed } = Joi.attempt(request.body, outletSchema);
    if (name !== undefined) world.directory.rename(request.params.id, name);
    if (hasAllowed !== undefined) world.directory.allow(request.params.id, hasAllowed);
    response.status(204).end();
  });
  return routes;
}

function happen({ consents, directory, postings, now }: PlatformWorld, event: EventName): void {
  switch (event) {
    case 'revoke-consents':
      for (const { id } of directory.people) consents.revokeAll(id);
      return;
    case 'expire-tokens':
      return consents.expireAccess();
    case 'end-open':
      for (const { id, state } of postings.all) if (state.is === 'open') postings.end(id, 'too-long', now());
      return;
    case 'lose-postings':
      for (const { id, state } of postings.all) if (state.is === 'planned') postings.remove(id);
      return;
    case 'many-outlets':
      return directory.addMany(directory.people[0]!.id);
  }
}

const order = (words: string, address: string, body: object, isChosen = false): Html =>
  html`<p>
    <button data-order="${address}" data-body="${JSON.stringify(body)}" aria-pressed="${String(isChosen)}">
      ${words}
    </button>
  </p>`;

const SCRIPT = html`<script>
  document.addEventListener('click', async (event) => {
    const button = event.target.closest('button[data-order]');
    if (!button) return;
    const headers = { 'content-type': 'application/json' };
    await fetch(button.dataset.order, { method: 'POST', headers, body: button.dataset.body });
    location.reload();
  });
</script>`;

const faultPage = (world: PlatformWorld, look: Look): string =>
  pageOf(
    look,
    'What goes wrong here',
    html`<h2>Until it is put right</h2>
      ${PLATFORM_FAULTS.map((fault) => order(FAULT_WORDS[fault], '/faults', { fault }, fault === world.fault))}
      <h2>Once</h2>
      ${Object.entries(EVENTS).map(([event, words]) => order(words, '/faults', { event }))}
      <h2>Consents</h2>
      ${world.directory.people.map(({ id, name }) => html`<p>${name}: ${String(world.consents.of(id).length)}</p>`)}
      <h2>Groups</h2>
      ${world.directory.outlets
        .filter(({ kind }) => kind === 'group')
        .map(({ id, name, hasAllowed }) =>
          order(
            hasAllowed ? `Put the application out of “${name}”` : `Let the application into “${name}”`,
            `/faults/outlets/${id}`,
            { hasAllowed: !hasAllowed },
          ),
        )}
      ${SCRIPT}`,
  );
