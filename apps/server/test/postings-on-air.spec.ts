import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { type Fault, NOTICED_NOTHING } from '@heliphon/core/faults/fault';
import type { EventView } from '@heliphon/contracts/events';
import type { PostingCommentView } from '@heliphon/contracts/postings';
import type { SignalReportView } from '@heliphon/contracts/signal';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { World } from '../../standins/test/world.js';
import { type HouseClient, type ServerDriver, until } from './driver.js';
import { eventAt, PlatformHouse, postingsOf, stands } from './platform-house.js';

let platforms: PlatformHouse;
let world: World;
let server: ServerDriver;
let house: HouseClient;
const pass = (ms: number): Promise<void> => platforms.pass(ms);
beforeAll(async () => {
  platforms = await PlatformHouse.start();
  ({ world, server } = platforms);
});
beforeEach(async () => {
  await pass(0);
  house = await server.house('producer');
});
afterAll(() => platforms.stop());

describe('on air', () => {
  test('a posting is begun where that is wanted, the node gets its address and key, and it ends with its event', async () => {
    const { placeId } = await platforms.placeAt(house, 'windlass', 'bells');
    const event = await eventAt(house, placeId, 'Bells on air', 600);
    const node = await server.dialAsNode();
    await stands(house, event, 'planned');
    const doors = (await house.move(event, 'open-doors')).body;
    await stands(house, event, 'open');
    const film = platforms.byTitle('windlass', 'Bells on air')!;
    const [wanted] = await until(async () => {
      const programme = node.desired?.programmes.find(({ programmeId }) => programmeId === event.programmeId);
      return programme?.destinations.length ? programme.destinations : null;
    }, 'its address at the node');
    expect(wanted!.destinationId).toBe(placeId);
    expect(wanted!.address).toMatch(new RegExp(`^rtmps://localhost:\\d+/in/${film.key}$`));
    const air = (await house.move(doors, 'go-on-air')).body;
    await house.move(air, 'end');
    await stands(house, event, 'ended');
    expect(world.platforms.windlass.postings.get(film.id)!.state).toMatchObject({ because: 'sender' });
    node.close();
  });
});

test('a posting that a platform has begun by itself is ended and stays; one that nobody saw is taken down', async () => {
  const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
  const [seen, unseen] = [
    await eventAt(house, placeId, 'Seen', 600),
    await eventAt(house, placeId, 'Unseen', 700),
  ];
  const posting = await until(async () => platforms.byTitle('skerry', 'Seen'), 'the posting');
  await until(async () => platforms.byTitle('skerry', 'Unseen'), 'the other');
  world.platforms.skerry.postings.start(posting.id, Date.now());
  for (const event of [seen, unseen]) {
    const doors = (await house.move(await house.current(event), 'open-doors')).body;
    await house.move((await house.move(doors, 'go-on-air')).body, 'end');
  }
  await stands(house, seen, 'ended');
  expect(world.platforms.skerry.postings.get(posting.id)!.state).toMatchObject({
    is: 'ended',
    because: 'sender',
  });
  await until(async () => !platforms.byTitle('skerry', 'Unseen'), 'the other to be gone');
});

describe('a posting that its platform ends while the event goes on', () => {
  const skerry = () => world.platforms.skerry;
  const begun = async (placeId: string, title: string): Promise<EventView> => {
    const event = await eventAt(house, placeId, title, 600);
    await stands(house, event, 'planned');
    const doors = (await house.move(await house.current(event), 'open-doors')).body;
    skerry().postings.start(platforms.byTitle('skerry', title)!.id, Date.now());
    const air = (await house.move(doors, 'go-on-air')).body;
    await pass(11_000);
    await stands(house, event, 'open');
    return air;
  };
  const goOn = (event: EventView, placeId: string, by = house) =>
    by.post<Problem>(`/api/events/${event.id}/postings/${placeId}/go-on`);
  const all = (title: string) => platforms.there('skerry').filter((posting) => posting.title === title);

  test('because it lasted too long is over, is told apart, and goes on in a new one when somebody asks', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const air = await begun(placeId, 'Four hours');
    expect((await goOn(air, placeId)).body).toMatchObject({ status: 409, code: 'posting-not-ended' });
    skerry().postings.end(platforms.byTitle('skerry', 'Four hours')!.id, 'too-long', Date.now());
    await pass(22_000);
    expect(await stands(house, air, 'ended')).toMatchObject({
      endedBecause: 'too-long',
      longestMs: 4 * 3_600_000,
    });
    const stranger = await server.house('producer');
    expect((await goOn(air, placeId, stranger)).status).toBe(404);
    expect((await goOn(air, placeId)).status).toBe(204);
    await until(async () => all('Four hours').length === 2, 'the new one');
    const told = (await server.happenings(air.id)).find(({ kind }) => kind === 'posting-ended');
    expect(told!.after).toEqual({ destinationId: placeId, because: 'too-long' });
    // With the event the new one ends, and the first stays as it was.
    skerry().postings.start(all('Four hours').find(({ state }) => state.is === 'planned')!.id, Date.now());
    await house.move(air, 'end');
    await until(async () => all('Four hours').every(({ state }) => state.is === 'ended'), 'the end of both');
    const report = (await house.get<SignalReportView>(`/api/events/${air.id}/signal-report`)).body;
    expect(report.endings).toMatchObject([
      { destinationId: placeId, because: 'too-long', platform: 'Skerry', longestMs: 4 * 3_600_000 },
    ]);
  });

  test('because no picture came is made again by itself', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const air = await begun(placeId, 'No picture');
    skerry().postings.end(platforms.byTitle('skerry', 'No picture')!.id, 'no-picture', Date.now());
    await pass(22_000);
    await until(async () => all('No picture').length === 2, 'the new one');
    expect(await stands(house, air, 'planned')).toMatchObject({ endedBecause: null });
    expect((await postingsOf(house, air))[0]!.link).toContain(
      all('No picture').find(({ state }) => state.is === 'planned')!.id,
    );
  });

  test('is known at once where the node says that something is wrong there', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const air = await begun(placeId, 'Cut off');
    const node = await server.dialAsNode();
    skerry().postings.end(platforms.byTitle('skerry', 'Cut off')!.id, 'sender', Date.now());
    const fault: Fault = {
      kind: 'place-closed',
      subjectId: placeId,
      detail: {},
      fromMs: Date.now(),
      toMs: null,
      noticed: NOTICED_NOTHING,
      viewerMs: 0,
    };
    node.observe(1, { kind: 'fault', programmeId: air.programmeId, fault, atMs: Date.now() });
    await stands(house, air, 'ended');
    node.close();
    const ended = (await house.move(air, 'end')).body;
    const report = (await house.get<SignalReportView>(`/api/events/${ended.id}/signal-report`)).body;
    expect(report.report.faults).toEqual([]);
  });
});

describe('while a posting is on', () => {
  test('its viewers and comments come in, each once, and are for the house alone', async () => {
    const { placeId } = await platforms.placeAt(house, 'skerry', 'quay');
    const event = await eventAt(house, placeId, 'Talked about', 600);
    await stands(house, event, 'planned');
    const { id } = platforms.byTitle('skerry', 'Talked about')!;
    world.platforms.skerry.postings.start(id, Date.now());
    const doors = (await house.move(await house.current(event), 'open-doors')).body;
    const air = (await house.move(doors, 'go-on-air')).body;
    await pass(11_000);
    await stands(house, event, 'open');
    world.platforms.skerry.postings.comment(id, 'Hollis Brand', 'Lovely bells', Date.now());
    const comments = async (by = house) =>
      (await by.get<Page<PostingCommentView>>(`/api/events/${event.id}/comments`)).body.items;
    await until(async () => (await comments()).length === 1, 'the comment');
    world.platforms.skerry.postings.comment(id, 'Hollis Brand', 'And again', Date.now());
    await pass(17_000);
    await until(async () => (await comments()).length === 2, 'the next');
    expect((await comments()).map(({ text }) => text)).toEqual(['And again', 'Lovely bells']);
    expect(await until(async () => (await postingsOf(house, event))[0], 'it')).toMatchObject({ viewers: 0 });
    const stranger = await server.house('producer');
    expect((await stranger.get(`/api/events/${event.id}/comments`)).status).toBe(404);
    await house.move(air, 'end');
  });
});

test('an operator adds and removes places at the desk, also on air', async () => {
  const { placeId } = await platforms.placeAt(house, 'windlass', 'bells');
  const event = await eventAt(house, placeId, 'At the desk', 600);
  const operator = await server.member(house.houseId, 'operator');
  const moderator = await server.member(house.houseId, 'moderator');
  const late = await platforms.placeAt(house, 'skerry', 'quay');
  await house.move(await house.current(event), 'open-doors');
  const path = `/api/events/${event.id}/places/${late.placeId}`;
  expect((await moderator.ask('PUT', path)).status).toBe(403);
  const added = await operator.ask<EventView>('PUT', path);
  expect(added.body.destinationIds.toSorted()).toEqual([placeId, late.placeId].toSorted());
  await until(async () => platforms.byTitle('skerry', 'At the desk'), 'its posting');
  expect((await operator.ask<EventView>('DELETE', path)).body.destinationIds).toEqual([placeId]);
  await until(async () => !platforms.byTitle('skerry', 'At the desk'), 'it to be taken down');
  // What people have seen there is ended when its place is let go, and goes on in a new posting.
  const own = `/api/events/${event.id}/places/${placeId}`;
  const films = () => platforms.there('windlass').filter(({ title }) => title === 'At the desk');
  await until(async () => films()[0]?.state.is === 'open', 'the film');
  await operator.ask('DELETE', own);
  await until(async () => films()[0]?.state.is === 'ended', 'its end');
  await operator.ask('PUT', own);
  await until(async () => films().some(({ state }) => state.is === 'open'), 'the next film');
  expect((await operator.ask('PUT', `/api/events/${event.id}/places/${event.id}`)).status).toBe(404);
});
