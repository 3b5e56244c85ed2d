import { expect, test } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { access, roomsOf, signIn, standin } from './house.js';

test('somebody is invited by letter, joins, and may do what their role says', async ({ page, browser }) => {
  await signIn(page, 'owner');
  await page.goto(`${access.console}/house`);
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  await page.getByLabel('Name').fill('Brannoc Pell');
  await page.getByLabel('Email').fill('brannoc@lantern-quay.example');
  await page.getByLabel('Moderator').check();
  await page.getByLabel('Operator').uncheck();
  await page.getByRole('button', { name: 'Send the invitation' }).click();
  await expect(page.getByText('invited as moderator')).toBeVisible();
  // Others get letters meanwhile, of their duties and of the morning.
  const letterToGuest = async () =>
    (await standin<{ to: string; text: string }[]>('/mail/letters')).find(({ to }) => to.includes('brannoc'));
  await expect.poll(letterToGuest).toBeDefined();
  const letter = await letterToGuest();
  const guest = await (await browser.newContext()).newPage();
  await guest.goto(/https?:\S+\/welcome\/\S+/.exec(letter!.text)![0]);
  await expect(guest.getByRole('heading', { name: 'Welcome to Lantern Quay Commons' })).toBeVisible();
  await guest.getByLabel('Password').fill('a boat and four oars');
  await guest.getByRole('button', { name: 'Join the house' }).click();
  await expect(roomsOf(guest)).toBeVisible();
  await expect(guest.getByRole('button', { name: 'Plan an event' })).toBeHidden();
  await guest.context().close();
});

test('a second factor is set up from its secret; then a code is asked for, and a recovery code lets in once', async ({
  page,
  browser,
}) => {
  await signIn(page, 'treasurer');
  await page.goto(`${access.console}/house/access`);
  await page.getByRole('button', { name: 'Set up two-step sign-in' }).click();
  const secret = await page.getByRole('textbox', { name: 'Secret' }).inputValue();
  await page.getByLabel('Code shown in the app').fill('000000');
  await page.getByRole('button', { name: 'Switch it on' }).click();
  await expect(page.getByText(/is wrong/)).toBeVisible();
  await page
    .getByLabel('Code shown in the app')
    .fill(new TOTP({ secret: Secret.fromBase32(secret) }).generate());
  await page.getByRole('button', { name: 'Switch it on' }).click();
  const codes = page.getByRole('status').getByRole('listitem');
  const recovery = await codes.first().innerText();
  await page.getByRole('button', { name: 'I have written them down' }).click();
  await expect(page.getByText('It is on: you need a code to sign in.')).toBeVisible();

  const person = access.people.find(({ role }) => role === 'treasurer')!;
  for (const isFirst of [true, false]) {
    const elsewhere = await (await browser.newContext()).newPage();
    await elsewhere.goto(access.console);
    await elsewhere.getByLabel('Email').fill(person.email);
    await elsewhere.getByLabel('Password').fill(person.password);
    await elsewhere.getByRole('button', { name: 'Sign in' }).click();
    await elsewhere.getByLabel('Code').fill(recovery.toUpperCase());
    await elsewhere.getByRole('button', { name: 'Sign in' }).click();
    if (isFirst) await expect(roomsOf(elsewhere)).toBeVisible();
    else await expect(elsewhere.getByRole('alert')).toBeVisible();
    await elsewhere.context().close();
  }
});
