import { execFile } from 'node:child_process';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { KeptChild } from './child.js';
import { prepareUpgrade } from './upgrade.js';
import { type MariaDb, startMariaDb } from './mariadb.js';
import { isFree } from './ports.js';
import { childEnvironment, nodeIdentity, type Settings } from './settings.js';

const run = promisify(execFile);
const READY_TIMEOUT_MS = 60_000;
/** A server that starts anew must not make a picture stutter. */
const BEHIND_MEDIA = 5;

/** Whether simulated encoders and platforms, and the demo house, belong to it. */
export interface InstallationKind {
  readonly demo: boolean;
  readonly forTests: boolean;
}

/** A running Heliphon: database, server, media node, and in a demo the stand-ins. Stops in the reverse order. */
export class Installation {
  readonly #children = new Map<string, KeptChild>();
  #database: MariaDb | null = null;
  #env: NodeJS.ProcessEnv = {};

  constructor(
    readonly settings: Settings,
    private readonly kind: InstallationKind,
    private readonly say: (sentence: string) => void,
  ) {}

  /** Starts everything, and waits until it answers. */
  async start(): Promise<void> {
    const { settings } = this;
    await this.#checkPorts();
    await mkdir(join(settings.dataFolder, 'logs'), { recursive: true });
    await mkdir(join(settings.dataFolder, 'cache'), { recursive: true });
    const databaseUrl = process.env.HELIPHON_DATABASE_URL ?? (await this.#startDatabase());
    this.#env = childEnvironment(settings, databaseUrl, await nodeIdentity(settings.dataFolder));
    if (this.kind.demo) this.#env.HELIPHON_SMTP_URL = `smtp://${settings.bind}:${settings.standinsPort + 3}`;
    else await prepareUpgrade(settings.dataFolder, this.#env, this.say);
    if (this.kind.demo) await this.#prepareDemo();
    this.#startChild('server', 'dist/server/main.js', BEHIND_MEDIA);
    this.#startChild('media node', 'dist/media/main.js', 0);
    if (this.kind.demo) this.#startChild('stand-ins', 'dist/standins/main.js', 0);
    await this.#untilReady();
    if (this.kind.demo) await this.#openDemo();
  }

  pidOf(name: 'server' | 'media node'): number | undefined {
    return this.#children.get(name)?.pid;
  }

  /** The media node first, so that everything it saw reaches the server; the database last. */
  async stop(): Promise<void> {
    for (const name of ['stand-ins', 'media node', 'server']) await this.#children.get(name)?.stop();
    await this.#database?.stop();
  }

  async #checkPorts(): Promise<void> {
    const { bind, port, mediaPort, rtmpPort, standinsPort } = this.settings;
    const wanted = { HELIPHON_PORT: port, HELIPHON_MEDIA_PORT: mediaPort, HELIPHON_RTMP_PORT: rtmpPort };
    const all = this.kind.demo ? { ...wanted, HELIPHON_STANDINS_PORT: standinsPort } : wanted;
    for (const [name, number] of Object.entries(all)) {
      if (await isFree(number, bind)) continue;
      throw new Error(`Port ${number} is taken. End what uses it, or choose another with ${name}.`);
    }
  }

  async #startDatabase(): Promise<string> {
    this.say('Starting the database …');
    this.#database = await startMariaDb({ folder: this.settings.dataFolder, forTests: this.kind.forTests });
    return this.#database.url;
  }

  #startChild(name: string, script: string, niceness: number): void {
    const logFile = join(this.settings.dataFolder, 'logs', `${name.replace(' ', '-')}.log`);
    const child = new KeptChild({ name, script, env: this.#env, logFile, niceness }, this.say);
    this.#children.set(name, child);
    child.start();
  }

  async #prepareDemo(): Promise<void> {
    const { dataFolder, bind, standinsPort } = this.settings;
    const film = this.#env.HELIPHON_FILM!;
    const posters = join(dataFolder, 'cache', 'posters');
    this.say('Drawing the film of the harbour chapel (half a minute, once) …');
    await this.#run('dist/standins/make-film.js', film, posters);
    this.say('Loading the demo house …');
    await this.#run(
      'dist/server/demo-data.js',
      `rtmp://${bind}:${standinsPort + 1}`,
      posters,
      film,
      this.#factsPath,
    );
    const { recordings } = await this.#facts();
    await mkdir(join(dataFolder, 'node'), { recursive: true, mode: 0o700 });
    await this.#run('dist/media/record-film.js', dataFolder, film, JSON.stringify(recordings));
  }

  get #factsPath(): string {
    return join(this.settings.dataFolder, 'cache', 'demo.json');
  }

  async #facts(): Promise<DemoFacts> {
    return JSON.parse(await readFile(this.#factsPath, 'utf8')) as DemoFacts;
  }

  async #run(script: string, ...parameters: string[]): Promise<void> {
    await run(process.execPath, ['--enable-source-maps', script, ...parameters], {
      env: this.#env,
      maxBuffer: 1 << 24,
    });
  }

  /** Puts the stand-in encoder on the event that is on air, waits for its picture, and writes down how to get in. */
  async #openDemo(): Promise<void> {
    const { settings } = this;
    const facts = await this.#facts();
    await rm(this.#factsPath);
    const standins = `http://${settings.bind}:${settings.standinsPort}`;
    await fetch(`${standins}/encoders/pier-camera/start`, {
      method: 'POST',
      body: JSON.stringify(facts.onAir.key),
    });
    const api = `http://${settings.bind}:${settings.port}`;
    await until('the first picture', async () => {
      const event = (await (
        await fetch(`${api}/api/public/events/${facts.onAir.slug}`)
      ).json()) as PublicState;
      return event.state === 'air' && event.signal?.present === true;
    });
    const access = {
      console: api,
      api: `${api}/api`,
      token: facts.token,
      people: facts.people,
      media: `http://${settings.bind}:${settings.mediaPort}`,
      rtmp: facts.spare,
      events: facts.events.map(({ slug, state }) => ({
        slug,
        state,
        watch: `${api}/watch/${slug}`,
        embed: `${api}/embed/${slug}`,
      })),
      standins,
      website: `http://localhost:${settings.standinsPort + 2}/${facts.onAir.slug}`,
      onAir: { slug: facts.onAir.slug, rtmp: facts.onAir.key },
      processes: { server: this.pidOf('server'), media: this.pidOf('media node') },
    };
    await writeFile(join(settings.dataFolder, 'access.json'), `${JSON.stringify(access, null, 2)}\n`, {
      mode: 0o600,
    });
  }

  async #untilReady(): Promise<void> {
    const address = `http://${this.settings.bind}:${this.settings.port}/api/health`;
    await until('server and media node', async () => {
      const health = (await (await fetch(address)).json()) as { mediaNode?: string };
      return health.mediaNode === 'here';
    });
  }
}

interface EncoderKey {
  readonly address: string;
  readonly key: string;
  readonly user: string | null;
  readonly password: string | null;
}

interface DemoFacts {
  readonly token: string;
  readonly people: readonly { role: string; email: string; password: string }[];
  readonly onAir: { readonly slug: string; readonly key: EncoderKey };
  readonly spare: EncoderKey;
  readonly recordings: readonly unknown[];
  readonly events: readonly { slug: string; state: string }[];
}

interface PublicState {
  readonly state: string;
  readonly signal: { readonly present: boolean } | null;
}

async function until(what: string, holds: () => Promise<boolean>): Promise<void> {
  const deadline = Date.now() + READY_TIMEOUT_MS;
  while (!(await holds().catch(() => false))) {
    if (Date.now() > deadline)
      throw new Error(`${what} did not come within ${READY_TIMEOUT_MS / 1000} s; see the logs.`);
    await new Promise((wait) => setTimeout(wait, 200));
  }
}
