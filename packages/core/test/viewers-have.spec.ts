import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { spansFrom, timesOf, type ViewersHaveSince, viewersHad } from '../src/audience/viewers-have.js';

const picture = (fromMs: number, sourceId = 'pier'): ViewersHaveSince => ({
  kind: 'picture',
  sourceId,
  fromMs,
});
const film = (fromMs: number): ViewersHaveSince => ({ kind: 'film', fileId: 'opening', fromMs });
const nothing = (fromMs: number): ViewersHaveSince => ({ kind: 'nothing', fromMs });
const told = (changes: readonly ViewersHaveSince[], fromMs: number, toMs: number): string[] =>
  viewersHad(changes, fromMs, toMs).map((had) => `${had.kind} ${had.fromMs}–${had.toMs}`);

describe('what viewers had', () => {
  test('is nothing until something came, and then what came', () => {
    expect(told([film(10), picture(30), nothing(50), picture(58)], 0, 100)).toEqual([
      'nothing 0–10',
      'film 10–30',
      'picture 30–50',
      'nothing 50–58',
      'picture 58–100',
    ]);
    expect(told([], 0, 100)).toEqual(['nothing 0–100']);
  });

  test('before the time that is looked at counts for as long as it lasts into it', () => {
    expect(told([picture(10), nothing(50)], 20, 40)).toEqual(['picture 20–40']);
    expect(told([picture(10), nothing(15), picture(60)], 20, 40)).toEqual(['nothing 20–40']);
  });

  test('is one stretch where it was told twice, and two where the source is another', () => {
    expect(told([picture(0), picture(40)], 0, 100)).toEqual(['picture 0–100']);
    expect(told([picture(0), picture(40, 'choir')], 0, 100)).toEqual(['picture 0–40', 'picture 40–100']);
  });

  test('tells how long and how often there was no picture since it went on air', () => {
    const had = viewersHad([picture(10), nothing(50), picture(58), nothing(90)], 0, 100);
    expect(timesOf('nothing', had)).toEqual({ times: 3, totalMs: 28 });
    expect(timesOf('nothing', spansFrom(had, 20))).toEqual({ times: 2, totalMs: 18 });
    expect(timesOf('nothing', spansFrom(had, 55))).toEqual({ times: 2, totalMs: 13 });
    const slate = { kind: 'slate', fromMs: 52 } as const;
    expect(timesOf('slate', viewersHad([picture(10), nothing(50), slate, picture(70)], 0, 100))).toEqual({
      times: 1,
      totalMs: 18,
    });
  });

  test('leaves no second out, and none twice, whatever was told', () => {
    const change = fc.record({
      lastsMs: fc.integer({ min: 0, max: 500 }),
      make: fc.constantFrom(picture, film, nothing),
    });
    fc.assert(
      fc.property(fc.array(change), fc.nat(2000), fc.nat(2000), (changes, fromMs, lengthMs) => {
        let atMs = 0;
        const told = changes.map(({ lastsMs, make }) => make((atMs += lastsMs)));
        const spans = viewersHad(told, fromMs, fromMs + lengthMs);
        const edges = spans.flatMap((span) => [span.fromMs, span.toMs]);
        const inner = edges.slice(1, -1);
        expect(inner.every((edge, nth) => nth % 2 === 1 || edge === inner[nth + 1])).toBe(true);
        expect([edges[0] ?? fromMs, edges.at(-1) ?? fromMs]).toEqual([fromMs, fromMs + lengthMs]);
      }),
    );
  });
});
