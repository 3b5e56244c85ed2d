import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { EventView, ReadinessView } from '@heliphon/contracts/events';
import type { FileView } from '@heliphon/contracts/files';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { PublicEvent } from '@heliphon/contracts/public-event';
import { DEVICE, type SourceView } from '@heliphon/contracts/sources';
import type { SeriesView } from '@heliphon/contracts/series';
import { FilesService } from '../src/files/files.service.js';
import { newId } from '../src/platform/ids.js';
import { type HouseClient, NODE_SECRET, ServerDriver, until } from './driver.js';
import { makeMedia } from './test-media.js';

const FILM_MS = 4000;
let server: ServerDriver;
let folder: string;
let house: HouseClient;
let film: FileView;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'heliphon-media-'));
  [server] = await Promise.all([ServerDriver.start(), makeMedia(folder, 'bells.mp4')]);
  house = await server.house('producer');
  const id = newId();
  const ctx = { houseId: house.houseId, by: 'system', byName: 'system', roles: [], scopes: null };
  await server.app.get(FilesService).addFilm(ctx, id, 'Bells.mp4', join(folder, 'bells.mp4'));
  film = await until(async () => {
    const { body } = await house.get<FileView>(`/api/files/${id}`);
    return body.state === 'ready' ? body : null;
  }, 'the film');
});
afterAll(async () => {
  await server.stop();
  await rm(folder, { recursive: true });
});
beforeEach(() => server.setClock(0));

const withFilm = (event: EventView, filmId: string | null = film.id) =>
  house.patch<EventView & Problem>(`/api/events/${event.id}`, event.version, { filmId });

test('an event with a film goes on air so much earlier, and says when to its viewers', async () => {
  const event = await house.event(600, 660);
  const { body } = await withFilm(event);
  expect(body).toMatchObject({ filmId: film.id, filmMs: FILM_MS, startsAtMs: event.startsAtMs });
  const shown = await server.anybody().get<PublicEvent>(`/api/public/events/${event.slug}`);
  expect(shown.body).toMatchObject({ startsAtMs: event.startsAtMs, beginsAtMs: event.startsAtMs - FILM_MS });
  await server.setClock(event.startsAtMs - FILM_MS - Date.now() + 300);
  const aired = await until(async () => {
    const now = await house.current(event);
    return now.state === 'air' ? now : null;
  }, 'air');
  expect(aired.airAtMs).toBe(event.startsAtMs - FILM_MS);
});

test('its node is told of it, fetches it with its own secret, and nobody else can', async () => {
  const node = await server.dialAsNode();
  const event = (await withFilm(await house.event(600, 660))).body;
  const wanted = await until(
    () => node.desired?.programmes.find(({ programmeId }) => programmeId === event.programmeId)?.film,
    'the film in the node’s desired state',
  );
  expect(wanted).toMatchObject({ fileId: film.id, durationMs: FILM_MS });
  const fetched = (secret: string) =>
    fetch(`${server.url}/control/v1/films/${film.id}`, { headers: { authorization: `Node n1:${secret}` } });
  const bytes = await (await fetched(NODE_SECRET)).arrayBuffer();
  expect(bytes.byteLength).toBe(wanted.sizeBytes);
  expect((await fetched('y'.repeat(40))).status).toBe(401);
  expect((await house.get(`/control/v1/films/${film.id}`)).status).toBe(401);

  const open = async (): Promise<string[]> =>
    (await house.get<ReadinessView>(`/api/events/${event.id}/readiness`)).body.checks
      .filter(({ status }) => status === 'warns')
      .map(({ code }) => code);
  node.report({ films: [] });
  await until(async () => (await open()).includes('film'), 'the film to be missed');
  node.report({ films: [film.id] });
  await until(async () => !(await open()).includes('film'), 'the film to be at hand');
  node.close();
});

test('the desk passes over it, once on air; the node hears of it', async () => {
  const node = await server.dialAsNode();
  const event = (await withFilm(await house.event(600, 660))).body;
  expect((await house.post<Problem>(`/api/events/${event.id}/skip-film`)).body.code).toBe('moved-meanwhile');
  await house.move(event, 'go-on-air');
  const filmOf = () =>
    node.desired?.programmes.find(({ programmeId }) => programmeId === event.programmeId)?.film;
  await until(() => filmOf()?.fileId === film.id, 'the film');
  expect((await house.post(`/api/events/${event.id}/skip-film`)).status).toBe(200);
  await until(() => filmOf() === null, 'it to be gone');
  expect((await server.happenings(event.id)).filter(({ kind }) => kind === 'film-skipped')).toHaveLength(1);
  node.close();
});

test('only a film of the house that can be played will do, and what uses it keeps it', async () => {
  const event = await house.event(600, 660);
  const other = await server.house('producer');
  const theirs = await other.event(600, 660);
  const refused = await other.patch<Problem>(`/api/events/${theirs.id}`, theirs.version, { filmId: film.id });
  expect(refused.body).toMatchObject({ code: 'file-no-film', fields: [{ path: 'filmId' }] });
  expect((await withFilm(event, newId())).body.code).toBe('file-no-film');
  const { usesCount } = (await house.get<FileView>(`/api/files/${film.id}`)).body;
  await withFilm(event);
  const used = (await house.get<FileView>(`/api/files/${film.id}`)).body;
  expect([used.usesCount, used.uses[0]?.as]).toEqual([usesCount + 1, 'film']);
  expect((await house.post<Problem>(`/api/files/${film.id}/bin`)).body.code).toBe('file-in-use');
});

test('a series gives it to its dates, but for one that begins without', async () => {
  const day = new Date(Date.now() + 5 * 86_400_000).toISOString().slice(0, 10);
  const wish = {
    title: 'Vespers',
    rule: 'FREQ=DAILY;COUNT=3',
    firstDate: day,
    timeOfDay: '18:00',
    lengthMinutes: 30,
  };
  const { body: series } = await house.post<SeriesView>('/api/series', wish);
  const changed = await house.patch<SeriesView>(`/api/series/${series.id}`, series.version, {
    filmId: film.id,
  });
  expect(changed.body.filmId).toBe(film.id);
  const dates = async (): Promise<EventView[]> =>
    (await house.get<Page<EventView>>('/api/events?q=Vespers')).body.items as EventView[];
  const lengths = async (): Promise<number[]> => (await dates()).map(({ filmMs }) => filmMs);
  expect(await lengths()).toEqual([FILM_MS, FILM_MS, FILM_MS]);
  await withFilm((await dates())[1]!, null);
  await house.patch(`/api/series/${series.id}`, changed.body.version, { title: 'Vespers and lamps' });
  expect(await lengths()).toEqual([FILM_MS, 0, FILM_MS]);
  const { uses } = (await house.get<FileView>(`/api/files/${film.id}`)).body;
  expect(uses.filter(({ title }) => title.startsWith('Vespers'))).toEqual([
    { of: 'series', id: series.id, title: 'Vespers and lamps', as: 'film' },
  ]);
  // Taken back, no date has it any more.
  // Begun without by all, and undone.
  const bare = (await house.get<SeriesView>(`/api/series/${series.id}`)).body;
  await house.patch(`/api/series/${series.id}`, bare.version, { filmId: null });
  expect(await lengths()).toEqual([0, 0, 0]);
  await house.post('/api/happenings/undo-last', { subjectId: series.id });
  expect(await lengths()).toEqual([FILM_MS, 0, FILM_MS]);
});

test('who rehearses sees the picture at once, without the film', async () => {
  const source = await house.source();
  const event = (await withFilm(await house.event(600, 660, source.id))).body;
  const { body } = await house.post<EventView>(`/api/events/${event.id}/rehearsals`);
  expect([body.filmId, body.filmMs]).toEqual([null, 0]);
});

test('a source that plays a film hands it to the node in place of one before the start', async () => {
  const node = await server.dialAsNode();
  const wish = { ...DEVICE, name: 'The bells', kind: 'file', fileId: film.id };
  const { body: source } = await house.post<SourceView>('/api/sources', wish);
  const event = await house.event(600, 660, source.id);
  const programme = await until(
    () => node.desired?.programmes.find(({ programmeId }) => programmeId === event.programmeId),
    'the programme',
  );
  expect(programme.film).toMatchObject({ fileId: film.id, durationMs: FILM_MS, standsAlone: true });
  const stands = async (status: string): Promise<boolean> => {
    const { body } = await house.get<ReadinessView>(`/api/events/${event.id}/readiness`);
    return body.checks.some((check) => check.code === 'source-here' && check.status === status);
  };
  node.report({ films: [] });
  await until(() => stands('later'), 'the film to be missed');
  node.report({ films: [film.id] });
  await until(() => stands('passed'), 'the film to be there');
  const { body: problem } = await house.post<Problem>('/api/sources', { ...wish, fileId: newId() });
  expect(problem).toMatchObject({ code: 'file-no-film', fields: [{ path: 'fileId' }] });
  node.close();
});
