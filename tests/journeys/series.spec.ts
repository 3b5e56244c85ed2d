import { expect, type Page, test } from '@playwright/test';
import { access, api, expectAccessible, signIn } from './house.js';

const TITLE = `Quayside prayers ${Date.now() % 10_000}`;
const slug = TITLE.toLowerCase().replaceAll(' ', '-');
const dates = (desk: Page) => desk.getByRole('region', { name: 'Next dates' }).getByRole('listitem');

test('a weekly series is set up once, by name, day and time; its dates go their own way', async ({
  page: desk,
  browser,
}) => {
  await signIn(desk);

  await test.step('plan it: the rule is said in words, with its next dates', async () => {
    await desk.getByRole('button', { name: 'Plan an event' }).click();
    const dialog = desk.getByRole('dialog');
    await dialog.getByLabel('Title').fill(TITLE);
    await dialog.getByLabel('Day').fill('2030-03-03');
    await dialog.getByLabel('Starts').fill('01:30');
    await dialog.getByLabel('Stops').fill('02:15');
    await dialog.getByLabel('Repeats').selectOption('own');
    await dialog.getByLabel('Rule').fill('every Sunday');
    await expect(dialog.getByText(/We could not read this rule/)).toBeVisible();
    await dialog.getByLabel('Repeats').selectOption({ label: 'every Sunday' });
    const preview = dialog.getByRole('region', { name: 'What this gives' });
    await expect(preview.getByRole('listitem')).toHaveCount(10);
    await expect(preview).toContainText('Every Sunday.');
    await expect(preview).toContainText('Sunday 31 March 2030 the clocks go forward: at 02:30');
    const sunday = nextSunday();
    await dialog.getByLabel('Day').fill(sunday);
    await dialog.getByLabel('Starts').fill('10:30');
    await dialog.getByLabel('Stops').fill('11:30');
    await dialog.getByLabel('Where the picture comes from').selectOption('Spare encoder');
    await dialog.getByRole('button', { name: 'Plan the series' }).click();
    await expect(desk.getByRole('heading', { level: 1, name: TITLE })).toBeVisible();
    await expect(dates(desk)).toHaveCount(10);
  });
  const series = desk.url();
  const viewer = await (await browser.newContext()).newPage();

  await test.step('its one address shows the next date', async () => {
    await viewer.goto(`${access.console}/watch/${slug}`);
    await expect(viewer.getByText('This page starts by itself.')).toBeVisible();
  });

  await test.step('one date is left out, and taken up again', async () => {
    await dates(desk)
      .nth(1)
      .getByRole('button', { name: /Leave out/ })
      .click();
    await expect(
      dates(desk)
        .nth(1)
        .getByRole('button', { name: /^Put it back/ }),
    ).toBeVisible();
    await dates(desk)
      .nth(1)
      .getByRole('button', { name: /^Put it back/ })
      .click();
    await expect(dates(desk).nth(1).getByRole('link')).toBeVisible();
  });

  await test.step('two people change it at once: both versions stand, until one is chosen', async () => {
    const id = series.split('/').at(-1)!;
    const known = desk.getByLabel('Description');
    await known.fill('Bring a lamp.');
    const { version } = await api<{ version: number }>(`/series/${id}`);
    await api(`/series/${id}`, {
      method: 'PATCH',
      headers: { 'if-match': `"${version}"` },
      body: JSON.stringify({ description: 'Bring a friend.' }),
    });
    const both = desk.getByRole('alert', { name: 'Two versions' });
    await expect(both).toContainText(
      'Somebody else has changed the description meanwhile, to “Bring a friend.”',
    );
    await expect(known).toHaveValue('Bring a lamp.');
    await both.getByRole('button', { name: 'Take theirs' }).click();
    await expect(known).toHaveValue('Bring a friend.');
    await expect(desk.getByRole('group', { name: 'Not saved yet' })).toHaveCount(0);
  });

  await test.step('what one date changes is its own, until it is brought to all', async () => {
    await dates(desk).nth(2).getByRole('link').click();
    // The series has a description too, and its page stays until the date's own is there.
    await expect(desk.getByRole('navigation', { name: 'Stages' })).toBeVisible();
    await desk.getByLabel('Description').fill('With the bell-ringers.');
    const choice = desk.getByRole('group', { name: 'Which dates' });
    await expect(choice).toContainText('Just this date: the description.');
    await choice.getByRole('button', { name: 'All dates' }).click();
    await expect(choice).toBeHidden();
    await desk.goto(series);
    await expect(desk.getByLabel('Description')).toHaveValue('With the bell-ringers.');
  });

  await test.step('another time is told before it is saved, and undone', async () => {
    await desk.getByLabel('Starts').fill('18:00');
    await expect(desk.getByText(/When this is saved: 1\d dates get another time/)).toBeVisible();
    await desk.getByRole('button', { name: 'Save for all dates to come' }).click();
    await expect(dates(desk).first()).toContainText('18:00');
    await desk.getByRole('button', { name: 'Undo the last change' }).click();
    await expect(dates(desk).first()).toContainText('10:30');
  });

  await test.step('the next date is cancelled: who waits is told, and told again when it is not', async () => {
    await dates(desk).first().getByRole('link').click();
    await desk.getByRole('button', { name: 'Cancel the event' }).click();
    await desk.getByLabel('Anything else people should know').fill('The storm. We meet in a week.');
    await desk.getByRole('button', { name: `Cancel “${TITLE}”` }).click();
    await expect(viewer.getByText('This event will not take place.')).toBeVisible();
    await expect(viewer.getByText('The storm. We meet in a week.')).toBeVisible();
    await desk.getByRole('button', { name: 'Reinstate it' }).click();
    await expect(viewer.getByText('This page starts by itself.')).toBeVisible();
    await desk.getByRole('button', { name: 'What happened to this event' }).click();
    const history = desk.getByRole('region', { name: 'What happened' }).getByRole('listitem');
    await expect(history.filter({ hasText: 'was cancelled by Ines Tarrow' })).toBeVisible();
  });
});

test('a calendar is pasted, looked at, taken over, and makes nothing twice', async ({ page: desk }) => {
  const uid = `${Date.now()}@elsewhere.example`;
  const text = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'BEGIN:VEVENT',
    `UID:${uid}`,
    'SUMMARY:Blessing of the nets',
    'DTSTART;TZID=Europe/London:20310601T090000',
    'DTEND;TZID=Europe/London:20310601T100000',
    'END:VEVENT',
    'END:VCALENDAR',
  ].join('\n');
  await signIn(desk);
  await desk.getByRole('link', { name: 'Series', exact: true }).click();
  await desk.getByRole('link', { name: 'Calendar files' }).click();
  await desk.getByLabel('Or paste its text').fill('Dear all');
  await desk.getByRole('button', { name: 'Look at it' }).click();
  await expect(desk.getByText(/We could not read this as a calendar/)).toBeVisible();
  await desk.getByLabel('Or paste its text').fill(text);
  await desk.getByRole('button', { name: 'Look at it' }).click();
  await expect(desk.getByText('1 to add, 0 to update, 0 left alone.')).toBeVisible();
  await expectAccessible(desk);
  await desk.getByRole('button', { name: 'Import this one' }).click();
  await expect(desk.getByText('Imported: 1 added, 0 updated, 0 left alone.')).toBeVisible();
  await desk.getByRole('button', { name: 'Look at it' }).click();
  await expect(desk.getByText('left alone: it is already here and unchanged')).toBeVisible();
});

/** The Sunday of next week, wherever this week ends. */
function nextSunday(): string {
  const day = new Date();
  day.setUTCDate(day.getUTCDate() + 14 - day.getUTCDay());
  return day.toISOString().slice(0, 10);
}
