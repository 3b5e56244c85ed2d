import { type ChildProcess, fork } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { setPriority } from 'node:os';

const PAUSE_FIRST_MS = 1000;
const PAUSE_LAST_MS = 30_000;
/** Having lived so long clears the memory of earlier falls. */
const STEADY_MS = 60_000;
const STOP_GRACE_MS = 10_000;

export interface ChildSettings {
  readonly name: string;
  readonly script: string;
  readonly env: NodeJS.ProcessEnv;
  readonly logFile: string;
  /** How far it stands back when processors are scarce, as of `nice`: 0 not at all, 19 the most. */
  readonly niceness: number;
}

/**
 * A process that is started again when it falls: after 1 s, growing to 30 s. It sees its control pipe close when the
 * keeper dies, and stops by itself.
 */
export class KeptChild {
  #child: ChildProcess | null = null;
  #pauseMs = PAUSE_FIRST_MS;
  #timer: NodeJS.Timeout | null = null;
  #stopping = false;

  constructor(
    private readonly settings: ChildSettings,
    private readonly say: (sentence: string) => void,
  ) {}

  get pid(): number | undefined {
    return this.#child?.pid;
  }

  start(): void {
    const { name, script, env, logFile, niceness } = this.settings;
    const startedAtMs = Date.now();
    const child = fork(script, {
      env,
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
      execArgv: ['--enable-source-maps'],
    });
    const log = createWriteStream(logFile, { flags: 'a' });
    child.stdout!.pipe(log, { end: false });
    child.stderr!.pipe(log, { end: false });
    this.#child = child;
    if (child.pid) setPriority(child.pid, niceness);
    child.once('exit', (code, signal) => {
      log.end();
      if (this.#stopping) return;
      if (Date.now() - startedAtMs > STEADY_MS) this.#pauseMs = PAUSE_FIRST_MS;
      this.say(
        `The ${name} stopped (${signal ?? code}). Restarting in ${this.#pauseMs / 1000} s; see ${logFile}.`,
      );
      this.#timer = setTimeout(() => this.start(), this.#pauseMs);
      this.#pauseMs = Math.min(PAUSE_LAST_MS, this.#pauseMs * 2);
    });
  }

  /** Asks it to stop, and after a while insists. */
  async stop(): Promise<void> {
    this.#stopping = true;
    if (this.#timer) clearTimeout(this.#timer);
    const child = this.#child;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    const timer = setTimeout(() => child.kill('SIGKILL'), STOP_GRACE_MS);
    await gone;
    clearTimeout(timer);
  }
}
