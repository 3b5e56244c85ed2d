const LOOK_EVERY_MS = 20_000;

/** How many sizes of the picture a multivariant playlist names (RFC 8216bis, 4.4.6.2). */
export const sizesIn = (playlist: string): number =>
  playlist.match(/^#EXT-X-STREAM-INF:.*RESOLUTION=/gm)?.length ?? 0;

/** Looks now and then whether there are more sizes than a player has read: hls.js reads once which there are. */
export class SizesWatch {
  readonly #timer: number;

  /** @param main - its address at the time; @param known - sizes that are known; @param onMore - called once */
  constructor(main: () => string, known: number, onMore: () => void) {
    this.#timer = window.setInterval(() => {
      void sizesAt(main()).then((count) => {
        if (count <= known) return;
        this.close();
        onMore();
      });
    }, LOOK_EVERY_MS);
  }

  close(): void {
    window.clearInterval(this.#timer);
  }
}

/** 0 where it cannot be read just now. */
async function sizesAt(address: string): Promise<number> {
  try {
    const answer = await fetch(address);
    return answer.ok ? sizesIn(await answer.text()) : 0;
  } catch {
    return 0;
  }
}
