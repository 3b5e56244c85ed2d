import { type ChildProcess, fork, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import type { Socket } from 'node:net';
import type { Readable, Writable } from 'node:stream';

/** What a child is for, and how much of a core it takes while it works. */
export const CHILD_CORES = {
  film: 0.05,
  probe: 0.05,
  camera: 0.1,
  whip: 0.1,
  'srt-listener': 0.03,
  'srt-reader': 0.03,
  thumbnail: 0.3,
  slate: 0.6,
  frame: 0.5,
  /** What it really takes is measured. */
  ladder: 0,
} as const;
export type ChildPurpose = keyof typeof CHILD_CORES;

/** How a child came to its end. */
export type ChildEnding =
  | { readonly type: 'ended'; readonly lastWords: string }
  /** `code` is `null` where it could not be started, or was ended from outside. */
  | { readonly type: 'failed'; readonly code: number | null; readonly lastWords: string }
  | { readonly type: 'killed' };

interface ChildOrder {
  readonly purpose: ChildPurpose;
  /** Ends it. */
  readonly signal?: AbortSignal;
  readonly timeoutMs?: number;
}

interface SpawnOrder extends ChildOrder {
  readonly command: string;
  readonly args: readonly string[];
  /** How many more pipes it writes to, from `pipe:3` on. */
  readonly sidePipes?: number;
}

/** A Node program of ours, spoken to over a channel; it ends when the channel does. */
interface ForkOrder extends ChildOrder {
  readonly script: string;
  readonly onMessage: (message: unknown) => void;
}

/** Of what a child says on its standard error, so much of the end is kept. */
const LAST_WORDS = 6000;

/** A process of the node's, from its start to its end. */
export class Child {
  /** Settles once, never rejects. */
  readonly ended: Promise<ChildEnding>;
  readonly #process: ChildProcess;
  #lastWords = '';
  #isKilled = false;

  constructor(
    readonly purpose: ChildPurpose,
    process: ChildProcess,
    { signal, timeoutMs }: ChildOrder,
  ) {
    this.#process = process;
    const kill = (): void => this.kill();
    signal?.addEventListener('abort', kill);
    const timer = timeoutMs === undefined ? null : setTimeout(kill, timeoutMs);
    // A child that stops reading, or is gone, is told by its ending.
    process.stdin?.on('error', () => undefined);
    process.stderr?.on('data', (text: Buffer) => {
      this.#lastWords = (this.#lastWords + String(text)).slice(-LAST_WORDS);
    });
    this.ended = new Promise((resolve) => {
      const end = (code: number | null, lastWords: string): void => {
        signal?.removeEventListener('abort', kill);
        if (timer) clearTimeout(timer);
        if (this.#isKilled) resolve({ type: 'killed' });
        else resolve(code === 0 ? { type: 'ended', lastWords } : { type: 'failed', code, lastWords });
      };
      process.once('error', (error) => end(null, String(error)));
      process.once('close', (code) => end(code, this.#lastWords));
    });
    if (signal?.aborted) kill();
  }

  get stdin(): Writable {
    return this.#process.stdin!;
  }

  get stdout(): Readable {
    return this.#process.stdout!;
  }

  /** What it writes to `pipe:3`, or one of those after it. */
  sidePipe(index = 0): Socket {
    return this.#process.stdio[3 + index] as Socket;
  }

  send(message: object): void {
    // It may have ended meanwhile, which is told by its ending.
    this.#process.send?.(message, () => undefined);
  }

  kill(): void {
    this.#isKilled = true;
    this.#process.kill('SIGKILL');
  }

  /** Processor time it has used so far, in seconds; 0 once it is gone (proc(5), `stat`). */
  get processorSeconds(): number {
    try {
      const fields = readFileSync(`/proc/${this.#process.pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
      return (Number(fields[11]) + Number(fields[12])) / TICKS_PER_SECOND;
    } catch {
      return 0;
    }
  }
}

const TICKS_PER_SECOND = 100;

export interface ChildFacts {
  readonly purpose: ChildPurpose;
  readonly running: number;
  /** Of those that run now. */
  readonly processorSeconds: number;
}

/** Starts every process of a media node, knows those that run, and ends them with the node. */
export class ChildProcesses {
  readonly #running = new Set<Child>();
  #isClosed = false;

  start({ command, args, sidePipes = 0, ...order }: SpawnOrder): Child {
    const stdio = Array.from({ length: 3 + sidePipes }, () => 'pipe' as const);
    return this.#keep(new Child(order.purpose, spawn(command, args, { stdio }), order));
  }

  fork({ script, onMessage, ...order }: ForkOrder): Child {
    const process = fork(script, { stdio: ['ignore', 'pipe', 'pipe', 'ipc'], execArgv: [] });
    process.on('message', onMessage);
    return this.#keep(new Child(order.purpose, process, order));
  }

  /** Whether work that can wait may begin: what runs now, and it, fit the machine. */
  hasRoomFor(purpose: ChildPurpose): boolean {
    const takenCores = [...this.#running].reduce((sum, child) => sum + CHILD_CORES[child.purpose], 0);
    return takenCores + CHILD_CORES[purpose] <= availableParallelism();
  }

  facts(): readonly ChildFacts[] {
    const purposes = Object.keys(CHILD_CORES) as ChildPurpose[];
    return purposes.map((purpose) => {
      const children = [...this.#running].filter((child) => child.purpose === purpose);
      const processorSeconds = children.reduce((sum, child) => sum + child.processorSeconds, 0);
      return { purpose, running: children.length, processorSeconds };
    });
  }

  /** Ends them all. */
  async stop(): Promise<void> {
    this.#isClosed = true;
    const children = [...this.#running];
    for (const child of children) child.kill();
    await Promise.all(children.map(({ ended }) => ended));
  }

  #keep(child: Child): Child {
    this.#running.add(child);
    void child.ended.then(() => this.#running.delete(child));
    if (this.#isClosed) child.kill();
    return child;
  }
}

/** Everything that a child writes, in one piece; `null` where it failed or wrote nothing. */
export async function outputOf(child: Child, input: Uint8Array): Promise<Buffer | null> {
  const chunks: Buffer[] = [];
  child.stdout.on('data', (chunk: Buffer) => chunks.push(chunk));
  child.stdin.end(input);
  const { type } = await child.ended;
  return type === 'ended' && chunks.length > 0 ? Buffer.concat(chunks) : null;
}
