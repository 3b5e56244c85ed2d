import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import Joi from 'joi';
import { parseAacConfig, parseAvcConfig } from '@heliphon/core/ingest/codec-config';
import { parseAudioTag, parseVideoTag, readFlvFile } from '@heliphon/core/ingest/flv-tags';
import type { Tracks } from '@heliphon/core/packaging/init-segment';
import { Packager, type PackagerOutput } from '@heliphon/core/packaging/packager';
import { playingMs } from '@heliphon/core/packaging/replay-range';
import { Journal } from '../control/journal.js';
import { Recorder } from './recorder.js';
import { type IndexedSegment, RecordingFolder } from './recording-folder.js';

/** A recording to be made of a film, as if it had gone out at those instants. */
interface FilmOrder {
  readonly houseId: string;
  readonly programmeId: string;
  readonly airAtMs: number;
  readonly loops: number;
}

const orderSchema = Joi.object<FilmOrder, true>({
  houseId: Joi.string().uuid().required(),
  programmeId: Joi.string().uuid().required(),
  airAtMs: Joi.number().required(),
  loops: Joi.number().integer().min(1).max(60).required(),
});

/** The demo film's own length. */
const FILM_MS = 60_000;
/** Doors of the demo's recordings open so long before their air. */
const DOORS_MS = 2000;

/** Reads picture and sound of a film that this product's own encoder settings made. */
function tracksOf(film: Uint8Array): Tracks {
  let tracks: Partial<{ video: Tracks['video']; audio: Tracks['audio'] }> = {};
  for (const { kind, body } of readFlvFile(film)) {
    if (kind === 'video') {
      const tag = parseVideoTag(body);
      const parameters = tag.type === 'config' ? parseAvcConfig(tag.avcConfig) : null;
      if (tag.type === 'config' && parameters?.ok)
        tracks = { ...tracks, video: { ...parameters.value, config: tag.avcConfig } };
    }
    if (kind === 'audio') {
      const tag = parseAudioTag(body);
      const parameters = tag.type === 'config' ? parseAacConfig(tag.aacConfig) : null;
      if (tag.type === 'config' && parameters?.ok)
        tracks = { ...tracks, audio: { ...parameters.value, config: tag.aacConfig } };
    }
    if (tracks.video && tracks.audio) return { video: tracks.video, audio: tracks.audio };
  }
  throw new Error('The film has no H.264 picture with AAC sound');
}

/** Packages a film into a recording's folder through the same packager as a live programme, and tells the journal. */
async function recordFilm(dataFolder: string, film: Uint8Array, order: FilmOrder): Promise<void> {
  const { houseId, programmeId, airAtMs } = order;
  const folder = await RecordingFolder.open(join(dataFolder, 'media'), houseId, programmeId);
  if (await folder.readFacts()) return;
  const tracks = tracksOf(film);
  const packager = new Packager();
  const recorder = new Recorder(folder, (programmeMs) => airAtMs - DOORS_MS + programmeMs);
  let sizeBytes = 0;
  const segments: IndexedSegment[] = [];
  const keep = async (outputs: readonly PackagerOutput[]): Promise<void> => {
    for (const output of outputs) {
      if (output.type === 'init') folder.writeInit(output.number, output.bytes);
      if (output.type === 'segment-begun') recorder.begin(output);
      if (output.type === 'part') {
        sizeBytes += output.part.bytes.byteLength;
        recorder.part(output.part);
      }
      if (output.type !== 'segment') continue;
      segments.push(recorder.close(output.segment, sizeBytes)!);
      sizeBytes = 0;
      await folder.settled();
    }
  };
  for (let loop = 0; loop < order.loops; loop += 1) await playOnce(film, loop, tracks, packager, keep);
  await keep(packager.end());

  const durationMs = playingMs(segments);
  const endAtMs = airAtMs + durationMs;
  await folder.writeFacts({
    houseId,
    programmeId,
    life: { state: 'kept', doorsAtMs: airAtMs - DOORS_MS, airAtMs, endAtMs, cause: 'by-hand' },
    lastCommandId: null,
    airAtProgrammeMs: DOORS_MS,
    endAtProgrammeMs: DOORS_MS + durationMs,
  });
  const journal = await Journal.open(join(dataFolder, 'node'));
  const keptBytes = segments.reduce((sum, segment) => sum + segment.sizeBytes, 0);
  journal.add({ kind: 'recording-kept', programmeId, durationMs, sizeBytes: keptBytes, atMs: endAtMs });
  await journal.settled();
}

/** Each loop continues on the encoder's clock where the last one stopped. */
async function playOnce(
  film: Uint8Array,
  loop: number,
  tracks: Tracks,
  packager: Packager,
  keep: (outputs: readonly PackagerOutput[]) => Promise<void>,
): Promise<void> {
  const fromMs = loop * FILM_MS;
  for (const { kind, timestampMs, body } of readFlvFile(film)) {
    const decodeMs = fromMs + timestampMs;
    if (kind === 'audio') {
      const tag = parseAudioTag(body);
      if (tag.type !== 'frame') continue;
      const outputs = packager.audio({ decodeMs, data: tag.data });
      if (outputs !== 'clock-step') await keep(outputs);
    }
    if (kind !== 'video') continue;
    const tag = parseVideoTag(body);
    if (tag.type !== 'frame') continue;
    const frame = {
      decodeMs,
      compositionOffsetMs: tag.compositionOffsetMs,
      isKeyframe: tag.isKeyframe,
      data: tag.data,
    };
    const outputs = packager.isRunning ? packager.video(frame) : packager.begin(tracks, frame, DOORS_MS);
    if (outputs !== 'clock-step') await keep(outputs);
  }
}

const [dataFolder, filmPath, orders] = process.argv.slice(2);
if (!dataFolder || !filmPath || !orders) throw new Error('Usage: record-film DATA FILM.flv ORDERS.json');
const film = await readFile(filmPath);
for (const order of Joi.attempt(JSON.parse(orders), Joi.array<FilmOrder[]>().items(orderSchema).required())) {
  await recordFilm(dataFolder, film, order);
}
