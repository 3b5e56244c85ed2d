import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo, Socket } from 'node:net';
import type { Duplex } from 'node:stream';
import type { PlainRequest } from '@heliphon/core/delivery/plain-request';
import type { Picture } from '../ingest/thumbnailer.js';
import { sendRecording } from '../recording/download.js';
import type { ChildProcesses } from '../processes/child-processes.js';
import { takeFrame } from '../recording/take-frame.js';
import {
  type Answer,
  CACHE,
  nothing,
  NOTHING_HERE,
  pictureAnswer,
  refusal,
  sendAnswer,
  SORRY,
  textAnswer,
} from './answers.js';
import { FastPath, IDLE_MS } from './fast-path.js';
import { type Asked, ProgrammeAnswers, type ProgrammePorts } from './programme-answers.js';

export interface OriginPorts extends ProgrammePorts {
  readonly children: ChildProcesses;
  /** Answers clients that measure the way here. */
  readonly nodeId: string;
  look(sourceId: string): Picture | null;
  /** Takes what asks for more than answers: a browser with a camera, a desk with a quick picture. */
  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void;
  /** Answers encoders that speak WHIP. */
  whip(request: IncomingMessage, response: ServerResponse): Promise<void>;
  /** All figures in Prometheus' text form. */
  metrics(): Promise<string>;
}

const WHIP = /^\/whip(?:\/|$)/;
const PICTURE_PATH = /^\/s\/([0-9a-f-]{36})\/([\w.-]{20,200})\/picture\.jpg$/;

/** Serves playlists, parts, segments and thumbnails over plain HTTP (RFC 8216bis). */
export class OriginServer {
  readonly #server: Server;
  readonly #programmes: ProgrammeAnswers;
  readonly #lane: FastPath;
  requestsAnswered = 0;

  constructor(private readonly ports: OriginPorts) {
    this.#programmes = new ProgrammeAnswers(ports);
    const counted = (answer: Answer | null): Answer | null => {
      if (answer) this.requestsAnswered += 1;
      return answer;
    };
    this.#lane = new FastPath((request) => {
      const answer = this.#programmes.ofRunning(request) ?? this.#programmes.answer(request);
      return answer instanceof Promise ? answer.then(counted) : counted(answer);
    });
    this.#server = createServer((request, response) => {
      this.requestsAnswered += 1;
      this.#serve(request, response).catch(() => {
        if (!response.headersSent) sendAnswer(response, refusal(500, SORRY));
        else response.destroy();
      });
    });
    this.#server.on('upgrade', (request, socket: Duplex, head: Buffer) =>
      ports.upgrade(request, socket, head),
    );
    this.#server.keepAliveTimeout = IDLE_MS;
    const toHttp = this.#server.listeners('connection') as ((socket: Socket) => void)[];
    this.#server.removeAllListeners('connection');
    this.#server.on('connection', (socket: Socket) =>
      this.#lane.take(socket, () => toHttp.forEach((take) => take.call(this.#server, socket))),
    );
  }

  async listen(port: number, host: string): Promise<number> {
    await new Promise<void>((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(port, host, 1024, resolve);
    });
    return (this.#server.address() as AddressInfo).port;
  }

  async close(): Promise<void> {
    this.#lane.close();
    this.#server.closeAllConnections();
    await new Promise((resolve) => this.#server.close(resolve));
  }

  async #serve(message: IncomingMessage, response: ServerResponse): Promise<void> {
    if (WHIP.test(message.url ?? '')) return this.ports.whip(message, response);
    if (message.method === 'OPTIONS') return sendAnswer(response, nothing(PREFLIGHT));
    const request = plainOf(message);
    const asked = await this.#programmes.open(request.target);
    if (!asked) return sendAnswer(response, await this.#answerOther(request));
    if ('status' in asked) return sendAnswer(response, asked);
    if (asked.file === 'beat' && message.method === 'POST') {
      this.#programmes.sawViewer(asked);
      return sendAnswer(response, nothing());
    }
    if (message.method !== 'GET' && message.method !== 'HEAD')
      return sendAnswer(response, refusal(405, 'Only reading is possible here.', ['Allow', 'GET, HEAD']));
    const isDesk = asked.grant.class === 'desk';
    if (isDesk && asked.file === 'recording.mp4') return sendRecording(request, response, asked);
    const answer =
      (await this.#programmes.answerFile(request, asked)) ?? (isDesk && (await this.#frame(request, asked)));
    sendAnswer(response, answer || refusal(404, NOTHING_HERE));
  }

  async #answerOther(request: PlainRequest): Promise<Answer> {
    const [path] = request.target.split('?', 1) as [string];
    if (path === '/health') return textAnswer(request, 'ok');
    if (path === '/reach') return textAnswer(request, this.ports.nodeId);
    if (path === '/metrics') return textAnswer(request, await this.ports.metrics(), METRICS_TYPE);
    const [, sourceId, grantText] = PICTURE_PATH.exec(path) ?? [];
    if (!sourceId || !grantText) return refusal(404, NOTHING_HERE);
    if (!this.ports.grants.check(sourceId, grantText).ok) return refusal(403, 'This address has run out.');
    const picture = this.ports.look(sourceId);
    return picture
      ? pictureAnswer(request, picture.jpeg, CACHE.never)
      : refusal(404, 'There is no picture yet.');
  }

  /** A picture of the recording in full size, for who chooses the poster; `null` for a file of another name. */
  async #frame(request: PlainRequest, { programme, file }: Asked): Promise<Answer | null> {
    const [, atMs] = /^frame-(\d{1,9})\.jpg$/.exec(file) ?? [];
    if (!atMs) return null;
    const frame = await takeFrame(programme, Number(atMs), this.ports.children);
    if (frame === 'busy')
      return refusal(503, 'Other pictures are being taken. Try again.', ['Retry-After', '1']);
    return frame
      ? pictureAnswer(request, frame, CACHE.media)
      : refusal(404, 'There is no picture at this moment.');
  }
}

const plainOf = ({ method, url, headers }: IncomingMessage): PlainRequest => ({
  method: method === 'HEAD' ? 'HEAD' : 'GET',
  target: url ?? '/',
  range: headers.range,
  acceptEncoding: String(headers['accept-encoding'] ?? ''),
  userAgent: headers['user-agent'] ?? '',
});

const METRICS_TYPE = 'text/plain; version=0.0.4; charset=utf-8';

const PREFLIGHT = [
  'Access-Control-Allow-Methods',
  'GET, HEAD, POST',
  'Access-Control-Allow-Headers',
  'Range',
  'Access-Control-Max-Age',
  '86400',
] as const;
