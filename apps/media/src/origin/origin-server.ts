import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { Grant } from '@heliphon/core/access/grant';
import { renderReplayPlaylist } from '@heliphon/core/packaging/playlist';
import type { Clock } from '../clock.js';
import type { Picture } from '../ingest/picture-taker.js';
import type { Programme } from '../programme/programme.js';
import { sendRecording } from '../recording/download.js';
import { takeFrame } from '../recording/take-frame.js';
import {
  CACHE,
  refuse,
  sendFromDisk,
  sendMedia,
  sendNothing,
  sendPicture,
  sendPlaylist,
  sendText,
} from './answers.js';
import type { GrantChecker } from './grant-checker.js';
import { type PlaylistText, PlaylistTexts, playlistText, type PlaylistWish } from './playlist-texts.js';

export interface OriginPorts {
  readonly grants: GrantChecker;
  readonly clock: Clock;
  findProgramme(programmeId: string): Promise<Programme | undefined>;
  look(sourceId: string): Picture | null;
  /** All figures in Prometheus' text form. */
  metrics(): Promise<string>;
}

const PROGRAMME_PATH = /^\/p\/([0-9a-f-]{36})\/([\w.-]{20,200})\/([\w.-]{1,40})$/;
const PICTURE_PATH = /^\/s\/([0-9a-f-]{36})\/([\w.-]{20,200})\/picture\.jpg$/;
const HINT_HOLD_MS = 5000;

/** Serves playlists, parts, segments and thumbnails over plain HTTP (RFC 8216bis). Grants come before existence. */
export class OriginServer {
  readonly #server: Server;
  requestsAnswered = 0;
  readonly #texts = new WeakMap<Programme, PlaylistTexts>();
  /** A replay never changes: its text is written once. */
  readonly #replays = new WeakMap<Programme, PlaylistText>();

  constructor(private readonly ports: OriginPorts) {
    this.#server = createServer((request, response) => {
      this.requestsAnswered += 1;
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
    const [path, search = ''] = (request.url ?? '/').split('?', 2) as [string, string?];
    if (request.method === 'OPTIONS') return sendNothing(response, PREFLIGHT);
    const match = PROGRAMME_PATH.exec(path);
    if (!match) return this.#serveOther(request, response, path);
    const [, programmeId, grantText, file] = match as unknown as string[];
    const grant = this.ports.grants.check(programmeId!, grantText!);
    if (!grant.ok)
      return refuse(response, 403, 'This address has run out. Open the page again to get a new one.');
    const programme = await this.ports.findProgramme(programmeId!);
    if (!programme) return refuse(response, 403, 'There is no picture at this address yet.');
    const query = new URLSearchParams(search);
    await this.#sendFile(request, response, { programme, grant: grant.value, file: file!, query });
  }

  async #serveOther(request: IncomingMessage, response: ServerResponse, path: string): Promise<void> {
    if (path === '/health') return sendText(request, response, 'ok');
    if (path === '/metrics') return sendText(request, response, await this.ports.metrics(), METRICS_TYPE);
    const [, sourceId, grantText] = PICTURE_PATH.exec(path) ?? [];
    if (!sourceId || !grantText) return refuse(response, 404, 'There is nothing at this address.');
    if (!this.ports.grants.check(sourceId, grantText).ok)
      return refuse(response, 403, 'This address has run out.');
    const picture = this.ports.look(sourceId);
    if (!picture) return refuse(response, 404, 'There is no picture yet.');
    sendPicture(response, picture.jpeg, CACHE.never);
  }

  async #sendFile(request: IncomingMessage, response: ServerResponse, asked: Asked): Promise<void> {
    const { programme, grant, file } = asked;
    if (file === 'beat' && request.method === 'POST') {
      this.#sawViewer(asked);
      return sendNothing(response);
    }
    if (request.method !== 'GET' && request.method !== 'HEAD')
      return refuse(response, 405, 'Only reading is possible here.', ['Allow', 'GET, HEAD']);
    if (file === 'live.m3u8') return this.#sendLive(request, response, asked);
    if (file === 'replay.m3u8') return this.#sendReplay(request, response, asked);
    const [, kind, digits] = /^(part|seg|init|frame)-(\d{1,9})\.(?:m4s|mp4|jpg)$/.exec(file) ?? [];
    const number = Number(digits);
    if (kind === 'part') return this.#sendPart(request, response, asked, number);
    if (kind === 'seg' && programme.mayFetch(grant.class, number)) {
      const bytes = programme.memory.segment(number);
      if (bytes) return sendMedia(request, response, bytes);
      return sendFromDisk(request, response, join(programme.folder.path, file));
    }
    if (kind === 'init') return sendFromDisk(request, response, join(programme.folder.path, file));
    if (grant.class === 'desk' && kind === 'frame') return this.#sendFrame(response, programme, number);
    if (grant.class === 'desk' && file === 'recording.mp4') return sendRecording(request, response, asked);
    refuse(response, kind === 'seg' ? 403 : 404, 'There is nothing at this address.');
  }

  #sendReplay(request: IncomingMessage, response: ServerResponse, asked: Asked): Promise<void> | void {
    const { programme } = asked;
    const segments = programme.replaySegments;
    if (!segments) return refuse(response, 403, 'The replay opens when the event ends.');
    this.#sawViewer(asked);
    const known = this.#replays.get(programme);
    const text =
      known ?? playlistText(renderReplayPlaylist(segments, { startsAtUtcMs: programme.startsAtUtcMs }));
    this.#replays.set(programme, text);
    return sendPlaylist(request, response, text, CACHE.ended);
  }

  async #sendLive(request: IncomingMessage, response: ServerResponse, asked: Asked): Promise<void> {
    const { programme, grant, query } = asked;
    this.#sawViewer(asked);
    const wish = readWish(query);
    if (wish === 'malformed')
      return refuse(response, 400, '_HLS_msn and _HLS_part have to be whole numbers.');
    const answer = await this.#textsOf(programme).answer(grant.class, wish);
    switch (answer.status) {
      case 200: {
        const cache = answer.ended ? CACHE.ended : wish.position ? CACHE.held : CACHE.playlist;
        return sendPlaylist(request, response, answer.text, cache);
      }
      case 503:
        return refuse(response, 503, 'Nothing new has come yet. The picture will be back.', [
          'Retry-After',
          '1',
        ]);
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
    if (programme.windowFor(grant.class)?.nextPart === number)
      await this.#textsOf(programme).untilPartIs(number, grant.class, HINT_HOLD_MS);
    const isBefore = programme.windowFor(grant.class) === null;
    const bytes = isBefore ? undefined : programme.memory.part(number);
    if (bytes) return sendMedia(request, response, bytes);
    refuse(response, isBefore ? 403 : 404, 'This part is not here.');
  }

  async #sendFrame(response: ServerResponse, programme: Programme, atMs: number): Promise<void> {
    const frame = await takeFrame(programme, atMs);
    if (frame === 'busy')
      return refuse(response, 503, 'Other pictures are being taken. Try again.', ['Retry-After', '1']);
    if (!frame) return refuse(response, 404, 'There is no picture at this moment.');
    sendPicture(response, frame, CACHE.media);
  }

  #textsOf(programme: Programme): PlaylistTexts {
    const texts = this.#texts.get(programme) ?? new PlaylistTexts(programme);
    this.#texts.set(programme, texts);
    return texts;
  }
}

export interface Asked {
  readonly programme: Programme;
  readonly grant: Grant;
  readonly file: string;
  readonly query: URLSearchParams;
}

const METRICS_TYPE = 'text/plain; version=0.0.4; charset=utf-8';

const PREFLIGHT = [
  'Access-Control-Allow-Methods',
  'GET, HEAD, POST',
  'Access-Control-Allow-Headers',
  'Range',
  'Access-Control-Max-Age',
  '86400',
] as const;

/** Reads the delivery directives of a playlist request (RFC 8216bis, 6.2.5). */
function readWish(query: URLSearchParams): PlaylistWish | 'malformed' {
  const isDelta = ['YES', 'v2'].includes(query.get('_HLS_skip') ?? '');
  const sequence = query.get('_HLS_msn');
  const part = query.get('_HLS_part');
  if (sequence === null) return part === null ? { position: null, isDelta } : 'malformed';
  if (!/^\d{1,9}$/.test(sequence) || (part !== null && !/^\d{1,6}$/.test(part))) return 'malformed';
  return { position: { sequence: Number(sequence), part: part === null ? null : Number(part) }, isDelta };
}
