import type { Socket } from 'node:net';

/** What a picture may wait for: about one at 25 a second. */
const PACE_MS = 40;

/**
 * Reads sockets of encoders all together, twenty-five times a second. Encoders send every packet by itself, a hundred and
 * more a second, and taking each of them apart by itself costs more than all that is done with it.
 */
export class ReadPace {
  readonly #waiting = new Map<Socket, () => void>();
  #timer: NodeJS.Timeout | null = null;

  /**
   * @param isPaced - until then it is read at once: what is asked before anything is sent waits for answers
   * @param take - gets what came, in order; at the end of the stream also what was still waiting
   */
  follow(socket: Socket, isPaced: () => boolean, take: (bytes: Uint8Array) => void): void {
    let isBehind = false;
    const read = (): void => {
      const bytes = socket.read() as Uint8Array | null;
      if (!bytes) return;
      // A buffer that was full left more in the kernel, which is fetched at once.
      isBehind = bytes.byteLength >= socket.readableHighWaterMark;
      take(bytes);
    };
    socket.on('readable', () => (isPaced() && !isBehind ? this.#soon(socket, read) : read()));
    socket.once('close', () => this.#waiting.delete(socket));
  }

  #soon(socket: Socket, read: () => void): void {
    this.#waiting.set(socket, read);
    this.#timer ??= setTimeout(() => this.#beat(), PACE_MS);
  }

  #beat(): void {
    this.#timer = null;
    const reads = [...this.#waiting.values()];
    this.#waiting.clear();
    for (const read of reads) read();
  }
}
