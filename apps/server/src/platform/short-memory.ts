/** Asked for by everybody at once when a hint goes out: read from the database once a second at most. */
const KEPT_MS = 1000;
const MOST = 2000;

/** Remembers answers for a second; anyone who asks meanwhile shares them. */
export class ShortMemory<T> {
  readonly #known = new Map<string, { readonly atMs: number; readonly answer: Promise<T> }>();

  constructor(private readonly read: (name: string) => Promise<T>) {}

  get(name: string): Promise<T> {
    const known = this.#known.get(name);
    if (known && performance.now() - known.atMs < KEPT_MS) return known.answer;
    const answer = this.read(name);
    if (this.#known.size >= MOST) this.#known.clear();
    this.#known.set(name, { atMs: performance.now(), answer });
    return answer;
  }

  /** Something changed: the next question reads again. */
  forget(): void {
    this.#known.clear();
  }
}
