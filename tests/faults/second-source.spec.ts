import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { SignalView } from '@heliphon/contracts/signal';
import { subjectOf } from '@heliphon/core/audience/viewers-have';
import { access, api, onAir, openSides, seesMore, type Sides, until } from './installation.js';

interface EventView {
  readonly id: string;
  readonly slug: string;
  readonly version: number;
  readonly sourceId: string;
}
let sides: Sides;
let eventId: string;
let pierId: string;
let gallery: { id: string; name: string };

beforeAll(async () => {
  gallery = await api('/sources', { body: { name: 'West gallery' } });
  const { items } = await api<{ items: EventView[] }>('/events?limit=200');
  ({ id: eventId, sourceId: pierId } = items.find(({ slug }) => slug === onAir.slug)!);
  sides = await openSides();
  await standBy(gallery.id);
  await encoder('start', await api<object>(`/sources/${gallery.id}/key`));
});
afterAll(async () => {
  await encoder('stop');
  await standBy(null);
  await sides.browser.close();
});

async function standBy(standbySourceId: string | null): Promise<void> {
  const { version } = await api<EventView>(`/events/${eventId}`);
  await api(`/events/${eventId}`, { method: 'PATCH', version, body: { standbySourceId } });
}
const viewersHad = async () => (await api<SignalView>(`/events/${eventId}/signal`)).viewersHad;
const encoder = (action: string, order: object = {}): Promise<unknown> =>
  fetch(`${access.standins}/encoders/${encodeURIComponent(gallery.name)}/${action}`, {
    method: 'POST',
    body: JSON.stringify(order),
  });
const deskSays = (words: string | RegExp): Promise<true> =>
  until(() => sides.desk.getByText(words).first().isVisible(), `the desk to say ${String(words)}`);

test('the encoder goes while a second source stands by: viewers get that one, without a slate, and the first again', async () => {
  await until(
    () => sides.desk.getByRole('button', { name: `Switch to it: ${gallery.name}` }).isEnabled(),
    'the second source at the desk',
  );
  const before = (await viewersHad()).length;
  await sides.encoder.getByRole('button', { name: 'Pull the cable for 10 s' }).click();
  await deskSays(`Viewers see the ${gallery.name}.`);
  await seesMore(sides.viewer, 4);
  await deskSays('Viewers see the Pier camera.');
  await seesMore(sides.viewer, 4);
  const since = (await viewersHad()).slice(before - 1);
  expect(since.map(({ kind }) => kind)).not.toContain('slate');
  expect(since.filter(({ kind }) => kind === 'picture').map(subjectOf)).toEqual([pierId, gallery.id, pierId]);
});
