import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Check } from '@heliphon/core/readiness/readiness';
import { AccountLetters } from '../src/accounts/account-letters.js';
import { AccountLooks } from '../src/accounts/account-looks.js';
import { AccountTokens } from '../src/accounts/account-tokens.js';
import type { Letter } from '../../standins/src/mail/mail-box.js';
import { type HouseClient, until } from './driver.js';
import { DAY_MIN, eventAt, OURS, PlatformHouse } from './platform-house.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;

let platforms: PlatformHouse;
beforeAll(async () => {
  platforms = await PlatformHouse.start();
});
afterAll(() => platforms.stop());

const lettersTo = ({ email }: HouseClient): Letter[] =>
  platforms.mail.letters.filter(({ to, subject }) => to === email && /consent|let us in/.test(subject));
const letter = (to: HouseClient, nth: number): Promise<Letter> =>
  until(() => lettersTo(to)[nth], `letter ${nth + 1}`);
const look = (): Promise<void> => platforms.server.app.get(AccountLetters).work();

test('a consent that has ended is told once to those who may link again, and shown with the event', async () => {
  const { server, world } = platforms;
  const producer = await server.house('producer');
  const operator = await server.member(producer.houseId, 'operator');
  const { placeId, accountId } = await platforms.placeAt(producer, 'skerry', 'quay');
  const event = await eventAt(producer, placeId, 'Evensong', 2 * DAY_MIN);
  const readiness = async () => {
    const { checks } = (await producer.get<{ checks: Check[] }>(`/api/events/${event.id}/readiness`)).body;
    return checks.find(({ code }) => code === 'accounts')!;
  };
  expect((await readiness()).status).toBe('passed');
  world.platforms.skerry.consents.revokeAll('ines');
  await platforms.pass(2 * HOUR_MS);
  await server.app.get(AccountTokens).work();
  await look();
  const { subject, text } = await letter(producer, 0);
  expect(subject).toMatch(/^Ines Tarrow’s consent at Skerry has ended \(/);
  expect(text).toContain('Evensong');
  expect(text).toContain(`${OURS}/places`);
  expect(await readiness()).toMatchObject({ status: 'stops', detail: { kind: 'consent-ended', accountId } });

  // The same for another event is not told again; nothing is the matter once it is linked again.
  await eventAt(producer, placeId, 'Vespers', 3 * DAY_MIN);
  await look();
  await platforms.link(producer, 'skerry', { outlets: ['quay'] }, accountId);
  await look();
  expect((await readiness()).status).toBe('passed');
  // A consent lasts sixty days.
  await platforms.pass(58 * DAY_MS);
  await eventAt(producer, placeId, 'In two months', 61 * DAY_MIN);
  await look();
  expect((await letter(producer, 1)).subject).toContain('ends before this event is over');
  expect(lettersTo(producer)).toHaveLength(2);
  expect(lettersTo(operator)).toEqual([]);
  await platforms.pass(0);
});

test('a group that has not let us in is told a week ahead, and not before', async () => {
  const { server, world } = platforms;
  const producer = await server.house('producer');
  const { placeId, accountId } = await platforms.placeAt(producer, 'skerry', 'friends');
  await eventAt(producer, placeId, 'Early', 9 * DAY_MIN);
  await look();
  expect(lettersTo(producer)).toEqual([]);
  await eventAt(producer, placeId, 'Soon', 5 * DAY_MIN);
  await look();
  const { subject, text } = await letter(producer, 0);
  expect(subject).toContain('Friends of the Quay at Skerry has not let us in yet');
  expect(text).not.toContain('Early');
  world.platforms.skerry.directory.allow('friends', true);
  await platforms.pass(4 * HOUR_MS);
  await server.app.get(AccountLooks).work();
  await look();
  world.platforms.skerry.directory.allow('friends', false);
  await producer.post(`/api/accounts/${accountId}/look`);
  await look();
  // It was right meanwhile: so it is told again.
  await letter(producer, 1);
  await platforms.pass(0);
});
