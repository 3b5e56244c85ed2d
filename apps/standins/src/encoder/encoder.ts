import { type ChildProcess, spawn } from 'node:child_process';

export interface EncoderOrder {
  /** `rtmp://host:port/in`, as the Sources page shows it. */
  readonly address: string;
  readonly key: string;
  readonly user?: string;
  readonly password?: string;
}

export interface EncoderView {
  readonly name: string;
  readonly state: 'stopped' | 'sending' | 'dropped' | 'trying again';
  /** What the other side said last, as encoders show it. */
  readonly lastWords: string;
}

const TRY_AGAIN_MS = 2000;

/** An encoder that sends the demo film, over and over, and dials again when it is cut off, as encoders do. */
export class EncoderStandIn {
  #order: EncoderOrder | null = null;
  #child: ChildProcess | null = null;
  #timer: NodeJS.Timeout | null = null;
  #state: EncoderView['state'] = 'stopped';
  #words = '';

  constructor(
    private readonly name: string,
    private readonly film: string,
  ) {}

  get view(): EncoderView {
    return { name: this.name, state: this.#state, lastWords: this.#words };
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

  /** Pulls the cable, and puts it back after so many seconds. */
  drop(seconds: number): void {
    if (!this.#order) return;
    this.#end();
    this.#state = 'dropped';
    this.#timer = setTimeout(() => this.#send(0), seconds * 1000);
  }

  #end(): void {
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
    const child = spawn('ffmpeg', ['-v', 'error', ...input, '-c', 'copy', '-f', 'flv', addressOf(order)], {
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    this.#child = child;
    this.#state = 'sending';
    this.#words = '';
    child.stderr.on('data', (words: Buffer) => {
      this.#words = (this.#words + String(words).replaceAll(order.key, '…')).slice(-500);
    });
    child.once('close', () => {
      if (this.#child !== child) return;
      this.#state = 'trying again';
      this.#timer = setTimeout(() => this.#send(attempt + 1), TRY_AGAIN_MS);
    });
  }
}

function addressOf({ address, key, user, password }: EncoderOrder): string {
  const whole = `${address.replace(/\/$/, '')}/${key}`;
  if (!user) return whole;
  return whole.replace('://', `://${encodeURIComponent(user)}:${encodeURIComponent(password ?? '')}@`);
}
