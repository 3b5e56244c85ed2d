import { inflateRawSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { HouseView } from '@heliphon/contracts/house';
import type { Problem } from '@heliphon/contracts/problem';
import { PASSWORD, ServerDriver } from './driver.js';

let server: ServerDriver;
beforeAll(async () => {
  server = await ServerDriver.start();
});
afterAll(() => server.stop());

describe('the house', () => {
  test('is renamed with its version, and the change can be taken back', async () => {
    const own = await server.house('owner', 'Old name');
    const { body: before } = await own.get<HouseView>('/api/house');
    const saved = await own.patch<HouseView>('/api/house', before.version, {
      name: 'New name',
      accent: '#112233',
    });
    expect(saved.body).toMatchObject({ name: 'New name', accent: '#112233' });
    expect((await own.patch<Problem>('/api/house', before.version, { name: 'X' })).status).toBe(412);
    expect(
      (await own.patch<Problem>('/api/house', saved.body.version, { zone: 'Moon/Base' })).body.code,
    ).toBe('no-such-zone');
    await own.post('/api/happenings/undo-last', { subjectId: own.houseId });
    expect((await own.get<HouseView>('/api/house')).body.name).toBe('Old name');
  });

  test('is taken along as one file without keys', async () => {
    const own = await server.house();
    const source = await own.source('Chapel desk');
    const { key } = (await own.get<{ key: string }>(`/api/sources/${source.id}/key`)).body;
    const answer = await fetch(`${server.url}/api/house/export`, {
      headers: { authorization: own.authorization },
    });
    const zip = Buffer.from(await answer.arrayBuffer());
    expect([answer.headers.get('content-type'), zip.subarray(0, 2).toString()]).toEqual([
      'application/zip',
      'PK',
    ]);
    const sources = unzip(zip, 'sources.jsonl');
    expect(sources).toContain('Chapel desk');
    expect(sources).not.toContain(key);
    expect(sources).not.toMatch(/sealed|Sha256/);
  });

  test('is deleted with everything in it, for whoever types its name and their password', async () => {
    const own = await server.house('owner', 'Leaving');
    await own.event(600, 660, (await own.source()).id);
    expect((await own.delete<Problem>('/api/house', { name: 'Wrong', password: PASSWORD })).body.code).toBe(
      'house-name-wrong',
    );
    expect((await own.delete<Problem>('/api/house', { name: 'Leaving', password: 'x' })).body.code).toBe(
      'password-wrong',
    );
    expect((await own.delete('/api/house', { name: 'Leaving', password: PASSWORD })).status).toBe(204);
    expect((await own.get('/api/events')).status).toBe(401);
  });
});

/** One entry of a ZIP file as text (APPNOTE 4.3.12: central directory). */
function unzip(zip: Buffer, name: string): string {
  let at = zip.readUInt32LE(zip.lastIndexOf(Buffer.from('PK\x05\x06')) + 16);
  while (zip.subarray(at, at + 4).toString('latin1') === 'PK\x01\x02') {
    const [nameBytes, extraBytes, commentBytes] = [28, 30, 32].map((offset) => zip.readUInt16LE(at + offset));
    const found = zip.subarray(at + 46, at + 46 + nameBytes!).toString() === name;
    if (found) {
      const local = zip.readUInt32LE(at + 42);
      const data = local + 30 + zip.readUInt16LE(local + 26) + zip.readUInt16LE(local + 28);
      return inflateRawSync(zip.subarray(data, data + zip.readUInt32LE(at + 20))).toString();
    }
    at += 46 + nameBytes! + extraBytes! + commentBytes!;
  }
  throw new Error(`No ${name} in the file`);
}
