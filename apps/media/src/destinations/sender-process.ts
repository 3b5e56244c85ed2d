import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import type { Readable, Writable } from 'node:stream';
import type { DestinationReason } from '@heliphon/core/destinations/destination-state';
import { readReceiverWords } from '@heliphon/core/destinations/receiver-words';

const STOP_GRACE_MS = 2000;
/** More than the opening handshake writes: the place is really taking the programme. */
const TAKEN_BYTES = 20_000;
/** Authorities by which a secure place is known, as Debian keeps them. */
const SYSTEM_AUTHORITIES = '/etc/ssl/certs/ca-certificates.crt';

export interface SenderEnding {
  readonly reason: DestinationReason;
  /** What the receiver said, without secrets; `null` where it said nothing. */
  readonly said: string | null;
}

interface SenderEvents {
  tookBytes(): void;
  ended(ending: SenderEnding): void;
}

/** The child process, its pipe, and what its words mean. */
export class SenderProcess {
  readonly #child: ChildProcess;
  readonly #exited: Promise<void>;
  #words = '';
  #reason: DestinationReason | null = null;

  constructor(
    private readonly address: string,
    events: SenderEvents,
  ) {
    const tidy =
      '-v error -nostats -progress pipe:1 -stats_period 0.5 -probesize 500000 -analyzeduration 500000 -f flv -i pipe:0';
    const out = '-c copy -f flv -flvflags no_duration_filesize -rw_timeout 8000000';
    this.#child = spawn('ffmpeg', [...tidy.split(' '), ...out.split(' '), ...securityOf(address), address], {
      stdio: ['pipe', 'pipe', 'pipe'],
    });
    this.#stdin.on('error', () => undefined); // its exit says what happened
    (this.#child.stdout as Readable).on('data', (progress: Buffer) => {
      const bytes = Number(/total_size=(\d+)/.exec(String(progress))?.[1] ?? 0);
      if (bytes > TAKEN_BYTES) events.tookBytes();
    });
    (this.#child.stderr as Readable).on('data', (words: Buffer) => {
      this.#words = (this.#words + String(words)).slice(-4000);
    });
    this.#exited = new Promise((resolve) => {
      const finish = (): void => {
        resolve();
        events.ended(this.#ending());
      };
      this.#child.once('error', finish);
      this.#child.once('close', finish);
    });
  }

  get #stdin(): Writable {
    return this.#child.stdin!;
  }

  get queuedBytes(): number {
    return this.#stdin.writableLength;
  }

  write(bytes: Uint8Array): void {
    if (this.#stdin.writable) this.#stdin.write(bytes);
  }

  kill(reason: DestinationReason): void {
    this.#reason ??= reason;
    this.#child.kill('SIGKILL');
  }

  /** Closes the pipe so that the place is told properly; kills what does not follow. */
  async end(): Promise<void> {
    this.#stdin.end();
    const timer = setTimeout(() => this.#child.kill('SIGKILL'), STOP_GRACE_MS);
    await this.#exited;
    clearTimeout(timer);
  }

  #ending(): SenderEnding {
    const { reason, said } = readReceiverWords(this.#words, this.address);
    return { reason: this.#reason ?? reason, said };
  }
}

/** A secure place has to prove who it is before it gets our key. */
const securityOf = (address: string): string[] =>
  address.startsWith('rtmps:') ? ['-tls_verify', '1', '-ca_file', authoritiesFile()] : [];

function authoritiesFile(): string {
  const chosen = process.env.HELIPHON_CA_FILE ?? SYSTEM_AUTHORITIES;
  return existsSync(chosen) ? chosen : SYSTEM_AUTHORITIES;
}
