import { describe, expect, test } from '@jest/globals';
import { readStrip, stripCentres } from '@heliphon/core/signal/code-strip';
import { FILM, FramePainter } from '../src/film/frames.js';
import { LIGHTS, sceneSvg } from '../src/film/scene.js';
import { renderSound } from '../src/film/sound.js';
import { overviewPage, receivedPage, websitePage } from '../src/pages.js';

describe('the film', () => {
  const numberIn = (picture: Buffer): number | null =>
    readStrip(
      stripCentres().map(
        ({ x, y }) =>
          picture[(Math.floor(y * FILM.heightPx) * FILM.widthPx + Math.floor(x * FILM.widthPx)) * 3]!,
      ),
    );

  test('every frame carries its number', async () => {
    const painter = await FramePainter.open();
    for (const frame of [0, 1, 917, 1799]) expect(numberIn(painter.paint(frame))).toBe(frame);
  });

  test('its light moves, and its last frame leads back to the first', async () => {
    const painter = await FramePainter.open();
    const apart = (a: Buffer, b: Buffer): number => {
      let sum = 0;
      for (let at = 0; at < a.byteLength; at += 997) sum += Math.abs(a[at]! - b[at]!);
      return sum / (a.byteLength / 997);
    };
    const first = painter.paint(0);
    const halfway = apart(first, painter.paint(450));
    expect(halfway).toBeGreaterThan(0.5);
    expect(apart(first, painter.paint(1799))).toBeLessThan(halfway / 2);
  });

  test('every light makes a drawing of its own', () => {
    const drawings = Object.values(LIGHTS).map(sceneSvg);
    expect(new Set(drawings).size).toBe(drawings.length);
    for (const svg of drawings) expect(svg).toMatch(/^<svg [^]*<\/svg>$/);
  });

  test('its sound is there throughout, and never clips', () => {
    const sound = renderSound(8);
    const samples = Array.from({ length: sound.byteLength / 2 }, (_, index) => sound.readInt16LE(index * 2));
    expect(Math.max(...samples.filter((_, index) => index % 7 === 0).map(Math.abs))).toBeLessThan(32_000);
    for (let second = 0; second < 8; second += 1) {
      const slice = samples.slice(second * 96_000, (second + 1) * 96_000);
      const rms = Math.sqrt(slice.reduce((sum, value) => sum + (value / 32_768) ** 2, 0) / slice.length);
      expect(20 * Math.log10(rms)).toBeGreaterThan(-45);
    }
  });
});

describe('the pages of the outside world', () => {
  const stream = {
    streamName: '<b>secret-key</b>',
    mode: 'accept' as const,
    isLive: true,
    connections: 1,
    receivedBytes: 2_500_000,
    lastByteAtMs: 0,
  };
  test('show what a platform receives, and only the beginning of its key', () => {
    const page = receivedPage([stream]);
    expect(page).toContain('live, 2500 kB so far');
    expect(page).not.toContain('<b>secret');
    expect(page).not.toContain('secret-key<');
  });
  test('say so when nothing has come', () => {
    expect(overviewPage([], [], 0, [])).toContain('Nothing has come yet.');
  });
  test('hold the embed in the customer’s own website', () => {
    expect(websitePage('http://127.0.0.1:4600/embed/x"onload="y')).toContain(
      'src="http://127.0.0.1:4600/embed/x&#34;onload=&#34;y"',
    );
  });
});
