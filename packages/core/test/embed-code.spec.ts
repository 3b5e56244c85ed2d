import { describe, expect, test } from '@jest/globals';
import { embedCode, type EmbedOptions, readEmbedOptions } from '../src/delivery/embed-code.js';

const code = (options: Partial<EmbedOptions>, title = 'Evensong') =>
  embedCode('https://live.quay.example', 'evensong', title, {
    isCountdown: false,
    extras: [],
    widthPx: null,
    ...options,
  });

describe('the code of an embed', () => {
  test('fits its room by itself, and has room for picture and bar', () => {
    const { address, frame, script } = code({});
    expect(address).toBe('https://live.quay.example/embed/evensong');
    expect(frame).toContain('width="100%" height="546"');
    expect(script).toBe(
      '<script async src="https://live.quay.example/embed.js" data-event="evensong"></script>',
    );
  });

  test('says what stands with the picture, and how wide it is', () => {
    const { address, frame, script } = code({ extras: ['title', 'chat'], widthPx: 640 });
    expect(address).toMatch(/\?with=title,chat$/);
    expect(frame).toMatch(/width="640" height="932"/);
    expect(script).toContain('data-with="title,chat" data-width="640"');
    expect(readEmbedOptions(new URL(address).search)).toEqual({
      isCountdown: false,
      extras: ['title', 'chat'],
    });
  });

  test('of the countdown alone shows nothing beside it', () => {
    const { address, script } = code({ isCountdown: true, extras: ['chat'] });
    expect(address).toMatch(/\?only=countdown$/);
    expect(script).toContain('data-only="countdown"');
    expect(readEmbedOptions(new URL(address).search)).toEqual({ isCountdown: true, extras: [] });
  });

  test('a title closes nothing that it stands in', () => {
    expect(code({}, '"><script>alert(1)</script>').frame).not.toContain('<script>');
  });

  test('wishes that mean nothing are passed over', () => {
    expect(readEmbedOptions('?only=tickets&with=chat,ads,,chat')).toEqual({
      isCountdown: false,
      extras: ['chat'],
    });
  });
});
