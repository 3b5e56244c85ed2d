import type { Page } from '@playwright/test';
import { readStrip, stripCentres } from '@heliphon/core/signal/code-strip';

/** What somebody who watched had, second by second. */
export interface Watched {
  /** The longest time between two frames that were shown, less what the machine itself stood still. */
  readonly longestStillMs: number;
  /** How often the player's time went back. */
  readonly setBacks: number;
  /** How long there was something without a number in its code strip: the slate. */
  readonly slateMs: number;
}

const EVERY_MS = 200;
const SMALL = { widthPx: 320, heightPx: 180 };

interface Noted {
  lastFrameAtMs: number;
  longestStillMs: number;
  /** Between two beats of the page's own timer. */
  lastBeatAtMs: number;
  longestBeatMs: number;
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
        lastFrameAtMs: performance.now(),
        longestStillMs: 0,
        lastBeatAtMs: performance.now(),
        longestBeatMs: 0,
        lastSeconds: video.currentTime,
        setBacks: 0,
        samples: [],
      };
      const shown = (): void => {
        const nowMs = performance.now();
        noted.longestStillMs = Math.max(noted.longestStillMs, nowMs - noted.lastFrameAtMs);
        noted.lastFrameAtMs = nowMs;
        if (video.currentTime < noted.lastSeconds) noted.setBacks += 1;
        noted.lastSeconds = video.currentTime;
        video.requestVideoFrameCallback(shown);
      };
      video.requestVideoFrameCallback(shown);
      const sampling = window.setInterval(() => {
        const nowMs = performance.now();
        noted.longestBeatMs = Math.max(noted.longestBeatMs, nowMs - noted.lastBeatAtMs);
        noted.lastBeatAtMs = nowMs;
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

/** A picture that stands when it is asked about may go on within this time. */
const GOES_ON_WITHIN_MS = 20_000;

/**
 * What was had since the last question. It waits for the next frame, so that a pause that has not ended yet is counted
 * here in full, and not again by the next question.
 */
export async function whatWasSeen(page: Page): Promise<Watched> {
  const { stillMs, beatMs, setBacks, samples } = await page.evaluate(async (goesOnWithinMs) => {
    const { noted } = window as never as { noted: Noted };
    await new Promise((resolve) => {
      document.querySelector('video')!.requestVideoFrameCallback(resolve);
      window.setTimeout(resolve, goesOnWithinMs);
    });
    const stillMs = Math.max(noted.longestStillMs, performance.now() - noted.lastFrameAtMs);
    const { longestBeatMs: beatMs, setBacks, samples } = noted;
    const seen = { stillMs, beatMs, setBacks, samples };
    Object.assign(noted, { longestStillMs: 0, longestBeatMs: 0, setBacks: 0, samples: [] });
    return seen;
  }, GOES_ON_WITHIN_MS);
  const slates = samples.filter((lumas) => readStrip(lumas) === null).length;
  const longestStillMs = stillMs - Math.max(0, beatMs - EVERY_MS);
  return { longestStillMs, setBacks, slateMs: slates * EVERY_MS };
}
