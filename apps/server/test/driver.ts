import { randomUUID } from 'node:crypto';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import type { AddressInfo } from 'node:net';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { hash } from '@node-rs/argon2';
import { type Connection, createConnection } from 'mysql2/promise';
import { WebSocket } from 'ws';
import type { Role } from '@heliphon/core/access/capabilities';
import type { DesiredState, ServerMessage } from '@heliphon/core/control/desired-state';
import type { Figures, NodeSelf, Observation, ToldProgramme } from '@heliphon/core/control/observations';
import type { EventView } from '@heliphon/contracts/events';
import type { EditSeries, SeriesView } from '@heliphon/contracts/series';
import type { SourceView } from '@heliphon/contracts/sources';
import { freePort } from '../../keeper/src/ports.js';
import { MailBox } from '../../standins/src/mail/mail-box.js';
import { Database } from '../src/platform/database.js';
import { HappeningEntity, HouseEntity, MembershipEntity, PersonEntity } from '../src/platform/entities.js';
import { newId, sha256Hex } from '../src/platform/ids.js';
import { Credentials } from '../src/people/credentials.js';
import type { ServerConfig } from '../src/platform/config.js';
import { startServer, stopServer } from '../src/server.js';
import { DescribedAnswers } from './described-answers.js';
import { freshDatabase } from './fresh-database.js';

export { until } from '../../../tests/until.js';

export const NODE_SECRET = 'n'.repeat(40);
export const PASSWORD = 'a-long-enough-password';
/** Made once: it is meant to take long. */
let passwordHash: Promise<string> | null = null;

export interface Answer<T> {
  readonly status: number;
  readonly body: T;
  readonly headers: Headers;
}

/** A server of one's own, with a fresh database, driven over HTTP as every client does. */
export class ServerDriver {
  private constructor(
    readonly app: NestExpressApplication,
    readonly url: string,
    readonly databaseUrl: string,
    readonly folder: string,
  ) {}

  static async start(over: Partial<ServerConfig> = {}): Promise<ServerDriver> {
    const folder = await mkdtemp(join(tmpdir(), 'heliphon-server-'));
    const web = join(folder, 'web');
    await mkdir(web);
    for (const page of ['index', 'watch', 'embed', 'channel', 'join'])
      await writeFile(
        join(web, `${page}.html`),
        `<html lang="en-GB"><head><title>${page}</title></head><noscript>-</noscript></html>`,
      );
    await packAsset(join(web, 'assets'));
    const databaseUrl = await freshDatabase();
    const app = await startServer({
      bind: '127.0.0.1',
      port: 0,
      mediaPort: 4610,
      rtmpPort: 1935,
      srtFirstPort: 4640,
      publicUrl: null,
      trustedProxies: [],
      mediaUrl: null,
      rtmpUrl: null,
      rtmpsUrl: null,
      smtpUrl: null,
      mailFrom: 'Heliphon <heliphon@house.example>',
      databaseUrl,
      dataFolder: folder,
      secretFile: join(folder, 'secret.key'),
      webFolder: web,
      nodes: [{ nodeId: 'n1', secretSha256Hex: sha256Hex(NODE_SECRET) }],
      // Beside the run's own workers, whatever stands back starves.
      fileNiceness: 0,
      testClock: true,
      innerWebhooks: true,
      innerPlaces: true,
      innerWebsites: true,
      platforms: {},
      ...over,
    });
    const { port } = (app.getHttpServer() as { address(): AddressInfo }).address();
    return new ServerDriver(app, `http://127.0.0.1:${port}`, databaseUrl, folder);
  }

  /** A house with one person of a role, who is signed in by a token. */
  async house(role: Role = 'owner', name = `House ${randomUUID()}`): Promise<HouseClient> {
    const manager = this.app.get(Database).installation;
    const house = await manager.save(
      manager.create(HouseEntity, {
        id: newId(),
        name,
        zone: 'Europe/London',
        look: null,
        rules: 'Be kind.',
        createdAtMs: Date.now(),
      }),
    );
    return this.member(house.id, role);
  }

  async member(houseId: string, role: Role): Promise<HouseClient> {
    const manager = this.app.get(Database).installation;
    const person = {
      id: newId(),
      email: `${randomUUID()}@house.example`,
      name: `A ${role}`,
      createdAtMs: Date.now(),
      sealedTotp: null,
      totpSinceMs: null,
    };
    await manager.insert(PersonEntity, { ...person, passwordHash: await (passwordHash ??= hash(PASSWORD)) });
    await manager.insert(MembershipEntity, { personId: person.id, houseId, roles: [role] });
    const token = await this.app.get(Credentials).issue('token', person.id, houseId, 'test');
    return new HouseClient(this.url, { authorization: `Bearer ${token}` }, houseId, person.email);
  }

  anybody(): HttpClient {
    return new HttpClient(this.url, {});
  }

  setClock(offsetMs: number): Promise<Answer<unknown>> {
    return this.anybody().post('/api/test/clock', { offsetMs });
  }

  /** Somebody of a house who is signed in in a browser, known by a cookie. */
  async browser({ houseId, email }: HouseClient, password = PASSWORD, code?: string): Promise<HouseClient> {
    const wish = { email, password, ...(code ? { code } : {}) };
    const { headers } = await this.anybody().post('/api/session', wish);
    return new HouseClient(this.url, { cookie: headers.get('set-cookie')!.split(';')[0]! }, houseId, email);
  }

  happenings(subjectId: string): Promise<HappeningEntity[]> {
    return this.app
      .get(Database)
      .installation.find(HappeningEntity, { where: { subjectId }, order: { id: 'ASC' } });
  }

  /** A connection to its database of one's own. */
  connect(): Promise<Connection> {
    return createConnection(this.databaseUrl);
  }

  dialAsNode(secret = NODE_SECRET, nodeId = 'n1'): Promise<NodeClient> {
    return NodeClient.dial(this.url, nodeId, secret);
  }

  async stop(): Promise<void> {
    await stopServer(this.app);
    await rm(this.folder, { recursive: true, force: true });
  }
}

/** What pages are made of is packed when it is built. */
export const ASSET = 'export const page = 1;\n'.repeat(200);
async function packAsset(folder: string): Promise<void> {
  await mkdir(folder);
  const file = join(folder, 'page.js');
  await Promise.all([
    writeFile(file, ASSET),
    writeFile(`${file}.br`, brotliCompressSync(ASSET)),
    writeFile(`${file}.gz`, gzipSync(ASSET)),
  ]);
}

/** A server that sends its letters to a mail box of its own. */
export async function startWithMail(over: Partial<ServerConfig> = {}): Promise<{
  server: ServerDriver;
  mail: MailBox;
  stop: () => Promise<void>;
}> {
  const port = await freePort();
  const mail = new MailBox();
  await mail.listen(port, '127.0.0.1');
  const server = await ServerDriver.start({ ...over, smtpUrl: `smtp://127.0.0.1:${port}` });
  const stop = async (): Promise<void> => {
    await server.stop();
    await mail.close();
  };
  return { server, mail, stop };
}

export class HttpClient {
  constructor(
    readonly url: string,
    private readonly headers: Record<string, string>,
  ) {}

  get authorization(): string {
    return this.headers.authorization ?? '';
  }

  get<T>(path: string): Promise<Answer<T>> {
    return this.ask<T>('GET', path);
  }
  post<T>(path: string, body: unknown = {}, headers: Record<string, string> = {}): Promise<Answer<T>> {
    return this.ask<T>('POST', path, body, headers);
  }
  patch<T>(path: string, version: number | null, body: unknown): Promise<Answer<T>> {
    return this.ask<T>('PATCH', path, body, version === null ? {} : { 'if-match': `"${version}"` });
  }
  put<T>(path: string, version: number, body: unknown): Promise<Answer<T>> {
    return this.ask<T>('PUT', path, body, { 'if-match': `"${version}"` });
  }
  delete<T>(path: string, body?: unknown): Promise<Answer<T>> {
    return this.ask<T>('DELETE', path, body);
  }

  async upload<T>(path: string, file: Uint8Array, field = 'poster'): Promise<Answer<T>> {
    const form = new FormData();
    form.set(field, new Blob([new Uint8Array(file)]), field);
    return readAnswer<T>(await fetch(this.url + path, { method: 'POST', body: form, headers: this.headers }));
  }

  async ask<T>(
    method: string,
    path: string,
    body?: unknown,
    more: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const headers = {
      ...this.headers,
      ...more,
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
    };
    const init = body === undefined ? { method, headers } : { method, headers, body: JSON.stringify(body) };
    const answer = await readAnswer<T>(await fetch(this.url + path, init));
    if (answer.status < 300 && typeof answer.body === 'object') {
      described.set(this.url, described.get(this.url) ?? DescribedAnswers.of(this.url));
      (await described.get(this.url)!).check(method, path, answer.body);
    }
    return answer;
  }
}

/** Every answer that any test gets is held against the description of its route. */
const described = new Map<string, Promise<DescribedAnswers>>();

async function readAnswer<T>(response: Response): Promise<Answer<T>> {
  const text = await response.text();
  const isJson = /json/.test(response.headers.get('content-type') ?? '');
  return {
    status: response.status,
    body: (isJson ? JSON.parse(text) : text) as T,
    headers: response.headers,
  };
}

/** Somebody of a house. */
export class HouseClient extends HttpClient {
  constructor(
    url: string,
    headers: Record<string, string>,
    readonly houseId: string,
    readonly email: string,
  ) {
    super(url, headers);
  }

  async source(name = 'Chapel desk'): Promise<SourceView> {
    return (await this.post<SourceView>('/api/sources', { name })).body;
  }

  /** An event from `fromMinutes` to `toMinutes` from now. */
  async event(fromMinutes: number, toMinutes: number, sourceId: string | null = null): Promise<EventView> {
    const local = (minutes: number): string =>
      new Intl.DateTimeFormat('sv-SE', { timeZone: 'Europe/London', dateStyle: 'short', timeStyle: 'short' })
        .format(Date.now() + minutes * 60_000)
        .replace(' ', 'T');
    const answer = await this.post<EventView>('/api/events', {
      title: 'Lamplight Evensong',
      startsAtLocal: local(fromMinutes),
      stopsAtLocal: local(toMinutes),
      sourceId,
    });
    return answer.body;
  }

  /** Weekly, from tomorrow on. */
  async series(change: EditSeries): Promise<SeriesView> {
    const firstDate = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
    const when = { firstDate, timeOfDay: '10:30', lengthMinutes: 60, rule: 'FREQ=WEEKLY' };
    const { body } = await this.post<SeriesView>('/api/series', { title: 'Sunday service', ...when });
    return (await this.patch<SeriesView>(`/api/series/${body.id}`, body.version, change)).body;
  }

  move<T = EventView>(event: EventView, kind: string, commandId: string = randomUUID()): Promise<Answer<T>> {
    return this.post<T>(`/api/events/${event.id}/${kind}`, { commandId, fromState: event.state });
  }

  async current(event: EventView): Promise<EventView> {
    return (await this.get<EventView>(`/api/events/${event.id}`)).body;
  }
}

/** A programme on air with nothing to report. */
export const QUIET: Omit<ToldProgramme, 'programmeId'> = {
  sourceId: null,
  state: 'air',
  signal: { present: false, sinceMs: null },
  viewersHave: 'nothing',
  filmLeftMs: null,
  viewers: 0,
  viewersAt: [],
  keptMs: 0,
  recordingStopped: null,
  sizes: { choice: 'off', making: [], leftOut: [], shed: [] },
  destinations: [],
  faults: [],
};

/** A media node's end of the control link, for what the server has to do with it. */
export class NodeClient {
  readonly messages: ServerMessage[] = [];
  #reporting: NodeJS.Timeout | undefined;

  private constructor(private readonly socket: WebSocket) {
    socket.on('message', (data) => this.messages.push(JSON.parse(String(data)) as ServerMessage));
  }

  static async dial(url: string, nodeId: string, secret: string): Promise<NodeClient> {
    const socket = new WebSocket(`${url.replace('http', 'ws')}/control/v1`, {
      headers: { authorization: `Node ${nodeId}:${secret}` },
    });
    const client = new NodeClient(socket);
    await new Promise((resolve, reject) => socket.once('open', resolve).once('error', reject));
    return client;
  }

  get desired(): DesiredState | undefined {
    const last = this.messages.findLast((message) => message.type === 'desired');
    return last?.type === 'desired' ? last.state : undefined;
  }

  get storedSeq(): number {
    const last = this.messages.findLast((message) => message.type === 'stored');
    return last?.type === 'stored' ? last.journalSeq : 0;
  }

  say(message: object): void {
    this.socket.send(JSON.stringify(message));
  }

  observe(journalSeq: number, observation: Observation): void {
    this.say({ type: 'observed', entries: [{ journalSeq, observation }] });
  }

  introduce(self: Partial<NodeSelf> = {}, journalId: string = randomUUID()): void {
    const ports = { mediaPort: 4610, rtmpPort: 1935, srtFirstPort: 4640 };
    const whole = { place: null, mediaUrl: null, rtmpUrl: null, rtmpsUrl: null, ...ports, ...self };
    this.say({ type: 'here', self: whole, journalId });
  }

  /** Reports again and again, as a node does, until it is told something else or goes. */
  keepReporting(figures: Partial<Figures> = {}): void {
    clearInterval(this.#reporting);
    this.report(figures);
    this.#reporting = setInterval(() => this.report(figures), 1000);
    this.socket.once('close', () => clearInterval(this.#reporting));
  }

  report(figures: Partial<Figures>): void {
    const whole = {
      atMs: Date.now(),
      revision: 1,
      diskFreeBytes: 1e12,
      disk: 'plenty' as const,
      sources: [],
      programmes: [],
      ...figures,
    };
    this.say({ type: 'figures', figures: whole });
  }

  /** Says nothing any more, as a machine that hangs: not even that it is there. */
  freeze(): void {
    clearInterval(this.#reporting);
    this.socket.pause();
  }

  close(): void {
    this.socket.terminate();
  }
}
