import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import type { EventView } from '@heliphon/contracts/events';
import type { RecordingFiles, RecordingView } from '@heliphon/contracts/house';
import type { Page, Problem } from '@heliphon/contracts/problem';
import { Database } from '../src/platform/database.js';
import { LegEntity } from '../src/tables/leg.entity.js';
import { type HouseClient, ServerDriver, until } from './driver.js';

let server: ServerDriver;
let house: HouseClient;
beforeAll(async () => {
  server = await ServerDriver.start();
  house = await server.house();
});
afterAll(() => server.stop());

describe('a recording', () => {
  async function kept(client: HouseClient): Promise<RecordingView> {
    const node = await server.dialAsNode();
    const event = await client.event(60, 120);
    const air = (await client.move(event, 'go-on-air')).body;
    await client.move(air, 'end');
    const seq = Date.now();
    node.observe(seq, {
      kind: 'recording-kept',
      loudness: null,
      gapsMs: 4000,
      programmeId: event.programmeId,
      durationMs: 60_000,
      sizeBytes: 1e7,
      atMs: Date.now(),
    });
    await until(() => node.storedSeq >= seq, 'the recording');
    node.close();
    const { body } = await client.get<Page<RecordingView>>('/api/recordings');
    return body.items.find((recording) => recording.eventId === event.id)!;
  }

  test('is renamed, described and given a picture; all of it can be undone', async () => {
    const recording = await kept(house);
    const named = await house.patch<RecordingView>(`/api/recordings/${recording.id}`, recording.version, {
      title: 'As sung',
    });
    expect(named.body).toMatchObject({ title: 'As sung', description: recording.description });
    const jpeg = await sharp({ create: { width: 640, height: 360, channels: 3, background: '#345' } })
      .jpeg()
      .toBuffer();
    const pictured = await house.upload<RecordingView>(`/api/recordings/${recording.id}/poster`, jpeg);
    expect(pictured.body.posterUrl).toMatch(/^\/posters\//);
    await house.post('/api/happenings/undo-last', { subjectId: recording.id });
    expect((await house.get<RecordingView>(`/api/recordings/${recording.id}`)).body.posterUrl).toBeNull();
    const { body } = await house.get<RecordingFiles>(`/api/recordings/${recording.id}/files`);
    expect(body.mp4).toContain('/recording.mp4?name=As%20sung');
  });

  test('is shown without its gaps unless the house wants them, which its node is told', async () => {
    const recording = await kept(house);
    const node = await server.dialAsNode();
    expect(recording).toMatchObject({ durationMs: 60_000, gapsMs: 4000, keepsGaps: false });
    const { programmeId } = (await house.get<EventView>(`/api/events/${recording.eventId}`)).body;
    const shown = await house.patch<RecordingView>(`/api/recordings/${recording.id}`, recording.version, {
      keepsGaps: true,
    });
    expect(shown.body).toMatchObject({ durationMs: 64_000, keepsGaps: true });
    await until(() => node.desired?.recordingsWithGaps.includes(programmeId), 'the node to be told');
    await house.post('/api/happenings/undo-last', { subjectId: recording.id });
    await until(() => !node.desired!.recordingsWithGaps.includes(programmeId), 'the node to be told again');
    node.close();
  });

  test('that waits for nothing any more is as long as that makes it, whenever it is asked for', async () => {
    const { id, eventId } = await kept(house);
    const { programmeId } = (await house.get<EventView>(`/api/events/${eventId}`)).body;
    const leg = { programmeId, leg: 0, houseId: house.houseId, nodeId: 'elsewhere' };
    await server.app.get(Database).installation.insert(LegEntity, leg);
    // Somebody who asks stands still between what is kept and what is awaited, while the rest comes.
    const [legs, other] = await Promise.all([server.connect(), server.connect()]);
    await legs.query('LOCK TABLES programme_legs WRITE');
    const asked = house.get<Page<RecordingView>>('/api/recordings');
    await until(async () => {
      const [waiting] = await other.query('SHOW FULL PROCESSLIST');
      return (waiting as { State: string }[]).some(({ State }) => /metadata lock/.test(State));
    }, 'somebody who asks to wait');
    await other.query('UPDATE recordings SET duration_ms = 90000 WHERE id = ?', [id]);
    await legs.query('DELETE FROM programme_legs WHERE programme_id = ?', [programmeId]);
    await legs.query('UNLOCK TABLES');
    const found = (await asked).body.items.find((recording) => recording.id === id)!;
    await Promise.all([legs.end(), other.end()]);
    expect([found.durationMs, found.awaitedFrom.length]).toEqual([60_000, 1]);
    const { body: later } = await house.get<RecordingView>(`/api/recordings/${id}`);
    expect([later.durationMs, later.awaitedFrom]).toEqual([90_000, []]);
  });

  test('goes to the bin and back; the public sees it only while it is kept', async () => {
    const recording = await kept(house);
    const replay = async () =>
      (await server.anybody().get<{ playback: object | null }>(`/api/public/events/${recording.slug}`)).body
        .playback;
    expect(await replay()).not.toBeNull();
    await house.post(`/api/recordings/${recording.id}/bin`);
    await until(async () => (await replay()) === null, 'it to be hidden');
    const bin = await house.get<Page<RecordingView>>('/api/recordings?in=bin');
    expect(bin.body.items.map(({ id }) => id)).toContain(recording.id);
    await house.post(`/api/recordings/${recording.id}/restore`);
    await until(async () => (await replay()) !== null, 'it to be back');
    expect((await house.delete<Problem>(`/api/recordings/${recording.id}`)).body.code).toBe('not-in-the-bin');
  });

  test('deleted for good is named to the node until it says that it is gone', async () => {
    const recording = await kept(house);
    const node = await server.dialAsNode();
    await house.post(`/api/recordings/${recording.id}/bin`);
    expect((await house.delete(`/api/recordings/${recording.id}`)).status).toBe(204);
    const removal = await until(() => node.desired?.removedRecordings.at(-1), 'the removal');
    const seq = Date.now() + 10;
    node.observe(seq, { kind: 'recording-removed', programmeId: removal.programmeId, atMs: Date.now() });
    await until(() => node.storedSeq >= seq, 'it to be stored');
    await house.source('to make a new state');
    await until(() => node.desired?.removedRecordings.length === 0, 'nothing more to remove');
    node.close();
  });

  test('lying longest in the bin goes first when the disk runs low', async () => {
    const [older, newer] = [await kept(house), await kept(house)];
    for (const { id } of [older, newer]) await house.post(`/api/recordings/${id}/bin`);
    const node = await server.dialAsNode();
    const report = setInterval(() => node.report({ disk: 'low' }), 500);
    await until(() => node.desired?.removedRecordings.length === 1, 'one removal');
    clearInterval(report);
    const { body } = await house.get<Page<RecordingView>>('/api/recordings?in=bin');
    const ids = body.items.map(({ id }) => id);
    expect([ids.includes(older.id), ids.includes(newer.id)]).toEqual([false, true]);
    node.close();
  });
});
