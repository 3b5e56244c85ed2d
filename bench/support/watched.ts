import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { readStrip } from '@heliphon/core/signal/code-strip';
import { shownNow } from './lens.js';

/** A player that is looked at from outside. */
export interface Watched {
  /** The longest that its picture has stood since the last question. */
  stillMs(): Promise<number>;
  /** Whether it shows what the lens drew, by the number in the picture. */
  showsLens(): Promise<boolean>;
}

/** shaka-player is not part of this project: it takes part where this names its script. */
const SHAKA = process.env.HELIPHON_BENCH_SHAKA ?? '';
export const isShakaThere = existsSync(SHAKA);

/** Plays in a page, in one of the ways of `support/player`. */
export async function watchPage(
  page: Page,
  play: 'playOurs' | 'playPlain' | 'playShaka',
  address: string,
): Promise<Watched> {
  await page.setContent('<video muted playsinline width="640" height="360"></video>');
  await page.addScriptTag({ content: await readFile('dist/bench/page/player.js', 'utf8') });
  if (play === 'playShaka') await page.addScriptTag({ path: SHAKA });
  await page.evaluate(
    ([name, url]) => {
      const video = document.querySelector('video')!;
      const noted = { lastAtMs: performance.now(), longestMs: 0 };
      const shown = (): void => {
        const nowMs = performance.now();
        noted.longestMs = Math.max(noted.longestMs, nowMs - noted.lastAtMs);
        noted.lastAtMs = nowMs;
        video.requestVideoFrameCallback(shown);
      };
      video.requestVideoFrameCallback(shown);
      Object.assign(window, { noted });
      (window as never as Record<string, (element: Element, url: string) => void>)[name!]!(video, url!);
    },
    [play, address],
  );
  return {
    stillMs: () =>
      page.evaluate(() => {
        const { noted } = window as never as { noted: { lastAtMs: number; longestMs: number } };
        const longestMs = Math.max(noted.longestMs, performance.now() - noted.lastAtMs);
        noted.longestMs = 0;
        return longestMs;
      }),
    showsLens: async () => (await shownNow(page, 1000)).some(({ lumas }) => readStrip(lumas) !== null),
  };
}
