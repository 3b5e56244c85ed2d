import { randomUUID } from 'node:crypto';
import { expect, type Page } from '@playwright/test';
import { access, api, hold } from './house.js';

export interface EventView {
  readonly id: string;
  readonly slug: string;
  readonly title: string;
  readonly state: string;
}
export interface SourceView {
  readonly id: string;
  readonly name: string;
  readonly version: number;
}

/** What is added stays: a second try adds its own. */
export const own = (name: string): string => `${name} ${Date.now() % 100_000}`;

export const addSource = (name: string): Promise<SourceView> =>
  api('/sources', { method: 'POST', body: JSON.stringify({ name }) });

/** An event of this evening with a source. */
export async function planEvent(title: string, sourceId: string): Promise<EventView> {
  const day = new Date(Date.now() + 20 * 3_600_000).toISOString().slice(0, 10);
  const body = { title, startsAtLocal: `${day}T21:00`, stopsAtLocal: `${day}T22:00`, sourceId };
  return api('/events', { method: 'POST', body: JSON.stringify(body) });
}

/** Plans a service of an hour for every Sunday from a day on, by the dialogue; the series is open then. */
export async function planWeekly(page: Page, title: string, firstDay: string): Promise<void> {
  await page.getByRole('button', { name: 'Plan an event' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Title').fill(title);
  await dialog.getByLabel('Day').fill(firstDay);
  await dialog.getByLabel('Starts').fill('10:30');
  await dialog.getByLabel('Stops').fill('11:30');
  await dialog.getByLabel('Where the picture comes from').selectOption('Tower box');
  await dialog.getByLabel('Repeats').selectOption({ label: 'every Sunday' });
  await dialog.getByRole('button', { name: 'Plan the series' }).click();
  await expect(page.getByRole('heading', { level: 1, name: title })).toBeVisible();
}

export const stateOf = async (id: string): Promise<string> => (await api<EventView>(`/events/${id}`)).state;

/** On air by the desk, without waiting for its time. */
export async function goOnAir(page: Page, { id }: EventView): Promise<void> {
  await page.goto(`${access.console}/events/${id}/air`);
  await page.getByRole('button', { name: 'Open the doors' }).click();
  await expect(page.getByText('People see the countdown', { exact: false })).toBeVisible();
  await hold(page, 'Go on air: hold', async () => (await stateOf(id)) === 'air');
}

export const end = (event: EventView): Promise<unknown> =>
  api(`/events/${event.id}/end`, {
    method: 'POST',
    body: JSON.stringify({ commandId: randomUUID(), fromState: 'air' }),
  });
