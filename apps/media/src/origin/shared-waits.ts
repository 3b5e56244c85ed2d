/** Something that says when it has changed. */
export interface Changing {
  onChange(listener: () => void): () => void;
}

/** Waits that many share: however many players ask for one position, one listener and one timer stand for all. */
export class SharedWaits {
  readonly #waits = new Map<string, Promise<boolean>>();

  constructor(private readonly subject: Changing) {}

  /** Resolves true once `holds`, false after `timeoutMs`. Those who name the same `key` wait together. */
  until(key: string, holds: () => boolean, timeoutMs: number): Promise<boolean> {
    if (holds()) return Promise.resolve(true);
    const known = this.#waits.get(key);
    if (known) return known;
    const wait = new Promise<boolean>((resolve) => {
      const finish = (value: boolean): void => {
        clearTimeout(timer);
        stop();
        this.#waits.delete(key);
        resolve(value);
      };
      const timer = setTimeout(() => finish(false), timeoutMs);
      const stop = this.subject.onChange(() => holds() && finish(true));
    });
    this.#waits.set(key, wait);
    return wait;
  }
}
