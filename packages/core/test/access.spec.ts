import { createHmac } from 'node:crypto';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { can, CAPABILITY_ROLES, type Capability, ROLES } from '../src/access/capabilities.js';
import {
  checkGrant,
  formatGrant,
  type Grant,
  liveGrantExpiryMs,
  replayGrantExpiryMs,
} from '../src/access/grant.js';
import { isFull, POSTING_RULE, takeToken, type Bucket } from '../src/access/token-bucket.js';
import { ViewersNow } from '../src/audience/viewers-now.js';

const NOW = 1_772_000_000_000;
const sign = (keyId: string, text: string): string | undefined =>
  keyId === 'k1' ? createHmac('sha256', 'secret').update(text).digest('base64url') : undefined;
const grant: Grant = { class: 'public', validFromMs: 0, expiresAtMs: NOW + 60_000, keyId: 'k1' };
const check = (text: string, over: { subject?: string; nowMs?: number; validFromMs?: number } = {}) =>
  checkGrant(over.subject ?? 'programme', text, sign, over.nowMs ?? NOW, () => over.validFromMs ?? 0);

describe('a playback grant', () => {
  const text = formatGrant('programme', grant, sign);

  test('opens what it was made for, until it runs out', () => {
    expect(check(text)).toMatchObject({ ok: true, value: { class: 'public' } });
    expect(check(text, { nowMs: NOW + 61_000 })).toMatchObject({ error: { code: 'expired' } });
    expect(check(text, { subject: 'another' })).toMatchObject({ error: { code: 'forged' } });
  });

  test('is withdrawn by a later instant of the same class', () => {
    expect(check(text, { validFromMs: NOW })).toMatchObject({ error: { code: 'withdrawn' } });
  });

  test('cannot be changed in any letter, nor made a desk’s', () => {
    fc.assert(
      fc.property(fc.nat(text.length - 1), fc.constantFrom(...'abcXYZ019._-'), (at, letter) => {
        fc.pre(text[at] !== letter);
        expect(check(text.slice(0, at) + letter + text.slice(at + 1)).ok).toBe(false);
      }),
    );
    expect(check(text.replace('public', 'desk'))).toMatchObject({ error: { code: 'forged' } });
  });

  test('whatever somebody makes up is refused', () => {
    fc.assert(fc.property(fc.string(), (madeUp) => expect(check(madeUp).ok).toBe(false)));
  });

  test('lasts as long for everybody, so that caches can share it', () => {
    expect(liveGrantExpiryMs(NOW) % 3_600_000).toBe(0);
    expect(replayGrantExpiryMs(NOW)).toBe(replayGrantExpiryMs(NOW + 1000));
    expect(replayGrantExpiryMs(NOW) - NOW).toBeGreaterThan(86_400_000);
  });
});

describe('capabilities', () => {
  test('only owner, producer and operator see keys', () => {
    expect(ROLES.filter((role) => can([role], 'keys.read'))).toEqual(['owner', 'producer', 'operator']);
  });
  test('a treasurer reads and changes nothing', () => {
    const allowed = (Object.keys(CAPABILITY_ROLES) as Capability[]).filter((name) =>
      can(['treasurer'], name),
    );
    expect(allowed.every((name) => name.endsWith('.read') || name === 'programme.watch')).toBe(true);
  });
  test('nobody without a role may do anything', () => {
    expect((Object.keys(CAPABILITY_ROLES) as Capability[]).some((name) => can([], name))).toBe(false);
  });
});

describe('the limit on posting', () => {
  test('five quick ones, then one every six seconds, with the wait said', () => {
    let bucket: Bucket | undefined;
    const answers = [0, 100, 200, 300, 400, 500].map((ms) => {
      const answer = takeToken(POSTING_RULE, bucket, NOW + ms);
      if (answer.allowed) bucket = answer.bucket;
      return answer;
    });
    expect(answers.map((answer) => answer.allowed)).toEqual([true, true, true, true, true, false]);
    const wait = answers[5]!.allowed ? 0 : answers[5]!.waitMs;
    expect(wait).toBeGreaterThan(5000);
    expect(takeToken(POSTING_RULE, bucket, NOW + 500 + wait).allowed).toBe(true);
    expect(isFull(POSTING_RULE, bucket!, NOW + 40_000)).toBe(true);
  });

  test('in any rhythm nobody posts more than the burst and one every six seconds', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(5000), { maxLength: 100 }), (gaps) => {
        let bucket: Bucket | undefined;
        let nowMs = NOW;
        let posted = 0;
        for (const gap of gaps) {
          nowMs += gap;
          const answer = takeToken(POSTING_RULE, bucket, nowMs);
          if (!answer.allowed) continue;
          bucket = answer.bucket;
          posted += 1;
        }
        expect(posted).toBeLessThanOrEqual(5 + (nowMs - NOW) / 6000 + 1);
      }),
    );
  });
});

test('viewers now are distinct values of the last 15 s; foreign players count as one', () => {
  const viewers = new ViewersNow();
  viewers.saw('aaaaaaaaaaaa', null, 0);
  viewers.saw('aaaaaaaaaaaa', null, 1000);
  viewers.saw('bbbbbbbbbbbb', null, 1000);
  viewers.saw(null, null, 1000);
  viewers.saw('<x>', null, 1000);
  expect(viewers.count(2000)).toBe(3);
  expect(viewers.count(16_000)).toBe(3);
  expect(viewers.count(16_001)).toBe(0);
});

test('viewers are counted by the website that embeds the picture; what is no host is a player that does not say', () => {
  const viewers = new ViewersNow();
  for (const name of ['aaaaaaaa', 'bbbbbbbb']) viewers.saw(name, 'Parish.example', 0);
  viewers.saw('cccccccc', null, 0);
  for (const [nth, site] of ['<b>', 'x'.repeat(101), 'a b', ''].entries())
    viewers.saw(`dddddddd${nth}`, site, 0);
  expect(viewers.bySite(0)).toEqual([
    { site: '', viewers: 4 },
    { site: 'parish.example', viewers: 2 },
    { site: null, viewers: 1 },
  ]);
  expect(viewers.bySite(15_001)).toEqual([]);
  for (let nth = 0; nth < 50; nth += 1) viewers.saw(`eeeeeeee${nth}`, `site${nth}.example`, 20_000);
  expect(viewers.bySite(20_000)).toHaveLength(ViewersNow.maxSites);
});
