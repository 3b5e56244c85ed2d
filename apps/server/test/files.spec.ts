import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import { UPLOADS_PATH, type FileView } from '@heliphon/contracts/files';
import type { EventView } from '@heliphon/contracts/events';
import type { Page, Problem } from '@heliphon/contracts/problem';
import type { SeriesView } from '@heliphon/contracts/series';
import { type HouseClient, ServerDriver, until } from './driver.js';
import { FileEntity } from '../src/tables/file.entity.js';
import { Database } from '../src/platform/database.js';
import { FilesService } from '../src/files/files.service.js';
import { Uploads } from '../src/files/uploads.js';
import { codecsOf, makeMedia } from './test-media.js';

let server: ServerDriver;
let house: HouseClient;
let folder: string;
let bells: Buffer;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'heliphon-media-'));
  [server, bells] = await Promise.all([ServerDriver.start(), makeMedia(folder, 'bells.mp4')]);
});
afterAll(async () => {
  await server.stop();
  await rm(folder, { recursive: true });
});
beforeEach(async () => {
  await server.setClock(0);
  house = await server.house('producer');
});

const TUS = { 'tus-resumable': '1.0.0' };
const base64 = (text: string): string => Buffer.from(text).toString('base64');

/** Speaks the upload protocol, so that it can be cut wherever a test wants. */
class Upload {
  private constructor(
    private readonly client: HouseClient,
    readonly path: string,
    readonly begun: Response,
  ) {}

  static async begin(client: HouseClient, name: string, sizeBytes: number): Promise<Upload> {
    const headers = { 'upload-length': String(sizeBytes), 'upload-metadata': `filename ${base64(name)}` };
    const begun = await Upload.#ask(client, 'POST', UPLOADS_PATH, headers);
    return new Upload(client, begun.headers.get('location') ?? '', begun);
  }

  send(bytes: Uint8Array, offset: number, client = this.client): Promise<Response> {
    const headers = { 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' };
    return Upload.#ask(client, 'PATCH', this.path, headers, bytes);
  }

  /** How much has come. */
  async offset(client = this.client): Promise<number> {
    const { headers, status } = await Upload.#ask(client, 'HEAD', this.path);
    return status === 200 ? Number(headers.get('upload-offset')) : -status;
  }

  static #ask(
    client: HouseClient,
    method: string,
    path: string,
    headers: Record<string, string> = {},
    body?: Uint8Array,
  ): Promise<Response> {
    return fetch(client.url + path, {
      method,
      headers: { ...TUS, authorization: client.authorization, ...headers },
      body: body ? new Uint8Array(body) : null,
    });
  }
}

const files = async (query = ''): Promise<readonly FileView[]> =>
  (await house.get<Page<FileView>>(`/api/files?${query}`)).body.items;
const isDone = ({ state }: FileView): boolean => state !== 'waiting' && state !== 'making';
const done = (name: string): Promise<FileView> =>
  until(
    async () => (await files()).find((file) => file.name === name && isDone(file)),
    `${name} to be looked into`,
  );

async function upload(name: string, bytes: Uint8Array): Promise<FileView> {
  const sending = await Upload.begin(house, name, bytes.byteLength);
  expect((await sending.send(bytes, 0)).status).toBe(204);
  return done(name);
}
const playable = ({ id }: FileView): string =>
  join(server.folder, 'files', house.houseId, id, 'playable.mp4');

describe('an upload', () => {
  test('that is cut off at 99 % goes on where it was, and is one file', async () => {
    const sending = await Upload.begin(house, 'bells.mp4', bells.byteLength);
    const cut = Math.floor(bells.byteLength * 0.99);
    await sending.send(bells.subarray(0, cut), 0);
    expect(await files()).toEqual([]);
    expect(await sending.offset()).toBe(cut);
    // Anyone who is wrong about how much came is told, and spoils nothing.
    expect((await sending.send(bells.subarray(cut), cut - 1)).status).toBe(409);
    expect((await sending.send(bells.subarray(cut), cut)).status).toBe(204);
    // The last answer was lost on the way: asked again, it is whole, and there is no second one.
    expect(await sending.offset()).toBe(bells.byteLength);
    expect(await done('bells.mp4')).toMatchObject({ state: 'ready', sizeBytes: bells.byteLength });
    expect(await files()).toHaveLength(1);
  });

  test.each([
    ['poster.jpg', 15_000_001, 413, 'file-too-large'],
    ['film.mp4', 0, 422, 'file-empty'],
    ['', 10, 422, 'file-nameless'],
  ])('of %j with %d bytes is refused before anything is sent', async (name, size, status, code) => {
    const { begun } = await Upload.begin(house, name, size);
    expect([begun.status, ((await begun.json()) as Problem).code]).toEqual([status, code]);
  });

  test('is nobody else’s', async () => {
    const other = await server.house('producer');
    const sending = await Upload.begin(house, 'bells.mp4', bells.byteLength);
    expect(await sending.offset(other)).toBe(-404);
    expect((await sending.send(bells, 0, other)).status).toBe(404);
    const operator = await server.member(house.houseId, 'operator');
    expect((await Upload.begin(operator, 'bells.mp4', 10)).begun.status).toBe(403);
  });

  test('that nobody comes back for is thrown away after three days; what was kept stays', async () => {
    const kept = await upload('bells.mp4', bells);
    const unfinished = await Upload.begin(house, 'later.mp4', 1000);
    const begunLongAgo = async (path: string): Promise<void> => {
      const note = `${join(server.folder, 'uploads', path.split('/').at(-1)!)}.json`;
      const facts = JSON.parse(await readFile(note, 'utf8')) as object;
      await writeFile(note, JSON.stringify({ ...facts, creation_date: '2020-03-01T10:00:00.000Z' }));
    };
    await server.app.get(Uploads).tidy();
    expect(await unfinished.offset()).toBe(0);
    for (const path of [unfinished.path, `${house.houseId}.${kept.id}`]) await begunLongAgo(path);
    await server.app.get(Uploads).tidy();
    expect(await unfinished.offset()).toBe(-404);
    expect((await house.get(`/api/files/${kept.id}/original`)).status).toBe(200);
  });
});

describe('what comes is looked into, whatever it is called', () => {
  test('a film that every player takes stays as it is; it plays in ranges, and has a small picture', async () => {
    const film = await upload('bells.mp4', bells);
    expect(film).toMatchObject({
      kind: 'film',
      state: 'ready',
      facts: { widthPx: 320, heightPx: 240, durationMs: 4000, changes: [] },
    });
    expect(await codecsOf(playable(film))).toBe('h264,aac');
    const range = await fetch(house.url + film.playUrl!, {
      headers: { authorization: house.authorization, range: 'bytes=4-7' },
    });
    expect([range.status, range.headers.get('content-type'), await range.text()]).toEqual([
      206,
      'video/mp4',
      'ftyp',
    ]);
    const look = await fetch(house.url + film.lookUrl!, { headers: { authorization: house.authorization } });
    expect(await sharp(Buffer.from(await look.arrayBuffer())).metadata()).toMatchObject({
      format: 'jpeg',
      width: 640,
    });
  });

  test('another is made so, and it says why', async () => {
    const film = await upload('old-camera.avi', await makeMedia(folder, 'old-camera.avi'));
    expect(film.facts?.changes).toEqual(['codec']);
    expect(await codecsOf(playable(film))).toBe('h264,aac');
    const rare = await upload('silent.mkv', await makeMedia(folder, 'silent.mkv'));
    expect([rare.facts?.changes, await codecsOf(playable(rare))]).toEqual([['keyframes'], 'h264']);
  });

  test('a film without a picture is a sound, also when it is called a film', async () => {
    const sound = await upload('procession.mp4', await makeMedia(folder, 'organ.mp3'));
    expect(sound).toMatchObject({ kind: 'sound', state: 'ready', lookUrl: null });
    expect(sound.facts?.durationMs).toBeGreaterThan(3900);
    expect((await house.get(sound.playUrl!)).headers.get('content-type')).toBe('audio/mp4');
  });

  test('a picture has its size as people see it', async () => {
    const turned = await sharp({ create: { width: 640, height: 480, channels: 3, background: '#24405c' } })
      .jpeg()
      .withMetadata({ orientation: 6 })
      .toBuffer();
    const picture = await upload('pier.png', turned);
    expect(picture).toMatchObject({ kind: 'picture', facts: { widthPx: 480, heightPx: 640 } });
  });

  test.each([
    ['notes.mp4', 'a few words', 'file-unknown'],
    // A playlist is opened as nothing: it could name whatever lies on the server.
    ['list.mp4', '#EXTM3U\n#EXT-X-TARGETDURATION:4\n#EXTINF:4,\nfile:///etc/passwd\n', 'file-unknown'],
    ['list.txt', 'ffconcat version 1.0\nfile /etc/passwd\n', 'file-unknown'],
    ['logo.svg', '<svg xmlns="http://www.w3.org/2000/svg" width="800" height="800"/>', 'file-unknown'],
  ])('%s cannot be used, and it says so', async (name, text, refusal) => {
    const file = await upload(name, Buffer.from(text));
    expect(file).toMatchObject({ state: 'refused', refusal, kind: null, playUrl: null });
  });

  test('a film that breaks off in the middle says so, and leaves nothing half made', async () => {
    const whole = await makeMedia(folder, 'bells.mp4');
    // Its index stands at its end: cut off, nobody can read it.
    const file = await upload('half.mp4', whole.subarray(0, whole.byteLength / 2));
    expect(file).toMatchObject({ state: 'refused', refusal: 'file-unknown' });
    expect(await readdir(join(server.folder, 'files', house.houseId, file.id))).toEqual(['original']);
  });
});

test('making a film playable shows how far it is, can be stopped, and taken up again', async () => {
  const bytes = await makeMedia(folder, 'long.avi');
  const sending = await Upload.begin(house, 'long.avi', bytes.byteLength);
  await sending.send(bytes, 0);
  const [file] = await files();
  const now = async (): Promise<FileView> => (await house.get<FileView>(`/api/files/${file!.id}`)).body;
  await until(async () => (await now()).madePercent > 0, 'the first per cent');
  const stopped = await house.ask<FileView>('DELETE', `/api/files/${file!.id}/making`);
  expect(stopped.body.state).toBe('stopped');
  const inside = join(server.folder, 'files', house.houseId, file!.id);
  await until(async () => (await readdir(inside)).join() === 'original', 'what was half made to be gone');
  expect((await now()).state).toBe('stopped');
  expect((await house.ask<Problem>('DELETE', `/api/files/${file!.id}/making`)).body.code).toBe(
    'file-moved-on',
  );
  expect((await house.post<FileView>(`/api/files/${file!.id}/making`)).body.state).toBe('waiting');
  await until(async () => (await now()).madePercent > 0, 'it to be made again');
  await house.ask('DELETE', `/api/files/${file!.id}/making`);
}, 120_000);

test('what a server that fell was making is taken up by anyone who comes, once its claim has run out', async () => {
  const file = await upload('bells.mp4', bells);
  const manager = server.app.get(Database).installation;
  const fell = { state: 'making', claimedUntilMs: Date.now() + 1500, madePercent: 40 } as const;
  await manager.update(FileEntity, { id: file.id }, fell);
  const claimed = (await house.get<FileView>(`/api/files/${file.id}`)).body;
  expect([claimed.state, claimed.madePercent]).toEqual(['making', 40]);
  await until(
    async () => (await house.get<FileView>(`/api/files/${file.id}`)).body.state === 'ready',
    'it to be made after all',
  );
  expect(Date.now()).toBeGreaterThanOrEqual(fell.claimedUntilMs);
});

describe('a picture of the house', () => {
  let picture: FileView;
  beforeEach(async () => {
    const png = await sharp({ create: { width: 1280, height: 720, channels: 3, background: '#24405c' } })
      .png()
      .toBuffer();
    picture = await upload('dusk.png', png);
  });
  const useIt = (event: EventView) =>
    house.post<EventView & Problem>(`/api/events/${event.id}/poster-from-files`, { fileId: picture.id });

  test('becomes a poster; what uses it is told, and keeps it out of the bin', async () => {
    const event = await house.event(600, 660);
    expect((await useIt(event)).body.posterUrl).toBe(`/posters/${picture.id}/1280.jpg`);
    expect((await server.anybody().get(`/posters/${picture.id}/1280.jpg`)).status).toBe(200);
    const [shown] = await files();
    expect(shown).toMatchObject({
      usesCount: 1,
      uses: [{ of: 'event', id: event.id, title: event.title, as: 'poster' }],
    });
    expect((await house.post<Problem>(`/api/files/${picture.id}/bin`)).body).toMatchObject({
      code: 'file-in-use',
      params: { title: event.title },
    });
  });

  test('becomes the poster of a series, and of all its dates that have none of their own', async () => {
    const day = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
    const wish = {
      title: 'Vespers',
      rule: 'FREQ=DAILY;COUNT=2',
      firstDate: day,
      timeOfDay: '18:00',
      lengthMinutes: 30,
    };
    const { body: series } = await house.post<SeriesView>('/api/series', wish);
    const poster = `/posters/${picture.id}/1280.jpg`;
    const posters = async (): Promise<(string | null)[]> =>
      (await house.get<Page<EventView>>('/api/events?q=Vespers')).body.items.map(
        ({ posterUrl }) => posterUrl,
      );
    const given = await house.post<SeriesView>(`/api/series/${series.id}/poster-from-files`, {
      fileId: picture.id,
    });
    expect([given.body.posterUrl, await posters()]).toEqual([poster, [poster, poster]]);
    expect((await files())[0]!.uses).toEqual([
      { of: 'series', id: series.id, title: 'Vespers', as: 'poster' },
    ]);
    await house.post('/api/happenings/undo-last', { subjectId: series.id });
    expect(await posters()).toEqual([null, null]);
    expect((await house.delete<SeriesView>(`/api/series/${series.id}/poster`)).body.posterUrl).toBeNull();
  });

  test('goes into the bin and comes back; after a month it is gone for good', async () => {
    await house.post(`/api/files/${picture.id}/bin`);
    expect([await files(), (await files('in=bin')).map(({ name }) => name)]).toEqual([[], ['dusk.png']]);
    expect((await useIt(await house.event(600, 660))).body.code).toBe('file-no-picture');
    await house.post('/api/happenings/undo-last', { subjectId: picture.id });
    expect((await files()).map(({ name }) => name)).toEqual(['dusk.png']);
    await house.post(`/api/files/${picture.id}/bin`);
    await server.setClock(31 * 86_400_000);
    await server.app.get(FilesService).emptyBin();
    expect(await files('in=bin')).toEqual([]);
    expect(await readdir(join(server.folder, 'files', house.houseId))).toEqual([]);
  });

  test('is renamed by anyone who knows its present name', async () => {
    const { body } = await house.patch<FileView>(`/api/files/${picture.id}`, picture.version, {
      name: 'Dusk',
    });
    expect(body.name).toBe('Dusk');
    const late = await house.patch<Problem>(`/api/files/${picture.id}`, picture.version, { name: 'Dawn' });
    expect(late.body.code).toBe('changed-meanwhile');
  });
});

test('a poster that was uploaded with its event is a file of the house too', async () => {
  const event = await house.event(600, 660);
  const jpeg = await sharp({ create: { width: 800, height: 450, channels: 3, background: '#e7b56a' } })
    .jpeg()
    .toBuffer();
  await house.upload(`/api/events/${event.id}/poster`, jpeg);
  const file = await done('poster');
  expect(file).toMatchObject({ kind: 'picture', uses: [{ title: event.title, as: 'poster' }] });
});

test('what is downloaded comes as it was, under its name, and is never shown as a page', async () => {
  const file = await upload('page.html', Buffer.from('<script>alert(1)</script>'));
  const { headers, body } = await house.get<string>(`/api/files/${file.id}/original`);
  expect(body).toBe('<script>alert(1)</script>');
  expect([headers.get('content-type'), headers.get('content-disposition')]).toEqual([
    'application/octet-stream',
    'attachment; filename="page.html"',
  ]);
  const other = await server.house('owner');
  expect((await other.get(`/api/files/${file.id}/original`)).status).toBe(404);
});
