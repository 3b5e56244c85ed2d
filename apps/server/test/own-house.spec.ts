import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { inflateRawSync } from 'node:zlib';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { HouseView } from '@heliphon/contracts/house';
import type { Problem } from '@heliphon/contracts/problem';
import { FileFolders } from '../src/files/file-folders.js';
import { FilesService } from '../src/files/files.service.js';
import { systemContext } from '../src/platform/database.js';
import { newId } from '../src/platform/ids.js';
import type { MailBox } from '../../standins/src/mail/mail-box.js';
import { PASSWORD, type ServerDriver, startWithMail, until } from './driver.js';

let server: ServerDriver;
let mail: MailBox;
let stop: () => Promise<void>;
beforeAll(async () => {
  ({ server, mail, stop } = await startWithMail());
});
afterAll(() => stop());

describe('the house', () => {
  test('is renamed with its version, and the change can be undone', async () => {
    const own = await server.house('owner', 'Old name');
    const { body: before } = await own.get<HouseView>('/api/house');
    const saved = await own.patch<HouseView>('/api/house', before.version, {
      name: 'New name',
      rules: 'Be kind to one another.',
    });
    expect(saved.body).toMatchObject({ name: 'New name', rules: 'Be kind to one another.' });
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

  test('is taken along whatever its files are called, and a fault on the way breaks off that answer alone', async () => {
    const own = await server.house();
    const id = newId();
    const ctx = { ...systemContext(own.houseId, 'system') };
    const bells = join(server.folder, 'bells');
    await writeFile(bells, 'no film, and taken along all the same');
    await server.app.get(FilesService).addFilm(ctx, id, '..', bells);
    const download = () =>
      fetch(`${server.url}/api/house/export`, { headers: { authorization: own.authorization } });
    const zip = Buffer.from(await (await download()).arrayBuffer());
    expect(zip.includes(Buffer.from(`files/${id}/_`))).toBe(true);
    expect(zip.includes(Buffer.from(`files/${id}/..`))).toBe(false);
    const original = server.app.get(FileFolders).original({ houseId: own.houseId, id });
    await rm(original);
    await mkdir(original); // yazl refuses what is no file
    await download()
      .then((answer) => answer.arrayBuffer())
      .catch(() => undefined);
    expect((await own.get('/api/house')).status).toBe(200);
  });

  test('is deleted with everything in it, everywhere, for anyone who types its name and their password', async () => {
    const own = await server.house('owner', 'Leaving');
    const event = await own.event(600, 660, (await own.source()).id);
    await own.move(event, 'open-doors');
    expect((await own.delete<Problem>('/api/house', { name: 'Wrong', password: PASSWORD })).body.code).toBe(
      'house-name-wrong',
    );
    expect((await own.delete<Problem>('/api/house', { name: 'Leaving', password: 'x' })).body.code).toBe(
      'password-wrong',
    );
    expect((await own.delete('/api/house', { name: 'Leaving', password: PASSWORD })).status).toBe(204);
    expect((await own.get('/api/events')).status).toBe(401);
    const source = server.app.get(DataSource);
    const columns: { t: string }[] = await source.query(
      "SELECT table_name t FROM information_schema.columns WHERE table_schema = DATABASE() AND column_name = 'house_id'",
    );
    const left: string[] = [];
    for (const { t } of columns) {
      const [row]: { n: string }[] = await source.query(`SELECT COUNT(*) n FROM ${t} WHERE house_id = ?`, [
        own.houseId,
      ]);
      if (Number(row!.n) > 0) left.push(t);
    }
    // What media nodes are still to do, and who is to hear of it: the doors were open, so something may lie there.
    expect(left.sort()).toEqual(['farewells', 'removals']);
    const people: object[] = await source.query('SELECT id FROM people WHERE email = ?', [own.email]);
    expect(people).toEqual([]);

    const node = await server.dialAsNode();
    await until(() => node.desired?.removedRecordings.length === 1, 'the removal to be wanted');
    const { programmeId } = node.desired!.removedRecordings[0]!;
    node.observe(1, { kind: 'recording-removed', programmeId, atMs: Date.now() });
    const letter = await until(
      () => mail.letters.find(({ to }) => to.includes(own.email)),
      'the letter that it is done',
    );
    expect(letter.subject).toBe('Leaving has been deleted');
    node.close();
  });

  test('that somebody leaves keeps neither their address nor their password', async () => {
    const own = await server.house();
    const leaving = await server.member(own.houseId, 'operator');
    const { body } = await own.get<{ items: { id: string; email: string }[] }>('/api/people');
    const { id } = body.items.find(({ email }) => email === leaving.email)!;
    await own.delete(`/api/people/${id}`);
    const [row]: object[] = await server.app
      .get(DataSource)
      .query('SELECT email, password_hash, name FROM people WHERE id = ?', [id]);
    expect(row).toEqual({ email: `${id}@gone.invalid`, password_hash: '', name: 'A operator' });
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
