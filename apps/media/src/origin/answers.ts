import type { IncomingMessage, ServerResponse } from 'node:http';
import { type ByteRange, parseByteRange } from '@heliphon/core/delivery/byte-range';
import { FileMemory } from './file-memory.js';
import type { PlaylistText } from './playlist-texts.js';

/** Media of one grant class is the same for all, so any cache may keep it. */
export const CACHE = {
  media: 'public, max-age=86400, immutable',
  playlist: 'public, max-age=1',
  held: 'public, max-age=6',
  ended: 'public, max-age=60',
  never: 'no-store',
} as const;

export const TYPE = {
  playlist: 'application/vnd.apple.mpegurl',
  media: 'video/mp4',
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

export type Headers = readonly string[];

function send(request: IncomingMessage, response: ServerResponse, headers: Headers, body: Uint8Array): void {
  response.writeHead(200, [...OPEN_TO_ALL, ...headers, 'Content-Length', String(body.byteLength)]);
  response.end(request.method === 'HEAD' ? undefined : body);
}

export function refuse(
  response: ServerResponse,
  status: number,
  sentence: string,
  headers: Headers = [],
): void {
  response
    .writeHead(status, [...OPEN_TO_ALL, 'Content-Type', TYPE.text, 'Cache-Control', CACHE.never, ...headers])
    .end(sentence);
}

export function sendNothing(response: ServerResponse, headers: Headers = []): void {
  response.writeHead(204, [...OPEN_TO_ALL, ...headers]).end();
}

export function sendText(
  request: IncomingMessage,
  response: ServerResponse,
  text: string,
  type: string = TYPE.text,
): void {
  send(request, response, ['Content-Type', type, 'Cache-Control', CACHE.never], Buffer.from(text));
}

export function sendPicture(response: ServerResponse, jpeg: Uint8Array, cache: string): void {
  response.writeHead(200, [...OPEN_TO_ALL, 'Content-Type', TYPE.picture, 'Cache-Control', cache]).end(jpeg);
}

export async function sendPlaylist(
  request: IncomingMessage,
  response: ServerResponse,
  text: PlaylistText,
  cache: string,
): Promise<void> {
  const zips = /\bgzip\b/.test(request.headers['accept-encoding'] ?? '');
  const body = zips ? await text.gzipped() : text.plain;
  const headers = ['Content-Type', TYPE.playlist, 'Cache-Control', cache, 'Vary', 'Accept-Encoding'];
  send(request, response, zips ? [...headers, 'Content-Encoding', 'gzip'] : headers, body);
}

/** Sends a part or segment that is in memory, whole or the range asked for (RFC 9110, 14). */
export function sendMedia(request: IncomingMessage, response: ServerResponse, bytes: Uint8Array): void {
  const range = sendHead(request, response, bytes.byteLength, MEDIA_HEADERS);
  if (range === 'refused') return;
  if (request.method === 'HEAD') return void response.end();
  response.end(range ? bytes.subarray(range.first, range.last + 1) : bytes);
}

const MEDIA_HEADERS = [
  'Content-Type',
  TYPE.media,
  'Cache-Control',
  CACHE.media,
  'Accept-Ranges',
  'bytes',
] as const;

const files = new FileMemory();

/** Sends a file of the recording: a segment or a header, never large. */
export async function sendFromDisk(
  request: IncomingMessage,
  response: ServerResponse,
  path: string,
): Promise<void> {
  const bytes = await files.read(path).catch(() => null);
  if (!bytes) return refuse(response, 404, 'There is nothing at this address.');
  sendMedia(request, response, bytes);
}

/** Writes the head of an answer, whole or partial as asked, or refuses a range that cannot be. */
export function sendHead(
  request: IncomingMessage,
  response: ServerResponse,
  sizeBytes: number,
  headers: Headers,
): ByteRange | null | 'refused' {
  const range = parseByteRange(request.headers.range, sizeBytes);
  if (range === 'unsatisfiable') {
    refuse(response, 416, 'The file is shorter than that.', ['Content-Range', `bytes */${sizeBytes}`]);
    return 'refused';
  }
  const lengthBytes = range ? range.last - range.first + 1 : sizeBytes;
  response.writeHead(range ? 206 : 200, [
    ...OPEN_TO_ALL,
    ...headers,
    ...(range ? ['Content-Range', `bytes ${range.first}-${range.last}/${sizeBytes}`] : []),
    'Content-Length',
    String(lengthBytes),
  ]);
  return range;
}
