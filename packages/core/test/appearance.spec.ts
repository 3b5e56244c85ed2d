import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  contrastRatio,
  formatColour,
  fromOklch,
  mixColours,
  parseColour,
  relativeLuminance,
  toOklch,
} from '../src/appearance/colour.js';
import { groundsOf, type Spots, spotsOf } from '../src/appearance/ground-picture.js';
import { checkLook } from '../src/appearance/look-check.js';
import { inheritLook, LOOK_COLOURS, type Look, USUAL_LOOK } from '../src/appearance/look.js';
import { nearestPassing } from '../src/appearance/nearest-passing.js';
import { CONTRAST } from '../src/appearance/contrast.js';
import { nightLook } from '../src/appearance/night.js';
import { paletteOf, resolveLook } from '../src/appearance/palette.js';

const colours = fc
  .integer({ min: 0, max: 0xffffff })
  .map((value) => `#${value.toString(16).padStart(6, '0')}`);
const looks = fc.tuple(...LOOK_COLOURS.map(() => colours)).map((chosen): Look => ({
  ...USUAL_LOOK,
  ...Object.fromEntries(LOOK_COLOURS.map((colour, at) => [colour, chosen[at]!])),
}));
const contrast = (one: string, other: string): number => contrastRatio(parseColour(one), parseColour(other));

describe('a colour', () => {
  test('is read and written as six hexadecimal digits, and nothing else', () => {
    fc.assert(fc.property(colours, (hex) => formatColour(parseColour(hex)) === hex));
    for (const wrong of ['#fff', 'red', '#12345g', '', 'url(x)'])
      expect(() => parseColour(wrong)).toThrow(RangeError);
  });

  test('has the luminance and contrast that WCAG 2.2 gives as examples', () => {
    expect(relativeLuminance(parseColour('#ffffff'))).toBeCloseTo(1, 6);
    expect(relativeLuminance(parseColour('#000000'))).toBe(0);
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 6);
    // The grey that just passes on white, and the one that just does not.
    expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2);
    expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2);
  });

  test('is in OKLCH what CSS Color 4 says it is', () => {
    const red = toOklch(parseColour('#ff0000'));
    expect(red.lightness).toBeCloseTo(0.628, 3);
    expect(red.chroma).toBeCloseTo(0.2577, 3);
    expect(red.hueDeg).toBeCloseTo(29.23, 1);
    const blue = toOklch(parseColour('#0000ff'));
    expect([blue.lightness, blue.chroma, blue.hueDeg].map((part) => part.toFixed(2))).toEqual([
      '0.45',
      '0.31',
      '264.05',
    ]);
  });

  test('goes to OKLCH and comes back as it was', () => {
    fc.assert(fc.property(colours, (hex) => formatColour(fromOklch(toOklch(parseColour(hex)))) === hex));
  });

  test('that no screen shows keeps its lightness and hue, and gives up chroma', () => {
    const shown = toOklch(fromOklch({ lightness: 0.7, chroma: 0.4, hueDeg: 145 }));
    expect(shown.lightness).toBeCloseTo(0.7, 2);
    expect(shown.hueDeg).toBeCloseTo(145, 0);
    expect(shown.chroma).toBeLessThan(0.4);
    expect(shown.chroma).toBeGreaterThan(0.15);
  });

  test('mixed lies between the two, and is either where the share is all or nothing', () => {
    const [ink, paper] = [parseColour('#16241f'), parseColour('#fffdf7')];
    expect(formatColour(mixColours(ink, paper, 1))).toBe('#16241f');
    expect(formatColour(mixColours(ink, paper, 0))).toBe('#fffdf7');
    const half = toOklch(mixColours(ink, paper, 0.5)).lightness;
    expect(half).toBeCloseTo((toOklch(ink).lightness + toOklch(paper).lightness) / 2, 2);
  });
});

describe('the nearest colour that passes', () => {
  test('passes on everything that it stands on, written out as it will be kept', () => {
    fc.assert(
      fc.property(colours, colours, fc.constantFrom(3, 4.5), (hex, ground, ratio) => {
        const found = nearestPassing(parseColour(hex), [parseColour(ground)], ratio);
        // On one ground there is always one: black or white has 4.58 at least.
        expect(found).not.toBeNull();
        expect(contrast(formatColour(found!), ground)).toBeGreaterThanOrEqual(ratio);
      }),
    );
  });

  test('is the colour itself where that passes', () => {
    expect(formatColour(nearestPassing(parseColour('#24405c'), [parseColour('#fffdf7')], 4.5)!)).toBe(
      '#24405c',
    );
  });

  test('keeps the hue, and moves no further than it has to', () => {
    const pale = parseColour('#8fb4d9');
    const found = nearestPassing(pale, [parseColour('#ffffff')], 4.5)!;
    expect(Math.abs(toOklch(found).hueDeg - toOklch(pale).hueDeg)).toBeLessThan(3);
    expect(toOklch(found).chroma).toBeGreaterThan(0.05);
    expect(contrastRatio(found, parseColour('#ffffff'))).toBeLessThan(4.7);
  });

  test('is none where light and dark lie behind it at once', () => {
    expect(nearestPassing(parseColour('#777777'), ['#ffffff', '#000000'].map(parseColour), 4.6)).toBeNull();
  });
});

describe('a look', () => {
  test('takes each part from the narrowest level that says it, and says from where', () => {
    const { value: look, from } = inheritLook([
      { level: 'house', own: { accent: '#112233', foot: 'Lantern Quay Commons' } },
      { level: 'channel', own: { accent: '#445566' } },
      { level: 'series', own: {} },
      { level: 'event', own: { cornerPx: 0 } },
    ]);
    expect(look).toEqual({
      ...USUAL_LOOK,
      accent: '#445566',
      foot: 'Lantern Quay Commons',
      cornerPx: 0,
    });
    expect(from).toMatchObject({ accent: 'channel', foot: 'house', cornerPx: 'event', ground: 'usual' });
  });

  test('can say no to what stands above it', () => {
    const said = [
      { level: 'house', own: { foot: 'All welcome', showsOurs: true } },
      { level: 'event', own: { foot: '', showsOurs: false } },
    ] as const;
    expect(inheritLook(said).value).toMatchObject({ foot: '', showsOurs: false });
  });
});

describe('what is checked of a look', () => {
  test('nothing is wrong with the usual one', () => {
    expect(checkLook(USUAL_LOOK)).toEqual([]);
  });

  test('words that do not show are named with where they show worst, and with a colour that does', () => {
    const poor = checkLook({ ...USUAL_LOOK, text: '#c9b28a', sheet: '#ffffff', ground: '#f4efe6' });
    expect(poor).toMatchObject([
      {
        part: 'text',
        behind: 'ground',
        needed: 4.5,
        veilPercent: null,
        ratio: expect.any(Number),
        offer: expect.any(String),
      },
    ]);
    expect(poor[0]!.ratio).toBeCloseTo(contrast('#c9b28a', '#f4efe6'), 6);
    expect(contrast(poor[0]!.offer!, '#f4efe6')).toBeGreaterThanOrEqual(4.5);
  });

  test('taking what is offered leads to a look that passes, wherever something can be offered', () => {
    fc.assert(
      fc.property(looks, (chosen) => {
        const taken = checkLook(chosen).flatMap(({ part, offer }) => (offer ? [[part, offer]] : []));
        const left = checkLook({ ...chosen, ...Object.fromEntries(taken) });
        expect(left.filter(({ offer }) => offer !== null)).toEqual([]);
      }),
    );
  });

  test('a ground that differs too much from the sheet has nothing to offer', () => {
    const poor = checkLook({ ...USUAL_LOOK, ground: '#555555', sheet: '#ffffff', links: '#777777' });
    expect(poor.find(({ part }) => part === 'links')).toMatchObject({ offer: null });
  });
});

test('colours that follow from a look show wherever its words do', () => {
  fc.assert(
    fc.property(looks, (look) => {
      const palette = paletteOf(look);
      expect(contrast(palette.onAccent, look.accent)).toBeGreaterThanOrEqual(CONTRAST.words);
      expect(contrast(palette.mark, look.accent)).toBeGreaterThanOrEqual(CONTRAST.shapes);
      expect(contrast(palette.glow, '#0b1412')).toBeGreaterThanOrEqual(CONTRAST.shapes);
      if (checkLook(look).some(({ part }) => part === 'text')) return;
      for (const ground of [look.ground, look.sheet]) {
        expect(contrast(palette.soft, ground)).toBeGreaterThanOrEqual(CONTRAST.words);
        expect(contrast(palette.wrong, ground)).toBeGreaterThanOrEqual(CONTRAST.words);
        expect(contrast(palette.edge, ground)).toBeGreaterThanOrEqual(CONTRAST.shapes);
      }
    }),
  );
});

describe('a look on devices that are set to the dark', () => {
  const luminance = (hex: string): number => relativeLuminance(parseColour(hex));

  test('is dark, and can be read whatever the house has chosen, unless it is dark by day already', () => {
    fc.assert(
      fc.property(looks, (chosen) => {
        const night = nightLook(chosen);
        if (contrast(chosen.ground, '#ffffff') > contrast(chosen.ground, '#000000')) {
          expect(chosen).toMatchObject(night);
          return;
        }
        expect([luminance(night.ground) < 0.03, luminance(night.text) > 0.6]).toEqual([true, true]);
        expect(checkLook({ ...USUAL_LOOK, ...night })).toEqual([]);
        for (const colour of Object.values(paletteOf(night))) expect(colour).toMatch(/^#[0-9a-f]{6}$/);
      }),
    );
  });

  test('keeps the hues of the house', () => {
    const { links } = nightLook(USUAL_LOOK);
    const hue = (hex: string): number => toOklch(parseColour(hex)).hueDeg;
    expect(Math.abs(hue(links) - hue(USUAL_LOOK.links))).toBeLessThan(3);
  });

  test('stays as it is by day where the house wants that', () => {
    expect(resolveLook({ ...USUAL_LOOK, hasNight: false }).night).toBeNull();
    expect(resolveLook(USUAL_LOOK).night).toEqual(paletteOf(nightLook(USUAL_LOOK)));
  });
});

describe('a picture behind the page', () => {
  const [widthPx, heightPx] = [128, 64];
  const picture = (colourAt: (x: number, y: number) => readonly [number, number, number]): Uint8Array =>
    Uint8Array.from({ length: widthPx * heightPx * 3 }, (_, at) => {
      const pixel = Math.floor(at / 3);
      return colourAt(pixel % widthPx, Math.floor(pixel / widthPx))[at % 3]!;
    });
  const grey = (x: number, y: number) => [120 + (x % 2), 120, 120 + (y % 2)] as const;
  const behind = (spots: Spots, veilPercent: number): Look => ({
    ...USUAL_LOOK,
    picture: { id: '01a', fit: 'cover', veilPercent, spots },
  });

  test('is known by its darkest and its lightest spot, each as large as a letter', () => {
    const pixels = picture((x, y) => {
      if (x >= 100 && x < 104 && y >= 20 && y < 24) return [0, 0, 0];
      if (x >= 10 && x < 14 && y >= 50 && y < 54) return [255, 255, 255];
      // A single one hides no word.
      return x === 60 && y === 30 ? [255, 255, 255] : grey(x, y);
    });
    const { darkest, lightest } = spotsOf(pixels, widthPx, heightPx);
    expect([darkest.colour, lightest.colour]).toEqual(['#000000', '#ffffff']);
    expect([darkest.x * widthPx, darkest.y * heightPx].map(Math.round)).toEqual([101, 21]);
    expect([lightest.x * widthPx, lightest.y * heightPx].map(Math.round)).toEqual([11, 51]);
  });

  test('is held against what stands on it at its worst spot, and a veil is offered that is enough', () => {
    const spots = spotsOf(
      picture((x) => (x < 64 ? [10, 10, 10] : [250, 250, 250])),
      widthPx,
      heightPx,
    );
    const bare = checkLook(behind(spots, 0));
    // Black words on what is nearly black.
    const text = bare.find(({ part }) => part === 'text')!;
    expect([text.behind, text.ratio < 1.5]).toEqual(['ground', true]);
    expect(text.veilPercent).toBeGreaterThan(50);
    const strongest = Math.max(...bare.map(({ veilPercent }) => veilPercent!));
    expect(checkLook(behind(spots, strongest))).toEqual([]);
    expect(checkLook(behind(spots, text.veilPercent! - 5)).some(({ part }) => part === 'text')).toBe(true);
  });

  test('never hides what follows from a look, by day under its veil or in the dark', () => {
    const channel = fc.integer({ min: 0, max: 255 });
    fc.assert(
      fc.property(fc.tuple(channel, channel, channel), fc.tuple(channel, channel, channel), (left, right) => {
        const spots = spotsOf(
          picture((x) => (x < 64 ? left : right)),
          widthPx,
          heightPx,
        );
        const night = nightLook(behind(spots, 20));
        expect(checkLook({ ...USUAL_LOOK, ...night })).toEqual([]);
        const { soft, wrong } = paletteOf(night);
        for (const ground of groundsOf(night))
          for (const colour of [soft, wrong])
            expect(contrastRatio(parseColour(colour), ground)).toBeGreaterThanOrEqual(CONTRAST.words);
      }),
      { numRuns: 30 },
    );
  });
});
