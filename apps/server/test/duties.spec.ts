import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import ICAL from 'ical.js';
import type { OnDuty } from '@heliphon/core/duties/duties';
import type { OwnDuties } from '@heliphon/contracts/duties';
import type { EventView, ReadinessView } from '@heliphon/contracts/events';
import type { PersonView } from '@heliphon/contracts/people';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { SeriesView } from '@heliphon/contracts/series';
import type { Letter, MailBox } from '../../standins/src/mail/mail-box.js';
import { type HouseClient, type ServerDriver, startWithMail, until } from './driver.js';

const DAY_MS = 86_400_000;
/** A Monday in winter. */
const TODAY_MS = Date.UTC(2028, 1, 7, 9);

let server: ServerDriver;
let mail: MailBox;
let house: HouseClient;
let odo: HouseClient;
let pell: HouseClient;
let clockMs = TODAY_MS;
/** Which person of the house a client is. */
const ids = new Map<string, string>();
const idOf = ({ email }: HouseClient): string => ids.get(email)!;

let stop: () => Promise<void>;
beforeAll(async () => ({ server, mail, stop } = await startWithMail()));
afterAll(() => stop());
beforeEach(async () => {
  await at((clockMs = TODAY_MS));
  house = await server.house('producer');
  odo = await server.member(house.houseId, 'operator');
  pell = await server.member(house.houseId, 'operator');
  const people = (await house.get<Page<PersonView>>('/api/people')).body.items;
  for (const { email, id } of people) ids.set(email, id);
});

async function at(ms: number): Promise<void> {
  clockMs = ms;
  await server.setClock(ms - Date.now());
}
/** The planner has been quiet for a while: letters go out. */
const afterAWhile = (): Promise<void> => at(clockMs + 2 * 60_000);

const lettersTo = ({ email }: HouseClient): Letter[] => mail.letters.filter(({ to }) => to === email);
const letterTo = (client: HouseClient, nth: number): Promise<Letter> =>
  until(() => lettersTo(client)[nth], `letter ${nth + 1}`);
const linkIn = ({ text }: Letter): string => new URL(/http\S+\/duties\/\S+/.exec(text)![0]).pathname;

async function event(over: object = {}): Promise<EventView> {
  const wish = {
    title: 'Evensong',
    startsAtLocal: '2028-02-13T18:00',
    stopsAtLocal: '2028-02-13T19:00',
    ...over,
  };
  return (await house.post<EventView>('/api/events', wish)).body;
}
const edit = async (view: EventView, change: object): Promise<EventView> =>
  (await house.patch<EventView>(`/api/events/${view.id}`, (await house.current(view)).version, change)).body;
const operator = (who: HouseClient): OnDuty => ({ duty: 'operator', personId: idOf(who) });
const series = async (duties: object, over: object = {}): Promise<SeriesView> => {
  const wish = {
    title: 'Sunday service',
    rule: 'FREQ=WEEKLY;BYDAY=SU',
    firstDate: '2028-02-13',
    timeOfDay: '10:30',
    lengthMinutes: 60,
    ...over,
  };
  const made = (await house.post<SeriesView>('/api/series', wish)).body;
  return (await house.patch<SeriesView>(`/api/series/${made.id}`, made.version, { duties })).body;
};
const eventsOf = async ({ id }: SeriesView): Promise<EventView[]> => {
  const path = `/api/events?from=${TODAY_MS}&to=${TODAY_MS + 120 * DAY_MS}&limit=200`;
  return (await house.get<Page<EventView>>(path)).body.items.filter((one) => one.series?.id === id);
};
const operatorsOf = (events: readonly EventView[]): (string | undefined)[] =>
  events.map(
    ({ duties }) => duties.find(({ duty, answer }) => duty === 'operator' && answer !== 'no')?.personId,
  );
const say = (
  client: { post: HouseClient['post'] },
  path: string,
  view: EventView,
  answer: string,
  note = '',
) => client.post<OwnDuties & Problem>(path, { eventId: view.id, duty: 'operator', answer, note });

describe('on duty', () => {
  test('anyone who is chosen gets one letter, and says yes by its link without signing in', async () => {
    const planned = await event();
    await edit(planned, { duties: [operator(odo)] });
    await edit(planned, { title: 'Evensong by lamplight' });
    await afterAWhile();
    const letter = await letterTo(odo, 0);
    expect(letter.subject).toMatch(/^Can you come\? Sun 13 Feb, 18:00 at House/);
    expect(letter.text).toContain('- Sun 13 Feb, 18:00: Evensong by lamplight, as operator');

    const path = `/api${linkIn(letter)}`;
    const seen = (await server.anybody().get<OwnDuties>(path)).body;
    expect(seen.items).toMatchObject([{ title: 'Evensong by lamplight', duty: 'operator', answer: null }]);
    const said = await say(server.anybody(), path, planned, 'yes');
    expect(said.body.items[0]!.answer).toBe('yes');
    expect((await house.current(planned)).duties).toEqual([{ ...operator(odo), answer: 'yes', note: '' }]);
    await afterAWhile();
    await edit(planned, { description: 'All are welcome.' });
    await afterAWhile();
    await edit(planned, { duties: [operator(pell)] });
    await afterAWhile();
    // The second letter is about the third change: the one between told them nothing new.
    expect((await letterTo(odo, 1)).text).toContain('You are no longer needed on:\n- Sun 13 Feb');
    expect((await letterTo(pell, 0)).text).toContain('Could you help on this date');
  });

  test('who cannot come says so; the producer is told, and it stands in the readiness list', async () => {
    const planned = await edit(await event(), { duties: [operator(odo)] });
    const browser = await server.browser(odo);
    await say(browser, '/api/own/duties', planned, 'no', 'I am at sea.');
    const letter = await letterTo(house, 0);
    expect(letter.text).toContain('cannot come as operator for “Evensong” on Sun 13 Feb, 18:00');
    expect(letter.text).toContain('They say: “I am at sea.”');
    expect(letter.text).toContain('Nobody has been asked instead');
    const { checks } = (await house.get<ReadinessView>(`/api/events/${planned.id}/readiness`)).body;
    expect(checks.find(({ code }) => code === 'people')).toMatchObject({
      status: 'warns',
      detail: { kind: 'cannot', duty: 'operator' },
    });
    const stoodIn = await edit(planned, { duties: [operator(pell)] });
    expect(stoodIn.duties.map(({ answer }) => answer).sort()).toEqual(['no', null].sort());
    expect((await say(browser, '/api/own/duties', planned, 'yes')).body.code).toBe('somebody-stands-in');
  });

  test('who has answered before the letter went out gets none about that date', async () => {
    const planned = await edit(await event(), { duties: [operator(odo)] });
    const browser = await server.browser(odo);
    await say(browser, '/api/own/duties', planned, 'no');
    await say(browser, '/api/own/duties', planned, 'yes');
    const other = await event({
      title: 'Vespers',
      startsAtLocal: '2028-02-14T18:00',
      stopsAtLocal: '2028-02-14T19:00',
    });
    await edit(other, { duties: [operator(odo)] });
    await afterAWhile();
    const { text } = await letterTo(odo, 0);
    expect(text).toContain('Vespers');
    expect(text).not.toContain('Evensong');
  });

  test('where somebody never stops planning, letters go all the same', async () => {
    await edit(await event(), { duties: [operator(odo)] });
    for (let press = 0; press < 7 && lettersTo(odo).length === 0; press += 1) {
      await at(clockMs + 50_000);
      await event({ title: `Draft ${press}` });
    }
    expect((await letterTo(odo, 0)).text).toContain('Evensong');
  });

  test('a date that moves or is cancelled is told to anyone who is on duty', async () => {
    const planned = await edit(await event(), { duties: [operator(odo)] });
    await afterAWhile();
    await letterTo(odo, 0);
    const moved = await edit(planned, { startsAtLocal: '2028-02-13T17:00' });
    await afterAWhile();
    expect((await letterTo(odo, 1)).text).toContain('- Sun 13 Feb, 17:00: Evensong, as operator (new time)');
    await house.post(`/api/events/${moved.id}/cancel`, { fromState: 'planned', notice: 'The storm.' });
    await afterAWhile();
    expect((await letterTo(odo, 2)).text).toContain('(cancelled: no need to come)');
    const gone = await edit(await event({ title: 'Vespers' }), { duties: [operator(odo)] });
    await afterAWhile();
    await letterTo(odo, 3);
    await house.delete(`/api/events/${gone.id}`);
    await afterAWhile();
    expect((await letterTo(odo, 4)).text).toContain(
      'You are no longer needed on:\n- Sun 13 Feb, 18:00: Vespers',
    );
  });

  test('two duties at one time are warned of', async () => {
    const planned = await edit(await event(), { duties: [operator(odo)] });
    await edit(await event({ title: 'Choir' }), { duties: [{ duty: 'moderator', personId: idOf(odo) }] });
    const { checks } = (await house.get<ReadinessView>(`/api/events/${planned.id}/readiness`)).body;
    expect(checks.find(({ code }) => code === 'people')).toMatchObject({
      status: 'warns',
      detail: { kind: 'twice', title: 'Choir' },
    });
  });

  test('only people of the house are chosen, each duty once; who leaves is down for nothing', async () => {
    const stranger = await server.house('operator');
    const strangerId = (await stranger.get<Page<PersonView>>('/api/people')).body.items[0]!.id;
    const planned = await event();
    const wrong = [
      [{ duty: 'operator', personId: strangerId }],
      [operator(odo), operator(pell)],
      [{ duty: 'bishop', personId: idOf(odo) }],
    ];
    for (const duties of wrong)
      expect((await house.patch(`/api/events/${planned.id}`, planned.version, { duties })).status).toBe(422);
    await edit(planned, { duties: [operator(odo)] });
    const owner = await server.member(house.houseId, 'owner');
    await owner.delete(`/api/people/${idOf(odo)}`);
    expect((await house.current(planned)).duties).toEqual([]);
  });

  test('a choice is undone', async () => {
    const planned = await edit(await event(), { duties: [operator(odo)] });
    await house.post('/api/happenings/undo-last', { subjectId: planned.id });
    expect((await house.current(planned)).duties).toEqual([]);
  });

  test('one’s own dates are in one’s own calendar, at an address that can be renewed', async () => {
    await event({ title: 'Not mine' });
    const planned = await edit(await event(), { duties: [operator(odo)] });
    const browser = await server.browser(odo);
    const { calendar } = (await browser.get<OwnDuties>('/api/own/duties')).body;
    const read = async (address: string) => {
      const { status, body } = await server.anybody().get<string>(new URL(address).pathname);
      if (status !== 200) return status;
      return new ICAL.Component(ICAL.parse(body) as unknown[])
        .getAllSubcomponents('vevent')
        .map((component) => new ICAL.Event(component).summary);
    };
    expect(await read(calendar)).toEqual(['Evensong (operator)']);
    const renewed = (await browser.post<OwnDuties>('/api/own/duties/address')).body.calendar;
    expect(await read(calendar)).toBe(404);
    await say(browser, '/api/own/duties', planned, 'no');
    expect(await read(renewed)).toEqual([]);
    // The address of the house's calendar answers for nobody.
    const { address } = (await browser.post<{ address: string }>('/api/own/calendar')).body;
    const secret = /(\w+)\.ics$/.exec(address)![1]!;
    expect((await server.anybody().get(`/api/duties/${secret}`)).status).toBe(404);
  });
});

describe('taking turns in a series', () => {
  test('goes date by date, and a date that is left out changes nobody else’s', async () => {
    const made = await series([{ duty: 'operator', personIds: [idOf(odo), idOf(pell)] }]);
    const before = await eventsOf(made);
    expect(operatorsOf(before).slice(0, 4)).toEqual([idOf(odo), idOf(pell), idOf(odo), idOf(pell)]);
    await house.ask('PUT', `/api/series/${made.id}/skips/${before[1]!.series!.date}`);
    expect(operatorsOf(await eventsOf(made)).slice(0, 3)).toEqual([idOf(odo), idOf(odo), idOf(pell)]);
  });

  test('all dates come in one letter; the next in turn is asked for those who cannot, and goes on being asked', async () => {
    const made = await series([{ duty: 'operator', personIds: [idOf(odo), idOf(pell), idOf(house)] }]);
    const [first] = await eventsOf(made);
    await afterAWhile();
    const letter = await letterTo(odo, 0);
    expect(letter.subject).toMatch(/^Can you come\? 5 dates/);
    await say(server.anybody(), `/api${linkIn(letter)}`, first!, 'no');
    expect(operatorsOf(await eventsOf(made))[0]).toBe(idOf(pell));
    const pells = await server.browser(pell);
    await say(pells, '/api/own/duties', first!, 'no');
    expect(operatorsOf(await eventsOf(made))[0]).toBe(idOf(house));
    // Everybody has said no: the date is without anybody, and says so.
    const houses = await server.browser(house);
    await say(houses, '/api/own/duties', first!, 'no');
    expect((await eventsOf(made))[0]!.duties.map(({ answer }) => answer)).toEqual(['no', 'no', 'no']);
  });

  test('nobody is asked to stand in who is needed elsewhere', async () => {
    const made = await series([{ duty: 'operator', personIds: [idOf(odo), idOf(pell), idOf(house)] }]);
    const [first] = await eventsOf(made);
    await edit(await event({ startsAtLocal: '2028-02-13T11:00', stopsAtLocal: '2028-02-13T12:00' }), {
      duties: [{ duty: 'moderator', personId: idOf(pell) }],
    });
    await say(await server.browser(odo), '/api/own/duties', first!, 'no');
    expect(operatorsOf(await eventsOf(made))[0]).toBe(idOf(house));
  });

  test('another list goes to all dates but those where somebody has answered or was chosen by hand', async () => {
    const made = await series([{ duty: 'operator', personIds: [idOf(odo)] }]);
    const events = await eventsOf(made);
    await say(await server.browser(odo), '/api/own/duties', events[0]!, 'yes');
    await edit(events[1]!, { duties: [operator(house)] });
    const { version } = (await house.get<SeriesView>(`/api/series/${made.id}`)).body;
    await house.patch(`/api/series/${made.id}`, version, {
      duties: [{ duty: 'operator', personIds: [idOf(pell)] }],
    });
    expect(operatorsOf(await eventsOf(made)).slice(0, 3)).toEqual([idOf(odo), idOf(house), idOf(pell)]);
  });

  test('whom one date has by itself, all can have; undone, everybody’s turn is theirs again', async () => {
    const made = await series([{ duty: 'operator', personIds: [idOf(odo), idOf(pell)] }]);
    const [, second] = await eventsOf(made);
    await edit(second!, { duties: [operator(house)] });
    const spread = await house.post<SeriesView>(`/api/events/${second!.id}/spread`, { to: 'all' });
    expect(spread.body.duties).toEqual([{ duty: 'operator', personIds: [idOf(house)] }]);
    expect(new Set(operatorsOf(await eventsOf(made)))).toEqual(new Set([idOf(house)]));
    await house.post('/api/happenings/undo-last', { subjectId: made.id });
    expect(operatorsOf(await eventsOf(made)).slice(0, 3)).toEqual([idOf(odo), idOf(house), idOf(odo)]);
  });
});

describe('who may answer', () => {
  test('only the people who were asked, from a session or by their own letter’s address', async () => {
    const planned = await edit(await event(), { duties: [operator(odo)] });
    expect((await say(await server.browser(pell), '/api/own/duties', planned, 'no')).status).toBe(404);
    expect((await say(odo, '/api/own/duties', planned, 'no')).status).toBe(403); // a token is no person
    expect((await server.anybody().get('/api/own/duties')).status).toBe(401);
    expect((await say(server.anybody(), `/api/duties/${'0'.repeat(32)}`, planned, 'yes')).status).toBe(404);
    const browser = await server.browser(odo);
    const body = { eventId: planned.id, duty: 'operator', answer: 'perhaps' };
    expect((await browser.post('/api/own/duties', body)).status).toBe(422);
    await house.post(`/api/events/${planned.id}/cancel`, { fromState: 'planned', notice: '' });
    expect((await say(browser, '/api/own/duties', planned, 'yes')).body.code).toBe('not-planned-any-more');
  });
});
