import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  type Continuity,
  type ContinuityEvent,
  type FrameVerdict,
  nextContinuity,
  NOT_THERE,
  verdictOf,
} from '../src/media/continuity.js';

const AWAY_AFTER_MS = 1500;
const FRAME_MS = 40;
const GROUP = 50;

/** Feeds pictures and looks what becomes of them. */
class Feed {
  continuity: Continuity = NOT_THERE;
  readonly verdicts: { readonly atMs: number; readonly verdict: FrameVerdict }[] = [];

  tell(event: ContinuityEvent): this {
    this.continuity = nextContinuity(this.continuity, event, AWAY_AFTER_MS);
    return this;
  }

  picture(atMs: number, sourceMs: number, isKeyframe: boolean): FrameVerdict {
    const before = this.continuity.presence;
    this.tell({ type: 'picture', atMs, sourceMs, isKeyframe });
    const verdict = verdictOf(before, this.continuity.presence, true);
    this.verdicts.push({ atMs, verdict });
    return verdict;
  }

  /** Pictures in time, a keyframe first and then every two seconds; asks the clock as the node does. */
  run(fromMs: number, toMs: number, sourceFromMs = 0): this {
    for (let nth = 0; fromMs + nth * FRAME_MS < toMs; nth += 1) {
      this.picture(fromMs + nth * FRAME_MS, sourceFromMs + nth * FRAME_MS, nth % GROUP === 0);
      this.tell({ type: 'clock', atMs: fromMs + nth * FRAME_MS });
    }
    return this;
  }

  get is(): string {
    return this.continuity.presence.is;
  }

  /** When it was back, each time. */
  get backAtMs(): readonly number[] {
    return this.verdicts.filter(({ verdict }) => verdict === 'release').map(({ atMs }) => atMs);
  }
}

const chosen = (): Feed => new Feed().tell({ type: 'chosen', atMs: 0 });

describe('what feeds a programme', () => {
  test('is shown from its first keyframe on once it is chosen, and nothing of it before', () => {
    const feed = chosen();
    expect([feed.picture(10, 0, false), feed.picture(50, 40, true), feed.picture(90, 80, false)]).toEqual([
      'pass-over',
      'show',
      'show',
    ]);
  });

  test('is away when it never begins, when it stops for the limit, and at once when its connection is closed', () => {
    expect(chosen().tell({ type: 'clock', atMs: 1499 }).is).toBe('awaited');
    expect(chosen().tell({ type: 'clock', atMs: 1500 }).is).toBe('away');
    const feed = chosen().run(0, 1000);
    expect(feed.tell({ type: 'clock', atMs: 960 + 1499 }).is).toBe('here');
    expect(feed.tell({ type: 'clock', atMs: 960 + 1500 }).is).toBe('away');
    expect(chosen().run(0, 1000).tell({ type: 'closed', atMs: 1010 }).is).toBe('away');
  });

  test('is not away for a stutter below the limit: what comes then is shown as it comes', () => {
    const feed = chosen().run(0, 1000);
    expect(feed.picture(960 + 1400, 1000, false)).toBe('show');
  });

  test('is back at a keyframe that pictures in time have followed for 300 ms, and is shown from that keyframe on', () => {
    const feed = chosen().run(0, 1000).tell({ type: 'closed', atMs: 1000 });
    expect(feed.picture(5000, 90_000, false)).toBe('pass-over');
    expect(feed.picture(5040, 90_040, true)).toBe('hold-from-here');
    expect(feed.picture(5330, 90_330, false)).toBe('hold');
    expect(feed.picture(5340, 90_340, false)).toBe('release');
    expect(feed.picture(5380, 90_380, false)).toBe('show');
  });

  test('that was saved up is dropped: what runs ahead of the clock is no picture in time', () => {
    const feed = chosen().run(0, 1000).tell({ type: 'closed', atMs: 1000 });
    // Six seconds within a tenth of one, with a keyframe every two.
    for (let nth = 0; nth < 150; nth += 1) feed.picture(9000 + nth / 1.5, nth * FRAME_MS, nth % GROUP === 0);
    expect(feed.backAtMs).toEqual([]);
    feed.run(9101, 12_000, 6000);
    expect(feed.backAtMs).toHaveLength(1);
    expect(feed.backAtMs[0]).toBeLessThan(9101 + 400);
  });

  test('that jumps on its clock waits for its keyframe, and the slate comes if that takes long', () => {
    const feed = chosen().run(0, 1000);
    expect(feed.picture(1000, 3_600_000, false)).toBe('pass-over');
    expect(feed.picture(1040, 3_600_040, true)).toBe('show');
    expect(feed.picture(1080, 7_200_000, false)).toBe('pass-over');
    for (let atMs = 1120; atMs < 2700; atMs += 40) feed.picture(atMs, 7_200_000 + atMs, false);
    expect(feed.is).toBe('away');
  });

  test('that comes for a moment only is not shown', () => {
    const feed = chosen().tell({ type: 'closed', atMs: 0 });
    for (let nth = 0; nth < 6; nth += 1) feed.picture(1000 + nth * FRAME_MS, nth * FRAME_MS, nth === 0);
    expect(feed.is).toBe('proving');
    expect(feed.tell({ type: 'clock', atMs: 1200 + 1000 }).is).toBe('away');
    expect(feed.backAtMs).toEqual([]);
  });

  test('that goes and comes every two seconds is back five times in a minute, and then only after three seconds', () => {
    const feed = chosen().tell({ type: 'closed', atMs: 0 });
    for (let atMs = 1000; atMs < 40_000; atMs += 4000)
      feed.run(atMs, atMs + 2000).tell({ type: 'closed', atMs: atMs + 2000 });
    expect(feed.backAtMs).toHaveLength(5);
    feed.run(42_000, 48_000);
    expect(feed.backAtMs[5]! - 42_000).toBeGreaterThanOrEqual(3000);
  });

  test('is never shown between going away and a keyframe, whatever comes', () => {
    const step = fc.record({
      afterMs: fc.integer({ min: 1, max: 2500 }),
      sourceStepMs: fc.integer({ min: -5000, max: 5000 }),
      isKeyframe: fc.boolean(),
      what: fc.constantFrom('picture', 'picture', 'picture', 'clock', 'closed'),
    });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 200 }), (steps) => {
        const feed = chosen();
        let [atMs, sourceMs, mayShow, isHeldFromKeyframe] = [0, 0, false, false];
        for (const { afterMs, sourceStepMs, isKeyframe, what } of steps) {
          atMs += afterMs;
          sourceMs += sourceStepMs;
          if (what !== 'picture') feed.tell({ type: what as 'clock' | 'closed', atMs });
          else {
            const verdict = feed.picture(atMs, sourceMs, isKeyframe);
            if (verdict === 'hold-from-here') isHeldFromKeyframe = isKeyframe;
            if (verdict === 'release') expect(isHeldFromKeyframe).toBe(true);
            if (verdict === 'show') expect(mayShow || isKeyframe).toBe(true);
          }
          mayShow = feed.is === 'here';
        }
      }),
    );
  });
});
