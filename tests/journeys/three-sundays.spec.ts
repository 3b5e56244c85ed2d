import { expect, type Page, test } from '@playwright/test';
import ICAL from 'ical.js';
import { access, expectAccessible, positionIn, setClock, signIn, standin } from './house.js';
import { planWeekly } from './own-event.js';

/**
 * A weekly service is set up once; then the clock is moved through three Sundays, over a change of the clocks. It runs
 * last: nothing else in this installation is as it was when months have passed.
 */

const ENCODER = 'tower';
const YEAR = 2027;
/** London goes over to summer time on 28 March. */
const [FIRST, SECOND, THIRD, FOURTH, FIFTH, SIXTH] = [
  '2027-03-21',
  '2027-03-28',
  '2027-04-04',
  '2027-04-11',
  '2027-04-18',
  '2027-04-25',
];
const TITLE = `Quayside service ${Date.now() % 10_000}`;

interface Listed<T> {
  readonly items: readonly T[];
}
interface EventFound {
  readonly id: string;
  readonly title: string;
  readonly state: string;
  readonly startsAtMs: number;
  readonly version: number;
  readonly series: { readonly date: string } | null;
}

const nextDates = (desk: Page) =>
  desk
    .getByRole('region', { name: 'Next dates' })
    .getByRole('listitem')
    .filter({ has: desk.getByRole('button', { name: /^Leave out/ }) });

test('a weekly service is set up once, and three Sundays need nothing', async ({ page: desk, browser }) => {
  await setClock(Date.UTC(YEAR, 2, 18, 12));
  await signIn(desk, 'owner');
  /** What the console asks, as the person signed in. */
  const ask = <T>(path: string, method = 'GET', body?: object, version?: number): Promise<T> =>
    desk.evaluate(
      async ([path, method, body, version]) => {
        const headers = {
          'content-type': 'application/json',
          ...(version === undefined ? {} : { 'if-match': `"${version}"` }),
        };
        const init = body ? { method, headers, body: JSON.stringify(body) } : { method, headers };
        return (await (await fetch(`/api${path}`, init)).json()) as unknown;
      },
      [path, method, body, version] as const,
    ) as Promise<T>;

  await test.step('by name, day and time, with source, place and who takes turns', async () => {
    await planWeekly(desk, TITLE, FIRST!);
    await desk.getByRole('button', { name: 'Coast relay' }).click();
    await desk.getByLabel('Run over, min').fill('0');
    await desk.getByRole('combobox', { name: 'Operator' }).selectOption('Odo Fenwright');
    await desk.getByRole('combobox', { name: 'Operator' }).selectOption('Pell Rowan');
    await desk.getByRole('button', { name: 'Save for all dates to come' }).click();
    await expect(nextDates(desk).first()).toContainText('Odo');
    await expect(nextDates(desk).nth(1)).toContainText('Pell');
  });
  const series = desk.url();
  const seriesId = /series\/([0-9a-f-]+)/.exec(series)![1]!;
  const { slug } = await ask<{ slug: string }>(`/series/${seriesId}`);
  const dates = async (): Promise<EventFound[]> => {
    const from = Date.UTC(YEAR, 2, 1);
    const { items } = await ask<Listed<EventFound>>(`/events?from=${from}&limit=100&q=${TITLE}`);
    return items.filter((event) => event.series);
  };
  const dateOn = async (date: string): Promise<EventFound> =>
    (await dates()).find((event) => event.series!.date === date)!;

  await test.step('its people get one letter with all their dates', async () => {
    await setClock(Date.UTC(YEAR, 2, 18, 12, 10));
    const letters = await (await browser.newContext()).newPage();
    await expect(async () => {
      await letters.goto(`${access.standins}/mail`);
      await expect(letters.getByText(/Can you come\? \d dates at Lantern Quay Commons/).first()).toBeVisible({
        timeout: 500,
      });
    }).toPass();
  });

  await test.step('one date differs, one is cancelled, one is moved', async () => {
    const [fourth, fifth, sixth] = [await dateOn(FOURTH!), await dateOn(FIFTH!), await dateOn(SIXTH!)];
    await ask(`/events/${fourth.id}`, 'PATCH', { title: `${TITLE} with the gig crews` }, fourth.version);
    await ask(`/events/${fifth.id}/cancel`, 'POST', { fromState: 'planned', notice: 'The storm.' });
    const times = { startsAtLocal: `${SIXTH}T12:00`, stopsAtLocal: `${SIXTH}T13:00` };
    await ask(`/events/${sixth.id}`, 'PATCH', times, sixth.version);
  });

  // The encoder box was set once, and sends whenever it is switched on.
  const { items: sources } = await ask<Listed<{ id: string; name: string }>>('/sources');
  const { address, key } = await ask<{ address: string; key: string }>(
    `/sources/${sources.find(({ name }) => name === 'Tower box')!.id}/key`,
  );
  await standin(`/encoders/${ENCODER}/start`, { address, key });
  const viewer = await (await browser.newContext()).newPage();

  for (const [date, utcHour] of [
    [FIRST!, 10],
    [SECOND!, 9],
    [THIRD!, 9],
  ] as const) {
    await test.step(`Sunday ${date}: countdown, picture and replay, at one address and by itself`, async () => {
      const startsAtMs = Date.parse(`${date}T${String(utcHour).padStart(2, '0')}:30:00Z`);
      await setClock(startsAtMs - 10 * 60_000);
      await viewer.goto(`${access.console}/watch/${slug}`);
      // Whatever else was due in those weeks comes first.
      await expect(viewer.getByRole('timer')).toBeVisible();
      await expect(viewer.getByText('We start at 10:30')).toBeVisible();
      await setClock(startsAtMs - 1000);
      const player = viewer.getByRole('group', { name: /Player/ });
      await expect(player).toHaveAttribute('data-state', 'playing');
      const from = await positionIn(viewer);
      await expect.poll(() => positionIn(viewer)).toBeGreaterThan(from + 5);
      await setClock(startsAtMs + 3_600_000 - 1000);
      await expect(player).toHaveAttribute('data-kind', 'replay');
    });
  }
  await standin(`/encoders/${ENCODER}/stop`, {});

  await test.step('three recordings are there, and the fourth date is planned', async () => {
    await desk.goto(`${access.console}/archive`);
    await expect(desk.getByRole('link', { name: TITLE, exact: true })).toHaveCount(3);
    const states = (await dates()).map(({ series, state }) => [series!.date, state]);
    expect(states.slice(0, 6)).toEqual([
      [FIRST, 'kept'],
      [SECOND, 'kept'],
      [THIRD, 'kept'],
      [FOURTH, 'planned'],
      [FIFTH, 'cancelled'],
      [SIXTH, 'planned'],
    ]);
    await setClock(Date.UTC(YEAR, 3, 6, 12));
    await viewer.goto(`${access.console}/watch/${slug}`);
    await expect(viewer.getByRole('heading', { name: `${TITLE} with the gig crews` })).toBeVisible();
    await expectAccessible(viewer);
  });

  await test.step('what differs is shown rightly to viewers, and to a calendar that follows', async () => {
    const { address } = await ask<{ address: string }>('/own/calendar', 'POST', {});
    const text = await (await fetch(address)).text();
    const calendar = new ICAL.Component(ICAL.parse(text) as unknown[]);
    for (const zone of calendar.getAllSubcomponents('vtimezone')) ICAL.TimezoneService.register(zone);
    const all = calendar.getAllSubcomponents('vevent');
    const master = all.find(
      (entry) =>
        entry.hasProperty('rrule') && String(entry.getFirstPropertyValue('summary')).startsWith(TITLE),
    )!;
    const isOfIt = (entry: typeof master): boolean =>
      entry.hasProperty('recurrence-id') &&
      entry.getFirstPropertyValue('uid') === master.getFirstPropertyValue('uid');
    const rule = new ICAL.Event(master, { exceptions: all.filter(isOfIt) });
    const walk = rule.iterator();
    const entries = Array.from({ length: 10 }, () => {
      const { item, startDate } = rule.getOccurrenceDetails(walk.next());
      return {
        summary: item.summary,
        at: startDate.toJSDate().toISOString(),
        status: String(item.component.getFirstPropertyValue('status')),
      };
    });
    const on = (day: string) =>
      entries.find(({ at, summary }) => at.startsWith(day) && summary.startsWith(TITLE));
    expect(on(FIRST!)?.at).toBe(`${FIRST}T10:30:00.000Z`);
    expect(on(SECOND!)?.at).toBe(`${SECOND}T09:30:00.000Z`);
    expect(on(FOURTH!)?.summary).toBe(`${TITLE} with the gig crews`);
    expect(on(FIFTH!)?.status).toBe('CANCELLED');
    expect(on(SIXTH!)?.at).toBe(`${SIXTH}T11:00:00.000Z`);

    await setClock(Date.parse(`${FIFTH}T08:00:00Z`));
    await viewer.goto(`${access.console}/watch/${slug}`);
    await expect(viewer.getByText('This event will not take place.')).toBeVisible();
    await expect(viewer.getByText('The storm.')).toBeVisible();
    await setClock(Date.parse(`${SIXTH}T08:00:00Z`));
    await viewer.goto(`${access.console}/watch/${slug}`);
    await expect(viewer.getByText('We start Sun 25 Apr, 12:00. This page starts by itself.')).toBeVisible();
    // Five weeks after the planning its session has run out.
    await signIn(desk, 'owner');
    const { id, version } = await dateOn(SIXTH!);
    await ask(`/events/${id}`, 'PATCH', { startsAtLocal: `${SIXTH}T12:30` }, version);
    await expect(
      viewer.getByText('The time has changed; this was due to start Sun 25 Apr, 12:00.'),
    ).toBeVisible();
  });
});
