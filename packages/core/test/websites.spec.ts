import { describe, expect, test } from '@jest/globals';
import { judgePage, type Judged, type ReadPage } from '../src/websites/judge-page.js';
import { forbiddenBy } from '../src/websites/policy.js';

const OURS = 'https://live.quay.example';
const EMBED = `${OURS}/embed/evensong`;
const PAGE = 'https://www.quay.example/live';

describe('a policy', () => {
  test.each([
    ['', null],
    ["default-src 'self'", 'default-src'],
    ["default-src 'none'; frame-src https://live.quay.example", null],
    ["default-src *; frame-src 'self'", 'frame-src'],
    ["child-src 'self'; frame-src *", null],
    ['frame-src https:', null],
    ['frame-src http:', null],
    ['frame-src *.quay.example', null],
    ['frame-src quay.example', 'frame-src'],
    ['frame-src https://live.quay.example:8443', 'frame-src'],
    ['frame-src live.quay.example:*', null],
    ['FRAME-SRC LIVE.QUAY.EXAMPLE', null],
    ["frame-src 'self'; frame-src *", 'frame-src'],
    ["frame-src *, frame-src 'self'", 'frame-src'],
    ["script-src 'none'", null],
  ])('%s: an embed is kept out by %s', (policy, directive) => {
    expect(forbiddenBy(policy, 'frame', EMBED, PAGE)).toBe(directive);
  });

  test('asks for scripts by their own directive', () => {
    const script = `${OURS}/embed.js`;
    expect(forbiddenBy("script-src 'self'; script-src-elem *", 'script', script, PAGE)).toBeNull();
    expect(forbiddenBy("script-src 'nonce-abc' 'strict-dynamic'", 'script', script, PAGE)).toBe('script-src');
  });

  test('a page in the open may name us without a scheme, and takes us over TLS', () => {
    expect(forbiddenBy('frame-src live.quay.example', 'frame', EMBED, 'http://www.quay.example/')).toBeNull();
  });
});

describe('a page of a website', () => {
  const EMPTY: ReadPage = { frames: [], scripts: [], policies: [] };
  const judged = (page: Partial<ReadPage>, more: Partial<Judged> = {}) =>
    judgePage({
      page: { ...EMPTY, ...page },
      pageAddress: PAGE,
      policy: '',
      origin: OURS,
      slugs: new Set(['evensong', 'sundays']),
      sites: null,
      ...more,
    });
  const frame = (src: string, widthPx: number | null = null) => ({ frames: [{ src, widthPx }] });
  const line = (slug: string | null, src = `${OURS}/embed.js`) => ({ scripts: [{ src, slug }] });

  test('shows it by a frame, or by our line', () => {
    expect(judged(frame(EMBED))).toEqual({ kind: 'shows', by: 'frame' });
    expect(judged(frame('//live.quay.example/embed/sundays?with=chat'))).toEqual({
      kind: 'shows',
      by: 'frame',
    });
    expect(judged(line('evensong'))).toEqual({ kind: 'shows', by: 'script' });
  });

  test('shows something else of ours, or nothing of ours', () => {
    expect(judged(frame(`${OURS}/embed/quiz-night`))).toEqual({ kind: 'other', slug: 'quiz-night' });
    expect(judged(frame('https://elsewhere.example/embed/evensong'))).toEqual({
      kind: 'not-there',
      hasScripts: false,
    });
    expect(judged(line(null, '/own.js'))).toEqual({ kind: 'not-there', hasScripts: true });
    expect(judged(frame('http://[broken'))).toEqual({ kind: 'not-there', hasScripts: false });
  });

  test('keeps it out by its own policy, in a header or in the page', () => {
    const forbids = { kind: 'page-forbids', directive: 'frame-src', origin: OURS };
    expect(judged(frame(EMBED), { policy: "frame-src 'self'" })).toEqual(forbids);
    expect(judged({ ...frame(EMBED), policies: ["frame-src 'self'"] })).toEqual(forbids);
    // The line needs both: itself, and the frame that it makes.
    expect(judged(line('evensong'), { policy: "frame-src 'self'" })).toEqual(forbids);
    expect(judged(line('evensong'), { policy: `script-src 'self'; frame-src ${OURS}` })).toMatchObject({
      directive: 'script-src',
    });
  });

  test('may not show it, takes nothing in without TLS, or leaves it no room', () => {
    expect(judged(frame(EMBED), { sites: { kind: 'only', hosts: ['other.example'] } })).toEqual({
      kind: 'we-forbid',
    });
    expect(judged(frame(EMBED), { sites: { kind: 'not', hosts: ['www.quay.example'] } })).toEqual({
      kind: 'we-forbid',
    });
    const open = 'http://live.quay.example';
    expect(judged(frame(`${open}/embed/evensong`), { origin: open })).toEqual({ kind: 'insecure' });
    expect(judged(frame(EMBED, 160))).toEqual({ kind: 'too-narrow', widthPx: 160 });
  });
});
