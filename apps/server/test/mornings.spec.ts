import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { EventView } from '@heliphon/contracts/events';
import type { OwnLetters } from '@heliphon/contracts/people';
import type { Page } from '@heliphon/contracts/problem';
import type { Letter, MailBox } from '../../standins/src/mail/mail-box.js';
import { type HouseClient, type ServerDriver, startWithMail, until } from './driver.js';

let server: ServerDriver;
let mail: MailBox;
let stop: () => Promise<void>;
beforeAll(async () => ({ server, mail, stop } = await startWithMail()));
afterAll(() => stop());

/** By the clock on the wall of London, in winter. */
const at = (local: string) => server.setClock(Date.parse(`${local}:00Z`) - Date.now());
const lettersTo = ({ email }: HouseClient): Letter[] => mail.letters.filter(({ to }) => to === email);
const plan = (house: HouseClient, title: string, day: string): Promise<unknown> =>
  house.post<EventView>('/api/events', {
    title,
    startsAtLocal: `${day}T18:00`,
    stopsAtLocal: `${day}T19:00`,
  });
/** The clock has looked around in every house: one that has an event today had its letter. */
async function allTold(day: string): Promise<void> {
  const witness = await server.house('owner');
  await plan(witness, 'Witness', day);
  await until(() => lettersTo(witness)[0], `the letter of ${day}`);
}

test('in the morning the people of a house read what is on and what is still to do, once', async () => {
  await at('2028-02-13T05:00');
  const producer = await server.house('producer');
  const treasurer = await server.member(producer.houseId, 'treasurer');
  const silent = await server.member(producer.houseId, 'operator');
  const browser = await server.browser(silent);
  await browser.ask<OwnLetters>('PATCH', '/api/own/letters', { morning: false });
  expect((await browser.get<OwnLetters>('/api/own/letters')).body).toEqual({ morning: false });
  await plan(producer, 'Evensong', '2028-02-13');
  await plan(producer, 'Vespers', '2028-02-15');
  await plan(producer, 'Far away', '2028-02-25');
  const quiet = await server.house('producer');

  await at('2028-02-13T07:01');
  const letter = await until(() => lettersTo(producer)[0], 'the letter');
  expect(letter.subject).toBe('“Evensong” today: 3 still to do');
  expect(letter.text).toContain('18:00 to 19:00  Evensong\n  - No source is chosen (must be put right).');
  expect(letter.text).toContain('Coming up:\n\nTue 15 Feb, 18:00 to 19:00  Vespers');
  expect(letter.text).not.toContain('Far away');
  await allTold('2028-02-13');
  for (const other of [treasurer, silent, quiet]) expect(lettersTo(other)).toEqual([]);

  // The same morning again, and a morning with nothing on and nothing to do.
  await at('2028-02-13T11:00');
  await allTold('2028-02-13');
  expect(lettersTo(producer)).toHaveLength(1);
  await at('2028-02-18T07:30');
  await allTold('2028-02-18');
  expect(lettersTo(producer)).toHaveLength(1);
});

test('somebody on duty today gets it whatever their role, and reads of a cancelled event', async () => {
  await at('2028-03-01T05:00');
  const house = await server.house('producer');
  const helper = await server.member(house.houseId, 'moderator');
  const people = (await house.get<Page<{ id: string; email: string }>>('/api/people')).body.items;
  const personId = people.find(({ email }) => email === helper.email)!.id;
  await plan(house, 'Evensong', '2028-03-01');
  await plan(house, 'Choir', '2028-03-01');
  const events = (await house.get<Page<EventView>>('/api/events')).body.items;
  const [evensong, choir] = ['Evensong', 'Choir'].map((name) => events.find(({ title }) => title === name)!);
  await house.patch(`/api/events/${evensong!.id}`, evensong!.version, {
    duties: [{ duty: 'moderator', personId }],
  });
  await house.post(`/api/events/${choir!.id}/cancel`, { fromState: 'planned', notice: '' });
  await at('2028-03-01T08:00');
  const text = (await until(() => lettersTo(helper).find(({ subject }) => /today/.test(subject)), 'it')).text;
  expect(text).toContain('On duty: A moderator (moderator, not answered)');
  expect(text).toContain('Choir: cancelled');
});
