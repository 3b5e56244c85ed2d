import { type FileHandle, open, readFile } from 'node:fs/promises';
import type { ServerResponse } from 'node:http';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { viewOf } from '@heliphon/core/bytes';
import type { PlainRequest } from '@heliphon/core/delivery/plain-request';
import { initName, segmentName } from '@heliphon/core/packaging/playlist';
import { FilmLayout } from '@heliphon/core/packaging/progressive-mp4';
import { readInitTracks, readMovieFragment } from '@heliphon/core/packaging/read-boxes';
import type { InitTrack } from '@heliphon/core/packaging/read-boxes';
import { CACHE, headOf, type Headers, refusal, refusalOf, sendAnswer } from '../origin/answers.js';
import type { Asked } from '../origin/programme-answers.js';
import type { IndexedSegment } from './recording-folder.js';

/** A stretch of a segment's file that goes into the film as it is. */
interface Stretch {
  readonly file: string;
  readonly at: number;
  readonly sizeBytes: number;
}

interface Film {
  readonly head: Uint8Array;
  readonly stretches: readonly Stretch[];
  readonly sizeBytes: number;
}

/** Enough for the `moof` of any part and the head of its `mdat`. */
const LOOK_BYTES = 16 * 1024;

/** Films laid out so far: the second request, a range of the same film, need not read the recording again. */
const films = new WeakMap<readonly IndexedSegment[], Promise<Film>>();

/** Sends the whole replay as one MP4 file, made of the recording as it lies there; ranges are honoured. */
export async function sendRecording(
  request: PlainRequest,
  response: ServerResponse,
  { programme, query }: Asked,
): Promise<void> {
  const segments = programme.rendition.replaySegments;
  if (!segments || segments.length === 0)
    return sendAnswer(response, refusal(404, 'There is no recording to download yet.'));
  const known = films.get(segments) ?? layOut(programme.folder.path, segments);
  films.set(segments, known);
  known.catch(() => films.delete(segments));
  const film = await known;
  const { range, status, headers } = headOf(request, film.sizeBytes, headersOf(query.get('name')));
  if (range === 'unsatisfiable') return sendAnswer(response, refusalOf(film.sizeBytes));
  response.writeHead(status, [...headers]);
  if (request.method === 'HEAD') return void response.end();
  const { first, last } = range ?? { first: 0, last: film.sizeBytes - 1 };
  await pipeline(Readable.from(filmBytes(film, first, last)), response).catch(() => response.destroy());
}

function headersOf(name: string | null): Headers {
  const fileName = `${(name ?? '').replace(/[^\p{L}\p{N} ,.'-]/gu, '').slice(0, 100) || 'Recording'}.mp4`;
  return [
    'Content-Type',
    'video/mp4',
    'Accept-Ranges',
    'bytes',
    'Cache-Control',
    CACHE.never,
    'Content-Disposition',
    `attachment; filename*=UTF-8''${encodeURIComponent(fileName).replaceAll("'", '%27')}`,
  ];
}

/** Reads the tables of every part; the pictures themselves stay where they are. */
async function layOut(path: string, segments: readonly IndexedSegment[]): Promise<Film> {
  const layout = new FilmLayout();
  const stretches: Stretch[] = [];
  let headerNumber: number | null = null;
  let header: readonly InitTrack[] = [];
  for (const segment of segments) {
    const isOtherHeader = headerNumber !== segment.initNumber;
    if (isOtherHeader) {
      headerNumber = segment.initNumber;
      header = readInitTracks(await readFile(join(path, initName(headerNumber))));
    }
    let startsRun = isOtherHeader || segment.discontinuity;
    const file = join(path, segmentName(segment.sequence));
    for (const { moof, at, sizeBytes } of await partsOf(file)) {
      layout.add({ startsRun, tracks: readMovieFragment(moof), header });
      stretches.push({ file, at, sizeBytes });
      startsRun = false;
    }
  }
  const head = layout.head();
  return { head, stretches, sizeBytes: head.byteLength + layout.dataBytes };
}

/** The parts of a segment's file: the `moof` of each, and where its media data lie. */
function partsOf(path: string): Promise<{ moof: Uint8Array; at: number; sizeBytes: number }[]> {
  return withFile(path, async (file) => {
    const parts = [];
    const look = new Uint8Array(LOOK_BYTES);
    for (let at = 0; ;) {
      const { bytesRead } = await file.read(look, 0, LOOK_BYTES, at);
      if (bytesRead < 16) return parts;
      const view = viewOf(look);
      const moofBytes = view.getUint32(0);
      const dataBytes = view.getUint32(moofBytes) - 8;
      parts.push({ moof: look.slice(0, moofBytes), at: at + moofBytes + 8, sizeBytes: dataBytes });
      at += moofBytes + 8 + dataBytes;
    }
  });
}

async function withFile<T>(path: string, work: (file: FileHandle) => Promise<T>): Promise<T> {
  const file = await open(path);
  try {
    return await work(file);
  } finally {
    await file.close();
  }
}

/** The film's bytes from `first` to `last`, both included, read as they are asked for. */
async function* filmBytes(film: Film, first: number, last: number): AsyncGenerator<Uint8Array> {
  if (first < film.head.byteLength) yield film.head.subarray(first, last + 1);
  let at = film.head.byteLength;
  for (const stretch of film.stretches) {
    const from = Math.max(first, at);
    const to = Math.min(last + 1, at + stretch.sizeBytes);
    if (from < to) yield await readStretch(stretch, from - at, to - from);
    at += stretch.sizeBytes;
    if (at > last) return;
  }
}

function readStretch(stretch: Stretch, offset: number, sizeBytes: number): Promise<Uint8Array> {
  return withFile(stretch.file, async (file) => {
    const bytes = new Uint8Array(sizeBytes);
    await file.read(bytes, 0, sizeBytes, stretch.at + offset);
    return bytes;
  });
}
