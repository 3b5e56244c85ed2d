import { expect, type Page } from '@playwright/test';
import { readStrip, stripCentres } from '@heliphon/core/signal/code-strip';

/** What somebody who watched had, second by second. */
export interface Watched {
  /** How often the player's time went back. */
  readonly setBacks: number;
  /** How long there was something without a number in its code strip: the slate. */
  readonly slateMs: number;
}

const EVERY_MS = 200;
const SMALL = { widthPx: 320, heightPx: 180 };

interface Noted {
  lastSeconds: number;
  setBacks: number;
  samples: number[][];
}

/** Watches the picture of a page from now on, in the page itself. */
export async function beginWatching(page: Page): Promise<void> {
  await page.evaluate(
    ({ centres, everyMs, size }) => {
      const video = document.querySelector('video')!;
      const drawing = new OffscreenCanvas(size.widthPx, size.heightPx).getContext('2d', {
        willReadFrequently: true,
      })!;
      const noted: Noted = {
        lastSeconds: video.currentTime,
        setBacks: 0,
        samples: [],
      };
      const shown = (): void => {
        if (video.currentTime < noted.lastSeconds) noted.setBacks += 1;
        noted.lastSeconds = video.currentTime;
        video.requestVideoFrameCallback(shown);
      };
      video.requestVideoFrameCallback(shown);
      const sampling = window.setInterval(() => {
        drawing.drawImage(video, 0, 0, size.widthPx, size.heightPx);
        const { data } = drawing.getImageData(0, 0, size.widthPx, size.heightPx);
        noted.samples.push(
          centres.map(({ x, y }) => {
            const at = Math.floor(y * size.heightPx) * size.widthPx + Math.floor(x * size.widthPx);
            return data[at * 4 + 1]!;
          }),
        );
      }, everyMs);
      Object.assign(window, { noted, sampling });
    },
    { centres: stripCentres(), everyMs: EVERY_MS, size: SMALL },
  );
}

/** Waits until so much more has been played; how long that takes is for `bench continuity`. */
export async function playsOn(page: Page, seconds: number): Promise<void> {
  const position = (): Promise<number> => page.evaluate(() => document.querySelector('video')!.currentTime);
  const from = await position();
  await expect.poll(position).toBeGreaterThan(from + seconds);
}

/** What was had since the last question. */
export async function whatWasSeen(page: Page): Promise<Watched> {
  const { setBacks, samples } = await page.evaluate(() => {
    const { noted } = window as never as { noted: Noted };
    const { setBacks, samples } = noted;
    Object.assign(noted, { setBacks: 0, samples: [] });
    return { setBacks, samples };
  });
  const slates = samples.filter((lumas) => readStrip(lumas) === null).length;
  return { setBacks, slateMs: slates * EVERY_MS };
}
