import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import { SLATE_SHAPES, type SlateShape } from '@heliphon/core/media/slate-format';
import type { FileView } from '@heliphon/contracts/files';
import type { HouseView } from '@heliphon/contracts/house';
import type { Problem } from '@heliphon/contracts/problem';
import { FilesService } from '../src/files/files.service.js';
import { newId } from '../src/platform/ids.js';
import { drawStill } from '../src/slates/slate-still.js';
import { type HouseClient, NODE_SECRET, ServerDriver, until } from './driver.js';
import { makeMedia } from './test-media.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

const CONTENT = {
  words: 'We will be right back',
  houseName: 'Lantern Quay',
  warm: '#e7b56a',
  posterId: null,
};

/** Where something light stands, as shares of the picture: what is written on it. */
async function writtenOn(
  jpeg: Buffer,
): Promise<{ left: number; right: number; top: number; bottom: number }> {
  const { data, info } = await sharp(jpeg).greyscale().raw().toBuffer({ resolveWithObject: true });
  const light = { left: 1, right: 0, top: 1, bottom: 0 };
  for (let at = 0; at < data.length; at += 1) {
    if (data[at]! < 150) continue;
    const [x, y] = [(at % info.width) / info.width, Math.floor(at / info.width) / info.height];
    light.left = Math.min(light.left, x);
    light.right = Math.max(light.right, x);
    light.top = Math.min(light.top, y);
    light.bottom = Math.max(light.bottom, y);
  }
  return light;
}

describe('a slate’s still', () => {
  test.each<[string, string]>([
    ['the usual words', CONTENT.words],
    [
      'as many as there may be',
      'The picture has gone for a moment and will surely come back, so stay. '.repeat(2),
    ],
    ['one that never ends', 'M'.repeat(160)],
    ['from right to left', 'سنعود بعد قليل'],
    ['that look like markup', '<b>We & you</b>'],
  ])('has %s in its middle, in every shape', async (_, words) => {
    for (const shape of Object.keys(SLATE_SHAPES) as SlateShape[]) {
      const jpeg = await drawStill({ ...CONTENT, words }, shape, null);
      expect(await sharp(jpeg).metadata()).toMatchObject({
        format: 'jpeg',
        width: SLATE_SHAPES[shape].widthPx,
        height: SLATE_SHAPES[shape].heightPx,
      });
      const { left, right, top, bottom } = await writtenOn(jpeg);
      expect(left).toBeGreaterThan(0.17);
      expect(right).toBeLessThan(0.83);
      expect(right - left).toBeGreaterThan(0.2);
      expect(top).toBeGreaterThan(0.1);
      expect(bottom).toBeLessThan(0.9);
    }
  });

  test('can be read on the lightest poster, and does without one that cannot be read', async () => {
    const path = `${server.folder}/white.png`;
    await sharp({ create: { width: 64, height: 36, channels: 3, background: '#ffffff' } }).toFile(path);
    const corner = async (jpeg: Buffer): Promise<number> => {
      const { channels } = await sharp(jpeg).extract({ left: 0, top: 0, width: 50, height: 50 }).stats();
      return channels[0]!.mean;
    };
    expect(await corner(await drawStill(CONTENT, 'wide', path))).toBeLessThan(118);
    expect(await corner(await drawStill(CONTENT, 'wide', `${server.folder}/none.jpg`))).toBeLessThan(118);
  });
});

describe('the slate of an event', () => {
  test('is told to its node, which fetches it with its own secret; other words make another', async () => {
    const node = await server.dialAsNode();
    const event = await house.event(600, 660);
    await house.patch(`/api/events/${event.id}`, event.version, { slateAfterSeconds: 2.5 });
    const slate = () =>
      node.desired?.programmes.find(({ programmeId }) => programmeId === event.programmeId)?.slate;
    const first = await until(() => slate()?.awayAfterMs === 2500 && slate()!, 'the slate');
    const fetched = (stillId: string, shape = 'wide', secret = NODE_SECRET) =>
      fetch(`${server.url}/control/v1/slates/${event.programmeId}/${stillId}/${shape}`, {
        headers: { authorization: `Node n1:${secret}` },
      });
    for (const stillId of Object.values(first.stillIds)) {
      const still = await fetched(stillId, 'tall');
      const facts = await sharp(Buffer.from(await still.arrayBuffer())).metadata();
      expect(facts).toMatchObject({ format: 'jpeg', width: 1080, height: 1920 });
    }
    expect((await fetched(first.stillIds.back, 'wide', 'y'.repeat(40))).status).toBe(401);
    expect((await fetched(first.stillIds.back, 'round')).status).toBe(404);

    const { version } = (await house.get<HouseView>('/api/house')).body;
    await house.patch('/api/house', version, { slateWords: 'Gleich geht es weiter' });
    const second = await until(
      () => slate()?.stillIds.back !== first.stillIds.back && slate()!,
      'the other slate',
    );
    expect(second.stillIds.coming).toBe(first.stillIds.coming);
    expect((await fetched(first.stillIds.back)).status).toBe(404);
    expect((await fetched(second.stillIds.back)).status).toBe(200);
    node.close();
  });

  test('is shown to those who plan it, and to nobody of another house', async () => {
    const event = await house.event(600, 660);
    const preview = await house.get(`/api/events/${event.id}/slate/back`);
    expect([preview.status, preview.headers.get('content-type')]).toEqual([200, 'image/jpeg']);
    expect((await house.get(`/api/events/${event.id}/slate/later`)).status).toBe(404);
    const other = await server.house();
    expect((await other.get(`/api/events/${event.id}/slate/back`)).status).toBe(404);
    expect((await house.get('/api/house/slate?words=Soon')).status).toBe(200);
  });

  test('has a sound of the house’s files, which its node fetches and which cannot be thrown away meanwhile', async () => {
    const id = newId();
    await makeMedia(server.folder, 'organ.mp3');
    const ctx = { houseId: house.houseId, by: 'system', byName: 'system', roles: [], scopes: null };
    await server.app.get(FilesService).addFilm(ctx, id, 'Organ.mp3', join(server.folder, 'organ.mp3'));
    await until(
      async () => (await house.get<FileView>(`/api/files/${id}`)).body.state === 'ready',
      'the sound',
    );
    const node = await server.dialAsNode();
    const event = await house.event(600, 660);
    const soundOf = () =>
      node.desired?.programmes.find(({ programmeId }) => programmeId === event.programmeId)?.slate?.sound;
    await until(() => soundOf() === null, 'silence, unless somebody chooses');
    const edit = async (slateSoundId: string | null) => {
      const { version } = (await house.get<HouseView>('/api/house')).body;
      return house.patch<HouseView & Problem>('/api/house', version, { slateSoundId });
    };
    const unknown = await edit(newId());
    expect([unknown.status, unknown.body.fields?.[0]?.path]).toEqual([422, 'slateSoundId']);
    expect((await edit(id)).body.slateSoundId).toBe(id);
    const sound = await until(soundOf, 'the node to be told');
    const fetched = await fetch(`${server.url}/control/v1/films/${sound.fileId}`, {
      headers: { authorization: `Node n1:${NODE_SECRET}` },
    });
    expect((await fetched.arrayBuffer()).byteLength).toBe(sound.sizeBytes);
    const { body: file } = await house.get<FileView>(`/api/files/${id}`);
    expect(file.uses).toMatchObject([{ of: 'house', as: 'slate sound' }]);
    expect((await house.post<Problem>(`/api/files/${id}/bin`)).body.code).toBe('file-in-use');
    await edit(null);
    await until(() => soundOf() === null, 'silence again');
    expect((await house.post(`/api/files/${id}/bin`)).status).toBe(200);
    node.close();
  });

  test('has words that are long enough to be read, and no longer; nothing else of the house is touched', async () => {
    const { body } = await house.get<HouseView>('/api/house');
    for (const slateWords of ['', '   ', 'x'.repeat(2000)]) {
      const refused = await house.patch<Problem>('/api/house', body.version, { slateWords });
      expect([refused.status, refused.body.fields?.[0]?.path]).toEqual([422, 'slateWords']);
    }
    const { body: after } = await house.get<HouseView>('/api/house');
    expect(after).toEqual(body);
  });

  test.each([0.4, 0.75, 10.5])('does not come after %s seconds', async (slateAfterSeconds) => {
    const event = await house.event(600, 660);
    const refused = await house.patch<Problem>(`/api/events/${event.id}`, event.version, {
      slateAfterSeconds,
    });
    expect([refused.status, refused.body.fields?.[0]?.path]).toEqual([422, 'slateAfterSeconds']);
  });
});
