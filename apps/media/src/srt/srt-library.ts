import { isIPv6 } from 'node:net';
import koffi, { type LibraryHandle } from 'koffi';
import type { SrtCounts } from '@heliphon/core/ingest/srt-report';

/** As Debian and others name it; ffmpeg brings it along. */
const NAMES = ['libsrt-gnutls.so.1.5', 'libsrt-openssl.so.1.5', 'libsrt.so.1.5'];

/** Options of sockets, their values, and codes of errors, as in `srt.h` of libsrt 1.5. */
const OPTION = {
  receiveBlocking: 2,
  reuseAddress: 15,
  latencyMs: 23,
  passphrase: 26,
  keyBytes: 27,
  receiveKeyState: 41,
  enforcedEncryption: 53,
} as const;
const SECURED = 2;
const NOTHING_YET = 6002;
/** Bytes of the largest message of live mode, and of what is counted. */
const MESSAGE_BYTES = 1456;
const COUNTS_BYTES = 512;
/** Where in `SRT_TRACEBSTATS` these stand, in bytes. */
const COUNTS_AT = { received: 144, retransmitted: 164, dropped: 236, roundTripMs: 328 } as const;
const FAMILY = { v4: 2, v6: 10 } as const;
const AES_128_BYTES = 16;

export interface SrtCaller {
  readonly socket: number;
  readonly address: string;
  /** Knows the passphrase. */
  readonly isSecured: boolean;
}

export interface SrtListenerSettings {
  readonly bind: string;
  readonly port: number;
  readonly passphrase: string;
  readonly latencyMs: number;
}

/** The SRT library, as far as a listener needs it; nothing here waits. */
export class SrtLibrary {
  readonly #call: ReturnType<typeof bind>;
  readonly #message = Buffer.alloc(MESSAGE_BYTES);

  private constructor(library: LibraryHandle) {
    this.#call = bind(library);
    this.#call.startup();
  }

  /** @throws Error where the machine has no libsrt */
  static open(): SrtLibrary {
    for (const name of NAMES) {
      try {
        return new SrtLibrary(koffi.load(name));
      } catch {
        // the next name
      }
    }
    throw new Error('This machine has no libsrt 1.5');
  }

  /**
   * Listens for callers. One with a wrong passphrase, or none, is handed over too, so that it can be told of; nothing is
   * read from it.
   * @throws Error where the port cannot be had
   */
  listen({ bind: host, port, passphrase, latencyMs }: SrtListenerSettings): number {
    const socket = this.#call.create();
    const set = (option: number, value: Buffer): void => {
      if (this.#call.setOption(socket, 0, option, value, value.byteLength) !== 0) throw this.#error('set');
    };
    set(OPTION.receiveBlocking, int32(0));
    set(OPTION.reuseAddress, int32(1));
    set(OPTION.latencyMs, int32(latencyMs));
    set(OPTION.passphrase, Buffer.from(passphrase));
    set(OPTION.keyBytes, int32(AES_128_BYTES));
    set(OPTION.enforcedEncryption, int32(0));
    const address = socketAddress(host, port);
    if (this.#call.bind(socket, address, address.byteLength) !== 0) throw this.#error('bind');
    if (this.#call.listen(socket, 4) !== 0) throw this.#error('listen');
    return socket;
  }

  /** @returns `null` while nobody calls */
  accept(listener: number): SrtCaller | null {
    const address = Buffer.alloc(28);
    const size = int32(address.byteLength);
    const socket = this.#call.accept(listener, address, size);
    if (socket < 0) return null;
    const state = int32(0);
    this.#call.getOption(socket, 0, OPTION.receiveKeyState, state, int32(4));
    return { socket, address: hostOf(address), isSecured: state.readInt32LE() === SECURED };
  }

  /** The next message; `null` while there is none, `'gone'` once the caller has hung up. */
  receive(socket: number): Buffer | null | 'gone' {
    const size = this.#call.receive(socket, this.#message, MESSAGE_BYTES);
    if (size > 0) return Buffer.from(this.#message.subarray(0, size));
    return size < 0 && this.#call.lastError(null) === NOTHING_YET ? null : 'gone';
  }

  /** @returns what was counted since the last time */
  counts(socket: number): SrtCounts {
    const counts = Buffer.alloc(COUNTS_BYTES);
    this.#call.counts(socket, counts, 1);
    return {
      roundTripMs: counts.readDoubleLE(COUNTS_AT.roundTripMs),
      packets: Number(counts.readBigInt64LE(COUNTS_AT.received)),
      packetsDropped: counts.readInt32LE(COUNTS_AT.dropped),
      packetsRetransmitted: counts.readInt32LE(COUNTS_AT.retransmitted),
    };
  }

  close(socket: number): void {
    this.#call.close(socket);
  }

  #error(what: string): Error {
    return new Error(`${what}: SRT error ${this.#call.lastError(null)}`);
  }
}

const bind = (library: LibraryHandle) => ({
  startup: library.func('int srt_startup()') as () => number,
  create: library.func('int srt_create_socket()') as () => number,
  setOption: library.func('int srt_setsockopt(int, int, int, const void *, int)') as SetOption,
  getOption: library.func('int srt_getsockopt(int, int, int, _Out_ void *, _Inout_ void *)') as GetOption,
  bind: library.func('int srt_bind(int, const void *, int)') as (s: number, a: Buffer, n: number) => number,
  listen: library.func('int srt_listen(int, int)') as (s: number, backlog: number) => number,
  accept: library.func('int srt_accept(int, _Out_ void *, _Inout_ void *)') as Accept,
  receive: library.func('int srt_recvmsg(int, _Out_ void *, int)') as (
    s: number,
    b: Buffer,
    n: number,
  ) => number,
  counts: library.func('int srt_bstats(int, _Out_ void *, int)') as (
    s: number,
    b: Buffer,
    clear: number,
  ) => number,
  lastError: library.func('int srt_getlasterror(void *)') as (system: null) => number,
  close: library.func('int srt_close(int)') as (s: number) => number,
});
type SetOption = (s: number, level: number, option: number, value: Buffer, size: number) => number;
type GetOption = (s: number, level: number, option: number, value: Buffer, size: Buffer) => number;
type Accept = (s: number, address: Buffer, size: Buffer) => number;

function int32(value: number): Buffer {
  const bytes = Buffer.alloc(4);
  bytes.writeInt32LE(value);
  return bytes;
}

/** `sockaddr_in` or `sockaddr_in6` of Linux. */
function socketAddress(host: string, port: number): Buffer {
  const bytes = Buffer.alloc(isIPv6(host) ? 28 : 16);
  bytes.writeUInt16LE(isIPv6(host) ? FAMILY.v6 : FAMILY.v4, 0);
  bytes.writeUInt16BE(port, 2);
  if (isIPv6(host)) bytes.set(bytesOfV6(host), 8);
  else bytes.set(host.split('.').map(Number), 4);
  return bytes;
}

function bytesOfV6(host: string): number[] {
  const [head = '', tail] = host.split('::');
  const groups = (text: string): number[] =>
    text
      .split(':')
      .filter(Boolean)
      .map((group) => parseInt(group, 16));
  const before = groups(head);
  const after = groups(tail ?? '');
  const zeros = new Array<number>(8 - before.length - after.length).fill(0);
  return [...before, ...zeros, ...after].flatMap((group) => [group >> 8, group & 0xff]);
}

function hostOf(address: Buffer): string {
  if (address.readUInt16LE(0) === FAMILY.v4) return [...address.subarray(4, 8)].join('.');
  const groups = Array.from({ length: 8 }, (_, index) => address.readUInt16BE(8 + 2 * index).toString(16));
  return new URL(`http://[${groups.join(':')}]`).hostname.slice(1, -1);
}
