import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import Joi from 'joi';
import { FlvSource } from '@heliphon/core/ingest/flv-source';
import { readFlvFile } from '@heliphon/core/ingest/flv-tags';
import { decodeMs, type Frame } from '@heliphon/core/media/frame';
import { Timeline, type TimelineSignal } from '@heliphon/core/media/timeline';
import type { AudioTrack, Tracks, VideoTrack } from '@heliphon/core/media/track';
import { Packager } from '@heliphon/core/packaging/packager';
import { playingMs } from '@heliphon/core/packaging/replay-range';
import { Journal } from '../control/journal.js';
import { Recorder } from './recorder.js';
import { type IndexedSegment, RecordingFolder } from './recording-folder.js';

/** A recording to be made of a film, as if it had gone out at those instants. */
interface FilmOrder {
  readonly houseId: string;
  readonly programmeId: string;
  readonly airAtMs: number;
  readonly lengthMs: number;
}

const orderSchema = Joi.object<FilmOrder, true>({
  houseId: Joi.string().uuid().required(),
  programmeId: Joi.string().uuid().required(),
  airAtMs: Joi.number().required(),
  lengthMs: Joi.number().integer().min(1000).max(3_600_000).required(),
});

/** The demo film's own length. */
const FILM_MS = 60_000;
/** Doors of the demo's recordings open so long before their air. */
const DOORS_MS = 2000;

/** Picture and sound of a film that this product's own encoder settings made, in the order they stand in the file. */
function readFilm(file: Uint8Array): { tracks: Tracks; frames: readonly Frame[] } {
  const source = new FlvSource();
  let video: VideoTrack | null = null;
  let audio: AudioTrack | null = null;
  const frames: Frame[] = [];
  for (const { kind, timestampMs, body } of readFlvFile(file)) {
    const signal = kind === 'script' ? null : source.read({ kind, timestampMs, body });
    if (signal?.type === 'video-configured') video = signal.track;
    if (signal?.type === 'audio-configured') audio = signal.track;
    if (signal?.type === 'frame') frames.push(signal.frame);
  }
  if (!video || !audio) throw new Error('The film has no H.264 picture with AAC sound');
  return { tracks: { video, audio }, frames };
}

/** Packages a film into a recording's folder through the same packager as a live programme, and tells the journal. */
async function recordFilm(
  dataFolder: string,
  film: ReturnType<typeof readFilm>,
  order: FilmOrder,
): Promise<void> {
  const { houseId, programmeId, airAtMs } = order;
  const folder = await RecordingFolder.open(join(dataFolder, 'media'), houseId, programmeId);
  if (await folder.readFacts()) return;
  const timeline = new Timeline();
  const packager = new Packager();
  const recorder = new Recorder(folder, (programmeMs) => airAtMs - DOORS_MS + programmeMs);
  let sizeBytes = 0;
  const segments: IndexedSegment[] = [];
  const keep = async (signals: readonly TimelineSignal[]): Promise<void> => {
    for (const output of signals.flatMap((signal) => packager.take(signal))) {
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
  for (const frame of looped(film.frames, order.lengthMs))
    await keep(timeline.push(frame, film.tracks, DOORS_MS));
  await keep(timeline.break());

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
  journal.add({
    kind: 'recording-kept',
    programmeId,
    durationMs,
    gapsMs: 0,
    loudness: null,
    sizeBytes: keptBytes,
    atMs: endAtMs,
  });
  await journal.settled();
}

/** The film again and again: each loop continues on the encoder's clock where the last one stopped. */
function* looped(frames: readonly Frame[], lengthMs: number): Generator<Frame> {
  for (let fromMs = 0; fromMs < lengthMs; fromMs += FILM_MS)
    for (const frame of frames) {
      if (fromMs + decodeMs(frame) >= lengthMs) return;
      const shift = (fromMs * frame.timescale) / 1000;
      yield {
        ...frame,
        decodeTime: frame.decodeTime + shift,
        presentationTime: frame.presentationTime + shift,
      };
    }
}

const [dataFolder, filmPath, orders] = process.argv.slice(2);
if (!dataFolder || !filmPath || !orders) throw new Error('Usage: record-film DATA FILM.flv ORDERS.json');
const film = readFilm(await readFile(filmPath));
for (const order of Joi.attempt(JSON.parse(orders), Joi.array<FilmOrder[]>().items(orderSchema).required())) {
  await recordFilm(dataFolder, film, order);
}
