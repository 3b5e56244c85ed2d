import { appendFile, mkdir, mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { type DesiredState, NO_DESIRED_STATE } from '@heliphon/core/control/desired-state';
import type { Observation } from '@heliphon/core/control/observations';
import type { Part } from '@heliphon/core/packaging/packager';
import { readConfig } from '../src/config.js';
import { DesiredStore } from '../src/control/desired-store.js';
import { Journal } from '../src/control/journal.js';
import { refusalSentence } from '../src/ingest/refusal-sentences.js';
import { PartMemory } from '../src/renditions/part-memory.js';
import {
  type IndexedSegment,
  listRecordings,
  RecordingFolder,
  startAfter,
} from '../src/recording/recording-folder.js';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'heliphon-disk-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const went = (sourceId: string): Observation => ({
  kind: 'source-went',
  sourceId,
  reason: 'connection-broke',
  atMs: 1,
});
const unstored = async (journal: Journal): Promise<unknown[]> =>
  (await journal.unstored()).map(({ observation }) => 'sourceId' in observation && observation.sourceId);

describe('the journal', () => {
  test('numbers what happened, and keeps it until it is stored', async () => {
    const journal = await Journal.open(folder);
    journal.add(went('a'));
    journal.add(went('b'));
    journal.add(went('c'));
    expect((await journal.unstored()).map((entry) => entry.journalSeq)).toEqual([1, 2, 3]);
    journal.stored(2);
    expect(await unstored(journal)).toEqual(['c']);
  });

  test('outlives the process, and goes on counting where it stopped', async () => {
    const first = await Journal.open(folder);
    first.add(went('a'));
    first.add(went('b'));
    first.stored(1);
    await first.settled();
    const second = await Journal.open(folder);
    expect(await unstored(second)).toEqual(['b']);
    second.stored(2);
    await second.settled();
    const third = await Journal.open(folder);
    third.add(went('c'));
    expect((await third.unstored()).map((entry) => entry.journalSeq)).toEqual([3]);
  });

  test('has a name that stays with its file, and counts on from whatever the server has already', async () => {
    const first = await Journal.open(folder);
    await first.settled();
    const again = await Journal.open(folder);
    expect(again.id).toBe(first.id);
    again.stored(40);
    again.add(went('a'));
    expect((await again.unstored()).map((entry) => entry.journalSeq)).toEqual([41]);
    await again.settled();
    await rm(join(folder, 'journal.jsonl'));
    expect((await Journal.open(folder)).id).not.toBe(first.id);
  });

  test('passes over a last line that a crash cut short', async () => {
    const first = await Journal.open(folder);
    first.add(went('a'));
    await first.settled();
    await appendFile(join(folder, 'journal.jsonl'), '{"journalSeq":2,"observ');
    expect(await unstored(await Journal.open(folder))).toEqual(['a']);
  });
});

describe('the desired state on disk', () => {
  const state: DesiredState = {
    ...NO_DESIRED_STATE,
    revision: 9,
    grantKeys: [{ keyId: 'k1', secretBase64: 'c2VjcmV0' }],
  };

  test('is kept sealed, for this process alone', async () => {
    await new DesiredStore(folder, 'a secret').save(state);
    const path = join(folder, 'desired.sealed');
    expect((await readFile(path)).includes('c2VjcmV0')).toBe(false);
    expect((await stat(path)).mode & 0o777).toBe(0o600);
    expect(await new DesiredStore(folder, 'a secret').load()).toEqual(state);
  });

  test('cannot be opened with another secret, nor when it was changed; then there is none', async () => {
    await new DesiredStore(folder, 'a secret').save(state);
    expect(await new DesiredStore(folder, 'another').load()).toEqual(NO_DESIRED_STATE);
    const path = join(folder, 'desired.sealed');
    const bytes = await readFile(path);
    bytes[40]! ^= 1;
    await writeFile(path, bytes);
    expect(await new DesiredStore(folder, 'a secret').load()).toEqual(NO_DESIRED_STATE);
  });

  test('is the later one where two are kept at once', async () => {
    const store = new DesiredStore(folder, 'a secret');
    await Promise.all([8, 9].map((revision) => store.save({ ...state, revision })));
    expect((await store.load()).revision).toBe(9);
  });

  test('of a first start there is none', async () => {
    expect(await new DesiredStore(folder, 'a secret').load()).toEqual(NO_DESIRED_STATE);
  });
});

describe('a recording’s folder', () => {
  const [houseId, programmeId] = [randomUUID(), randomUUID()];
  const segment = (sequence: number): IndexedSegment => ({
    sequence,
    programmeMs: sequence * 2000,
    utcMs: 1_000_000 + sequence * 2000,
    durationSeconds: 2,
    initNumber: 0,
    discontinuity: false,
    firstPart: sequence * 6,
    partCount: 6,
    sizeBytes: 3,
  });
  const facts = {
    houseId,
    programmeId,
    life: { state: 'doors', doorsAtMs: 5 } as const,
    lastCommandId: null,
    airAtProgrammeMs: null,
    endAtProgrammeMs: null,
  };

  const partOf = (whole: IndexedSegment, bytes: Uint8Array): Part => ({
    number: whole.firstPart,
    segmentSequence: whole.sequence,
    durationSeconds: 0.3,
    independent: true,
    bytes,
  });
  /** Writes a segment as a programme does: begun, a part, closed. */
  const keep = (recording: RecordingFolder, whole: IndexedSegment, bytes: Uint8Array): Promise<boolean> => {
    recording.beginSegment(whole);
    recording.writePart(partOf(whole, bytes));
    return recording.closeSegment(whole);
  };

  test('holds segments, their index and the facts, and gives them back', async () => {
    const recording = await RecordingFolder.open(folder, houseId, programmeId);
    recording.writeInit(0, Uint8Array.of(7));
    await keep(recording, segment(0), Uint8Array.of(1, 2, 3));
    await keep(recording, segment(1), Uint8Array.of(4, 5, 6));
    await recording.writeFacts(facts);
    const again = await RecordingFolder.open(folder, houseId, programmeId);
    expect(await again.readIndex()).toEqual([segment(0), segment(1)]);
    expect(await again.readFacts()).toEqual({ formatVersion: 1, ...facts });
    expect([...(await readFile(join(again.path, 'seg-1.m4s')))]).toEqual([4, 5, 6]);
    expect(await listRecordings(folder)).toEqual([[houseId, programmeId]]);
  });

  test('what a crash left of a segment is closed with its whole parts, and nothing behind them', async () => {
    const recording = await RecordingFolder.open(folder, houseId, programmeId);
    await keep(recording, segment(0), Uint8Array.of(1));
    recording.beginSegment(segment(1));
    for (const number of [6, 7])
      recording.writePart({
        number,
        segmentSequence: 1,
        durationSeconds: 0.3,
        independent: number === 6,
        bytes: Uint8Array.of(number, number),
      });
    await recording.settled();
    await appendFile(join(recording.path, 'seg-1.m4s'), 'half a part');
    await appendFile(join(recording.path, 'open.jsonl'), '{"part":8,"durat');

    const again = await RecordingFolder.open(folder, houseId, programmeId);
    const [, recovered] = await again.readIndex();
    expect(recovered).toMatchObject({
      sequence: 1,
      firstPart: 6,
      partCount: 2,
      sizeBytes: 4,
      durationSeconds: 0.6,
    });
    expect([...(await readFile(join(again.path, 'seg-1.m4s')))]).toEqual([6, 6, 7, 7]);
    expect(await again.readIndex()).toHaveLength(2);
    await recording.close();
  });

  test('an index line that was cut short does not lose the others', async () => {
    const recording = await RecordingFolder.open(folder, houseId, programmeId);
    await keep(recording, segment(0), Uint8Array.of(1));
    await appendFile(join(recording.path, 'index.jsonl'), '{"sequence":1,"progr');
    expect(await recording.readIndex()).toEqual([segment(0)]);
  });

  test('a format that is not ours is not guessed at', async () => {
    const recording = await RecordingFolder.open(folder, houseId, programmeId);
    await writeFile(join(recording.path, 'programme.json'), JSON.stringify({ formatVersion: 99 }));
    await expect(recording.readFacts()).rejects.toThrow('has format 99');
  });

  test('facts that are empty or torn are set aside with a notice, and those before them count', async () => {
    const recording = await RecordingFolder.open(folder, houseId, programmeId);
    await recording.writeFacts({ ...facts, lastCommandId: 'first' });
    await recording.writeFacts({ ...facts, lastCommandId: 'second' });
    for (const [torn, before] of [
      ['{"formatVersion":1,"programmeId":"', 'first'],
      ['', null],
    ] as const) {
      await writeFile(join(recording.path, 'programme.json'), torn);
      const aside: string[] = [];
      const read = await recording.readFacts((path) => aside.push(path));
      expect([read?.lastCommandId ?? null, aside.length]).toEqual([before, 1]);
      await rm(join(recording.path, 'programme.json.before'), { force: true });
    }
  });

  test('a segment with a part that could not be written is not said to be whole, whatever succeeds after it', async () => {
    const recording = await RecordingFolder.open(folder, houseId, programmeId);
    await keep(recording, segment(0), Uint8Array.of(1));
    await mkdir(join(recording.path, 'seg-1.m4s')); // nothing can be written there
    expect(await keep(recording, segment(1), Uint8Array.of(2))).toBe(false);
    expect(recording.failure).not.toBeNull();
    expect(await keep(recording, segment(2), Uint8Array.of(3))).toBe(true);
    expect(recording.failure).toBeNull();
    expect((await recording.readIndex()).map(({ sequence }) => sequence)).toEqual([0, 2]);
  });

  test('of a segment whose file is gone nothing is left, and the others stand', async () => {
    const recording = await RecordingFolder.open(folder, houseId, programmeId);
    await keep(recording, segment(0), Uint8Array.of(1));
    recording.beginSegment(segment(1));
    recording.writePart(partOf(segment(1), Uint8Array.of(2)));
    await recording.close();
    // Its end was not written any more: by a full disk, or a deletion that a crash cut short.
    recording.writePart(partOf(segment(1), Uint8Array.of(3)));
    expect(await recording.closeSegment(segment(1))).toBe(false);
    expect((await recording.readIndex()).map(({ sequence }) => sequence)).toEqual([0]);

    recording.beginSegment(segment(2));
    recording.writePart(partOf(segment(2), Uint8Array.of(4)));
    await recording.close();
    await rm(join(recording.path, 'seg-2.m4s'));
    expect((await recording.readIndex()).map(({ sequence }) => sequence)).toEqual([0]);
  });

  test('names that are no identifiers lead nowhere', async () => {
    await expect(RecordingFolder.open(folder, '../..', programmeId)).rejects.toThrow('UUIDs');
  });

  test('a write that fails is remembered, and the next one is tried all the same', async () => {
    const recording = await RecordingFolder.open(folder, houseId, programmeId);
    await rm(recording.path, { recursive: true });
    await keep(recording, segment(0), Uint8Array.of(1));
    expect(recording.failure?.message).toContain('ENOENT');
    await RecordingFolder.open(folder, houseId, programmeId);
    await keep(recording, segment(1), Uint8Array.of(1));
    expect(recording.failure).toBeNull();
  });

  test('a programme goes on with numbers that were certainly never promised', () => {
    expect(startAfter([])).toEqual({ nextSequence: 0, nextPart: 0, nextInit: 0, endMs: 0, partRule: null });
    const next = startAfter([segment(0), segment(1)]);
    expect(next).toMatchObject({ nextSequence: 2, nextInit: 1, endMs: 4000 });
    expect(next.nextPart).toBeGreaterThan(12);
  });
});

describe('parts in memory', () => {
  const part = (number: number, segmentSequence: number) => ({
    number,
    segmentSequence,
    durationSeconds: 0.3,
    independent: false,
    bytes: Uint8Array.of(number),
  });

  test('join to their segment, and leave with it when it is old', () => {
    const memory = new PartMemory();
    for (let sequence = 0; sequence < 10; sequence += 1) {
      memory.keep(part(sequence * 2, sequence));
      memory.keep(part(sequence * 2 + 1, sequence));
      expect(memory.close(sequence)).toBe(2);
      expect([...memory.segment(sequence)!]).toEqual([sequence * 2, sequence * 2 + 1]);
    }
    expect(memory.part(19)).toBeDefined();
    expect(memory.segment(1)).toBeUndefined();
    expect(memory.part(3)).toBeUndefined();
  });
});

describe('settings', () => {
  const whole = {
    HELIPHON_DATA: '/data',
    HELIPHON_SERVER_URL: 'http://127.0.0.1:4600',
    HELIPHON_NODE_ID: 'n1',
    HELIPHON_NODE_SECRET: 's'.repeat(40),
  };
  test('have the ports that are fixed, unless they are set', () => {
    expect(readConfig(whole)).toMatchObject({ bind: '127.0.0.1', playbackPort: 4610, rtmpPort: 1935 });
    expect(readConfig({ ...whole, HELIPHON_RTMP_PORT: '1936' }).rtmpPort).toBe(1936);
    const checks = (setting: object) => readConfig({ ...whole, ...setting }).checksSignals;
    expect([checks({}), checks({ HELIPHON_SIGNAL_CHECKS: 'off' })]).toEqual([true, false]);
  });
  test.each(['HELIPHON_DATA', 'HELIPHON_SERVER_URL', 'HELIPHON_NODE_SECRET'])(
    'without %s the node says so',
    (name) => {
      expect(() => readConfig({ ...whole, [name]: undefined })).toThrow(name);
    },
  );
});

test('a refusal names the codec where there is one', () => {
  expect(refusalSentence('video-codec', 'HEVC')).toBe(
    'Heliphon takes H.264 pictures only, not HEVC. Choose H.264 in the encoder.',
  );
  expect(refusalSentence('audio-codec')).toContain('not what came');
});
