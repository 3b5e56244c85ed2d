import type { ServerResponse } from 'node:http';
import { parseByteRange, type ByteRange } from '@heliphon/core/delivery/byte-range';
import type { PlainRequest } from '@heliphon/core/delivery/plain-request';
import type { PlaylistText } from './playlist-texts.js';

/** Media of one grant class is the same for all, so any cache may keep it. */
export const CACHE = {
  media: 'public, max-age=86400, immutable',
  playlist: 'public, max-age=1',
  held: 'public, max-age=6',
  ended: 'public, max-age=60',
  never: 'no-store',
} as const;

const TYPE = {
  playlist: 'application/vnd.apple.mpegurl',
  whole: 'video/mp4',
  sound: 'audio/mp4',
  picture: 'image/jpeg',
  text: 'text/plain; charset=utf-8',
} as const;

/** Players stand on other sites. */
const OPEN_TO_ALL = [
  'Access-Control-Allow-Origin',
  '*',
  'Cross-Origin-Resource-Policy',
  'cross-origin',
  'Access-Control-Expose-Headers',
  'Content-Range, Content-Length',
] as const;

/** Names and values in turn. */
export type Headers = readonly string[];

/** An answer that is whole: sent by Node's HTTP server or on the fast path, the same bytes. */
export interface Answer {
  readonly status: number;
  readonly headers: Headers;
  /** `null` where a HEAD request wants to know its length only. */
  readonly body: Uint8Array | null;
}

export const NOTHING_HERE = 'There is nothing at this address.';
export const SORRY = 'This did not work. Try again in a moment.';

function answer(request: PlainRequest, headers: Headers, bytes: Uint8Array): Answer {
  const length = ['Content-Length', String(bytes.byteLength)];
  return {
    status: 200,
    headers: [...OPEN_TO_ALL, ...headers, ...length],
    body: request.method === 'HEAD' ? null : bytes,
  };
}

/** Answers that were given before; they last as long as their bytes. */
const given = new WeakMap<Uint8Array, Map<string, Answer>>();

/** What is asked for over and over is answered with the same value: nothing is put together twice. */
function remembered(request: PlainRequest, bytes: Uint8Array, cache: string, make: () => Answer): Answer {
  if (request.method === 'HEAD' || request.range !== undefined) return make();
  const ofBytes = given.get(bytes) ?? new Map<string, Answer>();
  const known = ofBytes.get(cache);
  if (known) return known;
  const made = make();
  given.set(bytes, ofBytes.set(cache, made));
  return made;
}

export function refusal(status: number, sentence: string, headers: Headers = []): Answer {
  const body = Buffer.from(sentence);
  const kind = ['Content-Type', TYPE.text, 'Cache-Control', CACHE.never];
  const length = ['Content-Length', String(body.byteLength)];
  return { status, headers: [...OPEN_TO_ALL, ...kind, ...headers, ...length], body };
}

export const nothing = (headers: Headers = []): Answer => ({
  status: 204,
  headers: [...OPEN_TO_ALL, ...headers],
  body: null,
});

export const textAnswer = (request: PlainRequest, text: string, type: string = TYPE.text): Answer =>
  answer(request, ['Content-Type', type, 'Cache-Control', CACHE.never], Buffer.from(text));

export const pictureAnswer = (request: PlainRequest, jpeg: Uint8Array, cache: string): Answer =>
  answer(request, ['Content-Type', TYPE.picture, 'Cache-Control', cache], jpeg);

export function playlistAnswer(
  request: PlainRequest,
  text: PlaylistText,
  cache: string,
): Answer | Promise<Answer> {
  const zips = /\bgzip\b/.test(request.acceptEncoding);
  const headers = ['Content-Type', TYPE.playlist, 'Cache-Control', cache, 'Vary', 'Accept-Encoding'];
  if (zips) headers.push('Content-Encoding', 'gzip');
  const give = (bytes: Buffer): Answer =>
    remembered(request, bytes, cache, () => answer(request, headers, bytes));
  const bytes = zips ? text.gzipped() : text.plain;
  return bytes instanceof Promise ? bytes.then(give) : give(bytes);
}

/**
 * A part, segment or header, whole or the range asked for (RFC 9110, 14). Players that are handed a media playlist alone
 * tell by the type whether there is a picture in it.
 */
export const mediaAnswer = (request: PlainRequest, bytes: Uint8Array, kind: 'whole' | 'sound'): Answer =>
  remembered(request, bytes, CACHE.media, () => rangeAnswer(request, bytes, kind));

function rangeAnswer(request: PlainRequest, bytes: Uint8Array, kind: 'whole' | 'sound'): Answer {
  const headers = ['Content-Type', TYPE[kind], 'Cache-Control', CACHE.media, 'Accept-Ranges', 'bytes'];
  const { range, ...head } = headOf(request, bytes.byteLength, headers);
  if (range === 'unsatisfiable') return refusalOf(bytes.byteLength);
  const wanted = range ? bytes.subarray(range.first, range.last + 1) : bytes;
  return { ...head, body: request.method === 'HEAD' ? null : wanted };
}

/** The head of an answer of `sizeBytes`, whole or partial as asked. */
export function headOf(
  request: PlainRequest,
  sizeBytes: number,
  headers: Headers,
): Omit<Answer, 'body'> & { readonly range: ByteRange | null | 'unsatisfiable' } {
  const range = parseByteRange(request.range, sizeBytes);
  const isPartial = range !== null && range !== 'unsatisfiable';
  const lengthBytes = isPartial ? range.last - range.first + 1 : sizeBytes;
  const stretch = isPartial ? ['Content-Range', `bytes ${range.first}-${range.last}/${sizeBytes}`] : [];
  return {
    status: isPartial ? 206 : 200,
    headers: [...OPEN_TO_ALL, ...headers, ...stretch, 'Content-Length', String(lengthBytes)],
    range,
  };
}

/** A range was asked for that a file of `sizeBytes` does not have. */
export const refusalOf = (sizeBytes: number): Answer =>
  refusal(416, 'The file is shorter than that.', ['Content-Range', `bytes */${sizeBytes}`]);

export function sendAnswer(response: ServerResponse, { status, headers, body }: Answer): void {
  response.writeHead(status, [...headers]);
  if (body) response.end(body);
  else response.end();
}
