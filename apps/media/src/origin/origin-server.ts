import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Grant } from '@heliphon/core/access/grant';
import { renderReplayPlaylist } from '@heliphon/core/packaging/playlist';
import type { Clock } from '../clock.js';
import type { Picture } from '../ingest/picture-taker.js';
import type { Programme } from '../programme/programme.js';
import type { GrantChecker } from './grant-checker.js';
import { type PlaylistText, PlaylistTexts, playlistText, waitFor } from './playlist-texts.js';

export interface OriginPorts {
  readonly grants: GrantChecker;
  readonly clock: Clock;
  findProgramme(programmeId: string): Promise<Programme | undefined>;
  look(sourceId: string): Picture | null;
}

const PROGRAMME_PATH = /^\/p\/([0-9a-f-]{36})\/([\w.-]{20,200})\/([\w.-]{1,40})$/;
const PICTURE_PATH = /^\/s\/([0-9a-f-]{36})\/([\w.-]{20,200})\/picture\.jpg$/;
const HINT_HOLD_MS = 5000;

/** Media of one grant class is the same for all, so any cache may keep it. */
const CACHE = {
  media: 'public, max-age=86400, immutable',
  playlist: 'public, max-age=1',
  held: 'public, max-age=6',
  ended: 'public, max-age=60',
  never: 'no-store',
} as const;

const TYPE = {
  playlist: 'application/vnd.apple.mpegurl',
  media: 'video/mp4',
  picture: 'image/jpeg',
} as const;

/** Serves playlists, parts, segments and thumbnails over plain HTTP (RFC 8216bis). Grants come before existence. */
export class OriginServer {
  readonly #server: Server;
  readonly #texts = new WeakMap<Programme, PlaylistTexts>();

  constructor(private readonly ports: OriginPorts) {
    this.#server = createServer((request, response) => {
      this.#serve(request, response).catch(() => {
        if (!response.headersSent) refuse(response, 500, 'This did not work. Try again in a moment.');
        else response.destroy();
      });
    });
    this.#server.keepAliveTimeout = 30_000;
  }

  async listen(port: number, host: string): Promise<number> {
    await new Promise<void>((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(port, host, 1024, resolve);
    });
    return (this.#server.address() as AddressInfo).port;
  }

  async close(): Promise<void> {
    this.#server.closeAllConnections();
    await new Promise((resolve) => this.#server.close(resolve));
  }

  async #serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    response.setHeader('Access-Control-Allow-Origin', '*');
    response.setHeader('Cross-Origin-Resource-Policy', 'cross-origin');
    const url = new URL(request.url ?? '/', 'http://node');
    if (request.method === 'OPTIONS') return void response.writeHead(204, PREFLIGHT).end();
    if (url.pathname === '/health') return sendText(response, 'ok');
    const picture = PICTURE_PATH.exec(url.pathname);
    if (picture) return this.#sendPicture(response, picture[1]!, picture[2]!);
    const match = PROGRAMME_PATH.exec(url.pathname);
    if (!match) return refuse(response, 404, 'There is nothing at this address.');
    const [, programmeId, grantText, file] = match as unknown as string[];
    const grant = this.ports.grants.check(programmeId!, grantText!);
    if (!grant.ok)
      return refuse(response, 403, 'This address has run out. Open the page again to get a new one.');
    const programme = await this.ports.findProgramme(programmeId!);
    if (!programme) return refuse(response, 403, 'There is no picture at this address yet.');
    await this.#sendFile(request, response, {
      programme,
      grant: grant.value,
      file: file!,
      query: url.searchParams,
    });
  }

  async #sendFile(request: IncomingMessage, response: ServerResponse, asked: Asked): Promise<void> {
    const { programme, grant, file } = asked;
    if (file === 'beat' && request.method === 'POST') {
      this.#sawViewer(asked);
      return void response.writeHead(204).end();
    }
    if (request.method !== 'GET' && request.method !== 'HEAD')
      return refuse(response, 405, 'Only reading is possible here.');
    if (file === 'live.m3u8') return this.#sendLive(request, response, asked);
    if (file === 'replay.m3u8') {
      const segments = programme.replaySegments;
      if (!segments) return refuse(response, 403, 'The replay opens when the event ends.');
      this.#sawViewer(asked);
      const text = renderReplayPlaylist(segments, { startsAtUtcMs: programme.startsAtUtcMs });
      return sendPlaylist(request, response, playlistText(text), CACHE.ended);
    }
    const [, kind, digits] = /^(part|seg|init)-(\d{1,9})\.(?:m4s|mp4)$/.exec(file) ?? [];
    const number = Number(digits);
    if (kind === 'part') return this.#sendPart(request, response, asked, number);
    if (kind === 'seg' && programme.mayFetch(grant.class, number)) {
      const bytes = programme.memory.segment(number);
      if (bytes) return sendMedia(request, response, bytes);
      return sendFromDisk(request, response, join(programme.folder.path, file));
    }
    if (kind === 'init') return sendFromDisk(request, response, join(programme.folder.path, file));
    refuse(response, kind === 'seg' ? 403 : 404, 'There is nothing at this address.');
  }

  async #sendLive(request: IncomingMessage, response: ServerResponse, asked: Asked): Promise<void> {
    const { programme, grant, query } = asked;
    this.#sawViewer(asked);
    const wanted = readPosition(query);
    if (wanted === 'malformed')
      return refuse(response, 400, '_HLS_msn and _HLS_part have to be whole numbers.');
    const texts = this.#texts.get(programme) ?? new PlaylistTexts(programme);
    this.#texts.set(programme, texts);
    const answer = await texts.answer(grant.class, wanted, abortWith(response));
    switch (answer.status) {
      case 200:
        return sendPlaylist(
          request,
          response,
          answer.text,
          answer.ended ? CACHE.ended : wanted ? CACHE.held : CACHE.playlist,
        );
      case 503:
        response.setHeader('Retry-After', '1');
        return refuse(response, 503, 'Nothing new has come yet. The picture will be back.');
      case 400:
        return refuse(response, 400, 'This playlist is not so far yet.');
      case 403:
        return refuse(response, 403, 'The programme has not begun.');
    }
  }

  /** The house's own desk is no viewer. */
  #sawViewer({ programme, grant, query }: Asked): void {
    if (grant.class === 'public') programme.viewers.saw(query.get('v'), this.ports.clock.monotonicMs());
  }

  async #sendPart(
    request: IncomingMessage,
    response: ServerResponse,
    { programme, grant }: Asked,
    number: number,
  ): Promise<void> {
    const isHinted = (): boolean => programme.windowFor(grant.class)?.nextPart === number;
    if (isHinted()) await waitFor(programme, () => !isHinted(), HINT_HOLD_MS, abortWith(response));
    const isBefore = programme.windowFor(grant.class) === null;
    const bytes = isBefore ? undefined : programme.memory.part(number);
    if (bytes) return sendMedia(request, response, bytes);
    refuse(response, isBefore ? 403 : 404, 'This part is not here.');
  }

  #sendPicture(response: ServerResponse, sourceId: string, grantText: string): void {
    if (!this.ports.grants.check(sourceId, grantText).ok)
      return refuse(response, 403, 'This address has run out.');
    const picture = this.ports.look(sourceId);
    if (!picture) return refuse(response, 404, 'There is no picture yet.');
    response.writeHead(200, { 'Content-Type': TYPE.picture, 'Cache-Control': CACHE.never }).end(picture.jpeg);
  }
}

interface Asked {
  readonly programme: Programme;
  readonly grant: Grant;
  readonly file: string;
  readonly query: URLSearchParams;
}

const PREFLIGHT = {
  'Access-Control-Allow-Methods': 'GET, HEAD, POST',
  'Access-Control-Max-Age': '86400',
} as const;

function readPosition(
  query: URLSearchParams,
): { sequence: number; part: number | null } | null | 'malformed' {
  const sequence = query.get('_HLS_msn');
  const part = query.get('_HLS_part');
  if (sequence === null) return part === null ? null : 'malformed';
  if (!/^\d{1,9}$/.test(sequence) || (part !== null && !/^\d{1,6}$/.test(part))) return 'malformed';
  return { sequence: Number(sequence), part: part === null ? null : Number(part) };
}

function abortWith(response: ServerResponse): AbortSignal {
  const controller = new AbortController();
  response.once('close', () => controller.abort());
  return controller.signal;
}

function refuse(response: ServerResponse, status: number, sentence: string): void {
  response
    .writeHead(status, { 'Content-Type': 'text/plain; charset=utf-8', 'Cache-Control': CACHE.never })
    .end(sentence);
}

function sendText(response: ServerResponse, text: string): void {
  response
    .writeHead(200, { 'Content-Type': 'text/plain; charset=utf-8', 'Cache-Control': CACHE.never })
    .end(text);
}

async function sendPlaylist(
  request: IncomingMessage,
  response: ServerResponse,
  text: PlaylistText,
  cache: string,
): Promise<void> {
  const zips = /\bgzip\b/.test(request.headers['accept-encoding'] ?? '');
  const body = zips ? await text.gzipped() : text.plain;
  response.writeHead(200, {
    'Content-Type': TYPE.playlist,
    'Cache-Control': cache,
    'Content-Length': body.byteLength,
    Vary: 'Accept-Encoding',
    ...(zips ? { 'Content-Encoding': 'gzip' } : {}),
  });
  response.end(request.method === 'HEAD' ? undefined : body);
}

function sendMedia(request: IncomingMessage, response: ServerResponse, bytes: Uint8Array): void {
  response.writeHead(200, {
    'Content-Type': TYPE.media,
    'Cache-Control': CACHE.media,
    'Content-Length': bytes.byteLength,
  });
  response.end(request.method === 'HEAD' ? undefined : bytes);
}

async function sendFromDisk(request: IncomingMessage, response: ServerResponse, path: string): Promise<void> {
  const file = await stat(path).catch(() => null);
  if (!file) return refuse(response, 404, 'There is nothing at this address.');
  response.writeHead(200, {
    'Content-Type': TYPE.media,
    'Cache-Control': CACHE.media,
    'Content-Length': file.size,
  });
  if (request.method === 'HEAD') return void response.end();
  createReadStream(path)
    .on('error', () => response.destroy())
    .pipe(response);
}
