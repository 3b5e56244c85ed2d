import { describe, expect, test } from '@jest/globals';
import { streamOf, withGrantOf } from '../src/player/granted-address.js';

const at = (grant: string, file: string): string =>
  `http://media.example:4610/p/0198a000-0000-7000-8000-000000000001/${grant}/${file}`;

describe('an address with its grant', () => {
  test('plays the same, whatever grant it carries', () => {
    expect(streamOf(at('v1.guarded.a.b.k.x', 'live.m3u8'))).toBe(
      streamOf(at('v1.guarded.c.d.k.y', 'live.m3u8')),
    );
    expect(streamOf(at('v1.public.a.b.k.x', 'live.m3u8'))).not.toBe(
      streamOf(at('v1.public.a.b.k.x', 'replay.m3u8')),
    );
    const elsewhere = at('v1.public.a.b.k.x', 'live.m3u8').replace('media', 'hill');
    expect(streamOf(elsewhere)).not.toBe(streamOf(at('v1.public.a.b.k.x', 'live.m3u8')));
  });

  test('takes the newest, in whatever is asked for', () => {
    const latest = at('v1.guarded.c.d.k.y', 'live.m3u8');
    expect(withGrantOf(at('v1.guarded.a.b.k.x', 'r/240p/part-7.m4s'), latest)).toBe(
      at('v1.guarded.c.d.k.y', 'r/240p/part-7.m4s'),
    );
    expect(withGrantOf('/posters/a.jpg', latest)).toBe('/posters/a.jpg');
    expect(withGrantOf(at('v1.guarded.a.b.k.x', 'live.m3u8'), '/broken')).toBe(
      at('v1.guarded.a.b.k.x', 'live.m3u8'),
    );
  });
});
