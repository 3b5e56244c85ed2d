import { describe, expect, test } from '@jest/globals';
import { countedAddress, embeddingSite } from '../src/player/counted-address.js';

/** The window of a page of ours, within another website's or by itself. */
function page(isEmbedded: boolean): Parameters<typeof embeddingSite>[0] {
  const location = { host: 'house.example' } as Location;
  const own = { location } as Window;
  return Object.assign(own, { parent: isEmbedded ? ({} as Window) : own });
}

describe('a viewer is counted', () => {
  test('by where they watch: the website that embeds the page, or a player of ours', () => {
    expect(embeddingSite(page(true), 'https://parish.example/live?x=1')).toBe('parish.example');
    expect(embeddingSite(page(true), 'https://house.example/')).toBeNull();
    expect(embeddingSite(page(true), '')).toBe('');
    expect(embeddingSite(page(false), 'https://search.example/')).toBeNull();
  });

  test('in the address that is asked for', () => {
    expect(countedAddress('/a.m3u8', 'v1', null)).toBe('/a.m3u8?v=v1');
    expect(countedAddress('/a.m3u8?g=1', 'v1', 'parish.example:8080')).toBe(
      '/a.m3u8?g=1&v=v1&w=parish.example%3A8080',
    );
  });
});
