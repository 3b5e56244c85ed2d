import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  askPairing,
  boxWorries,
  CODE_LETTERS,
  makeUserCode,
  PAIRING,
  type Pairing,
  readUserCode,
} from '../src/pairing/device-grant.js';

const bytes = fc.uint8Array({ minLength: 64, maxLength: 64 });
const NOW = 1_000_000;
const waiting: Pairing = {
  state: 'waiting',
  expiresAtMs: NOW + PAIRING.lifeMs,
  lastAskedAtMs: null,
  intervalMs: PAIRING.intervalMs,
};

describe('a code on a box', () => {
  test('is read however somebody typed it', () => {
    fc.assert(
      fc.property(bytes, (random) => {
        const code = makeUserCode(random.map((byte) => byte % 240));
        expect(readUserCode(code)).toBe(code);
        expect(readUserCode(` ${code.toLowerCase().replace('-', ' ')} `)).toBe(code);
      }),
    );
  });

  test('holds no letter that makes words or looks like another', () => {
    expect(CODE_LETTERS).not.toMatch(/[AEIOUY01]/);
    for (const typed of ['', 'WDJB-MJH', 'WDJB-MJHTT', 'WDJB-MJHA', '1234-5678', 'ÄDJB-MJHT'])
      expect(readUserCode(typed)).toBeNull();
  });

  test('is drawn from as many as can be: no letter is likelier than another', () => {
    const counts = new Map<string, number>();
    for (let byte = 0; byte < 240; byte += 1) {
      const letter = makeUserCode(new Uint8Array(64).fill(byte))[0]!;
      counts.set(letter, (counts.get(letter) ?? 0) + 1);
    }
    expect([...new Set(counts.values())]).toEqual([12]);
    expect(() => makeUserCode(new Uint8Array(64).fill(255))).toThrow();
  });
});

describe('a box that asks whether its code was entered', () => {
  test('hears that it has to wait, and gets its token once, when it was', () => {
    const first = askPairing(waiting, NOW);
    expect(first.answer).toBe('authorization_pending');
    const entered = { ...first.pairing, state: 'granted' as const };
    const second = askPairing(entered, NOW + PAIRING.intervalMs);
    expect(second.answer).toBe('granted');
    expect(askPairing(second.pairing, NOW + 2 * PAIRING.intervalMs).answer).toBe('invalid_grant');
  });

  test('too often is slowed down, each time by more', () => {
    const once = askPairing(askPairing(waiting, NOW).pairing, NOW + 1000);
    expect([once.answer, once.pairing.intervalMs]).toEqual(['slow_down', 10_000]);
    const twice = askPairing(once.pairing, NOW + 6000);
    expect([twice.answer, twice.pairing.intervalMs]).toEqual(['slow_down', 15_000]);
  });

  test('hears the end when its code has run out, or was refused', () => {
    expect(askPairing(waiting, NOW + PAIRING.lifeMs).answer).toBe('expired_token');
    expect(askPairing({ ...waiting, state: 'denied' }, NOW).answer).toBe('access_denied');
  });

  test('never gets a token that nobody granted, whatever it does', () => {
    const steps = fc.array(fc.integer({ min: 0, max: 20_000 }), { maxLength: 50 });
    fc.assert(
      fc.property(steps, (waits) => {
        let pairing = waiting;
        let nowMs = NOW;
        for (const waitMs of waits) {
          nowMs += waitMs;
          const asked = askPairing(pairing, nowMs);
          expect(asked.answer).not.toBe('granted');
          pairing = asked.pairing;
        }
      }),
    );
  });
});

test('a box is worth a look when it is hot, nearly empty, or has nothing plugged in', () => {
  const well = { batteryPercent: 80, input: 'picture-and-sound', temperatureC: 45, isSending: true } as const;
  expect(boxWorries(well)).toEqual([]);
  expect(boxWorries({ ...well, batteryPercent: null, temperatureC: null })).toEqual([]);
  expect(boxWorries({ batteryPercent: 12, input: 'nothing', temperatureC: 74, isSending: false })).toEqual([
    'hot',
    'battery-low',
    'nothing-plugged-in',
  ]);
});
