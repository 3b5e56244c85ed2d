import { type ChildProcess, spawn } from 'node:child_process';

export interface EncoderOrder {
  /** `rtmp://host:port/in`, as the Sources page shows it. */
  readonly address: string;
  readonly key: string;
  readonly user?: string;
  readonly password?: string;
  /** Where else it may send, once the first has not answered a few times. */
  readonly second?: { readonly address: string };
}

export interface EncoderView {
  readonly name: string;
  readonly state: 'stopped' | 'sending' | 'dropped' | 'trying again';
  /** What the other side said last, as encoders show it. */
  readonly lastWords: string;
  readonly fault: EncoderFault;
}

/** What can be wrong with what it sends: nothing, no sound, no picture, another size, or a network that stops every other second. */
export const ENCODER_FAULTS = ['none', 'silence', 'no picture', 'other size', 'stutter'] as const;
export type EncoderFault = (typeof ENCODER_FAULTS)[number];

const CODECS: Readonly<Record<EncoderFault, string>> = {
  none: '-c copy',
  stutter: '-c copy',
  silence: '-an -c:v copy',
  'no picture': '-vn -c:a copy',
  'other size': '-vf scale=640:360 -c:v libx264 -preset ultrafast -g 60 -b:v 900k -c:a copy',
};
const STUTTER_MS = 1200;
const TRY_AGAIN_MS = 2000;
const TRIES_AT_FIRST = 4;
/** Having sent for so long, it begins with its first address again. */
const STEADY_MS = 10_000;

/** An encoder that sends the demo film, over and over, and dials again when it is cut off, as encoders do. */
export class EncoderStandIn {
  #order: EncoderOrder | null = null;
  #child: ChildProcess | null = null;
  #timer: NodeJS.Timeout | null = null;
  #state: EncoderView['state'] = 'stopped';
  #words = '';
  #fault: EncoderFault = 'none';
  #stutter: NodeJS.Timeout | null = null;

  constructor(
    private readonly name: string,
    private readonly film: string,
  ) {}

  get view(): EncoderView {
    return { name: this.name, state: this.#state, lastWords: this.#words, fault: this.#fault };
  }

  start(order: EncoderOrder): void {
    this.stop();
    this.#order = order;
    this.#send(0);
  }

  stop(): void {
    this.#order = null;
    this.#end();
    this.#state = 'stopped';
  }

  /** Pulls the cable, and puts it back after so many seconds; `null`: only when it is plugged in by hand. */
  drop(seconds: number | null): void {
    if (!this.#order) return;
    this.#end();
    this.#state = 'dropped';
    if (seconds !== null) this.#timer = setTimeout(() => this.#send(0), seconds * 1000);
  }

  plugIn(): void {
    if (this.#state !== 'dropped') return;
    this.#end();
    this.#send(0);
  }

  /** From now on; it redials with what it sends then. */
  setFault(fault: EncoderFault): void {
    this.#fault = fault;
    if (!this.#order) return;
    this.#end();
    this.#send(0);
  }

  #end(): void {
    if (this.#stutter) clearInterval(this.#stutter);
    this.#stutter = null;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    const child = this.#child;
    this.#child = null;
    child?.kill('SIGKILL');
  }

  #send(attempt: number): void {
    const order = this.#order;
    if (!order) return;
    const input = ['-stream_loop', '-1', '-re', '-i', this.film];
    const child = spawn(
      'ffmpeg',
      ['-v', 'error', ...input, ...CODECS[this.#fault].split(' '), '-f', 'flv', addressOf(order, attempt)],
      {
        stdio: ['ignore', 'ignore', 'pipe'],
      },
    );
    const startedAtMs = Date.now();
    this.#child = child;
    if (this.#fault === 'stutter') this.#stutter = stutterOf(child);
    this.#state = 'sending';
    this.#words = '';
    child.stderr.on('data', (words: Buffer) => {
      this.#words = (this.#words + String(words).replaceAll(order.key, '…')).slice(-500);
    });
    child.once('close', () => {
      if (this.#child !== child) return;
      this.#state = 'trying again';
      const isSteady = Date.now() - startedAtMs > STEADY_MS;
      this.#timer = setTimeout(() => this.#send(isSteady ? 1 : attempt + 1), TRY_AGAIN_MS);
    });
  }
}

/** Stops and starts the process, as a network does that lets through only now and then. */
function stutterOf(child: ChildProcess): NodeJS.Timeout {
  let isStopped = false;
  return setInterval(() => {
    isStopped = !isStopped;
    child.kill(isStopped ? 'SIGSTOP' : 'SIGCONT');
  }, STUTTER_MS);
}

function addressOf({ address, second, key, user, password }: EncoderOrder, attempt: number): string {
  const tried = second && attempt % (TRIES_AT_FIRST + 1) === TRIES_AT_FIRST ? second.address : address;
  const whole = `${tried.replace(/\/$/, '')}/${key}`;
  if (!user) return whole;
  return whole.replace('://', `://${encodeURIComponent(user)}:${encodeURIComponent(password ?? '')}@`);
}
