import { expect, test } from '@playwright/test';
import { access, expectAccessible, platformDoes, signIn } from './house.js';
import { allow, consentOf } from './linking.js';

test('an account is linked by its platform’s own consent, and what may be used of it is ticked off', async ({
  page,
}) => {
  await signIn(page);
  await page.goto(`${access.console}/places`);
  const accounts = page.getByRole('region', { name: 'Linked accounts' });
  const account = accounts.getByRole('article').filter({ hasText: 'Ines Tarrow at Skerry' });

  await test.step('a consent that is denied links nothing', async () => {
    const consent = await consentOf(page, 'Link an account at Skerry');
    await consent.getByRole('button', { name: 'Do not allow' }).click();
    await expect(consent.getByRole('alert')).toContainText('Skerry says that the consent was not given.');
    await consent.close();
    await expect(account).toBeHidden();
  });

  await test.step('one that is given closes its window, and is there at once', async () => {
    const consent = await consentOf(page, 'Link an account at Skerry');
    await consent.getByLabel('Gig rowers (group)').uncheck();
    await consent.getByLabel('Only me').check();
    await allow(consent);
    await expect(account).toContainText('4 outlets may be used');
    await expect(account).toContainText('what is posted is seen by nobody else');
  });

  await test.step('outlets are found by name, and what is missing of one is said', async () => {
    await account.getByRole('button', { name: 'Choose what is used' }).click();
    await account.getByLabel('Find by name').fill('quay');
    const outlets = account.getByRole('list', { name: 'Outlets of Ines Tarrow' });
    await expect(outlets.getByRole('listitem')).toHaveCount(2);
    await outlets.getByLabel('Friends of the Quay').check();
    await outlets.getByLabel('Lantern Quay Commons').check();
    await expectAccessible(page);
    await account.getByRole('button', { name: 'Close' }).click();
    await expect(account.getByRole('listitem').filter({ hasText: 'Friends of the Quay' })).toContainText(
      'The group has not let us in yet.',
    );
  });

  await test.step('a consent that is taken back over there is told, and linking again keeps what was chosen', async () => {
    await platformDoes('skerry', { event: 'revoke-consents' });
    await account.getByRole('button', { name: 'Choose what is used' }).click();
    await account.getByRole('button', { name: 'Ask again what is there' }).click();
    await expect(account.getByRole('alert')).toContainText('The consent of Ines Tarrow at Skerry has ended.');
    await expect(account).toContainText('the consent ended on');
    await allow(await consentOf(page, 'Link again'));
    await expect(account).toContainText('the consent lasts until');
    await account.getByRole('button', { name: 'Close' }).click();
    await expect(account.getByRole('listitem')).toHaveCount(2);
    await expectAccessible(page);
  });

  await test.step('when events are posted there is chosen for each outlet', async () => {
    const ahead = account.getByLabel('When events are posted at Lantern Quay Commons');
    await expect(ahead).toHaveValue('168');
    await ahead.selectOption('48');
    await page.reload();
    await expect(ahead).toHaveValue('48');
  });

  await test.step('it is unlinked by holding a button, once it is said what that touches', async () => {
    await account.getByRole('button', { name: 'Choose what is used' }).click();
    await account.getByRole('button', { name: 'Unlink', exact: true }).click();
    const asked = account.getByRole('group', { name: 'Unlink Ines Tarrow at Skerry?' });
    await expect(asked).toContainText('Nothing that is planned goes there.');
    await expectAccessible(page);
    await asked.getByRole('button', { name: 'Unlink: hold' }).focus();
    await page.keyboard.down('Enter');
    await expect(account).toBeHidden();
    await page.keyboard.up('Enter');
  });
});
