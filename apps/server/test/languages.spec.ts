import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { WELSH } from '@heliphon/core/languages/welsh';
import type { SpokenLanguage } from '@heliphon/core/languages/words';
import type { HouseView } from '@heliphon/contracts/house';
import type { LanguagesView, LanguageView, TriedLanguage } from '@heliphon/contracts/languages';
import type { Problem } from '@heliphon/contracts/problem';
import type { MailBox } from '../../standins/src/mail/mail-box.js';
import { type Answer, type HouseClient, type ServerDriver, startWithMail, until } from './driver.js';

let server: ServerDriver;
let mail: MailBox;
let stop: () => Promise<void>;
let house: HouseClient;
beforeAll(
  async () => ({ server, mail, stop } = await startWithMail({ publicUrl: 'https://live.quay.example' })),
);
afterAll(() => stop());
beforeEach(async () => (house = await server.house()));

const speak = async (language: string): Promise<Answer<HouseView & Problem>> => {
  const { version } = (await house.get<HouseView>('/api/house')).body;
  return house.patch<HouseView & Problem>('/api/house', version, { language });
};
const file = (words: object, over: object = {}): object => ({
  format: 'heliphon.language',
  version: 1,
  tag: 'br',
  name: 'Brezhoneg',
  words,
  ...over,
});
const keep = (given: object, by = house) => by.ask<LanguageView & Problem>('PUT', '/api/languages', given);
const listed = async () => (await house.get<LanguagesView>('/api/languages')).body.languages;
/** What a page says, as it comes. */
async function pageOf(path: string): Promise<{ html: string; spoken: SpokenLanguage }> {
  const html = await (await fetch(server.url + path)).text();
  const words = /<script type="application\/json" id="words">(.*?)<\/script>/.exec(html)![1]!;
  return { html, spoken: JSON.parse(words) as SpokenLanguage };
}

describe('the language of the pages', () => {
  test('is that of the house, on watch page, embed, channel and invitation', async () => {
    const event = await house.event(600, 660);
    const channel = (await house.post<{ slug: string }>('/api/channels', { name: 'Chapel' })).body;
    const pages = [`/watch/${event.slug}`, `/embed/${event.slug}`, `/channel/${channel.slug}`];
    for (const path of pages) expect((await pageOf(path)).html).toContain('<html lang="en-GB" dir="ltr">');
    expect((await speak('cy')).status).toBe(200);
    await until(async () => (await pageOf(pages[0]!)).spoken.tag === 'cy', 'Welsh');
    for (const path of pages) {
      const { html, spoken } = await pageOf(path);
      expect(html).toContain('<html lang="cy" dir="ltr">');
      expect(html).toContain(`<noscript>${WELSH['page.needsScript']}`);
      expect(spoken.words['event.onAir']).toBe(WELSH['event.onAir']);
    }
    expect((await pageOf('/watch/nothing-is-here')).spoken.tag).toBe('en-GB');
    const wish = { list: 'Ines <ines@quay.example>', devicesMost: 2, sendsLetters: true };
    await house.post(`/api/watching/event/${event.id}/invited`, wish);
    const letter = await until(() => mail.letters.find(({ to }) => to === 'ines@quay.example'), 'the letter');
    expect(letter.subject).toBe(`Eich gwahoddiad i wylio: ${event.title}`);
    expect(letter.text).toContain('Annwyl Ines,');
  });

  test('one that nobody knows is refused', async () => {
    expect((await speak('br')).body.code).toBe('no-such-language');
  });
});

describe('a language of the house’s own', () => {
  test('is tried without being kept, then kept, spoken, and stands in the place of what was there', async () => {
    const given = file({ 'event.onAir': 'War-eeun bremañ', 'event.wasOn': 'E oa {nothing}' });
    const tried = (await house.post<TriedLanguage>('/api/languages/try', given)).body;
    expect(tried.spoken.words['event.onAir']).toBe('War-eeun bremañ');
    expect(tried.remarks).toContainEqual({ kind: 'unknown-value', key: 'event.wasOn', value: 'nothing' });
    expect(await listed()).toHaveLength(2);
    const kept = (await keep(given)).body;
    expect(await listed()).toContainEqual(kept);
    const event = await house.event(600, 660);
    await speak('br');
    const { spoken } = await pageOf(`/watch/${event.slug}`);
    expect([spoken.words['event.onAir'], spoken.words['event.openPage']]).toEqual([
      'War-eeun bremañ',
      'Open the page',
    ]);
    await keep(file({ 'event.onAir': 'Bremañ' }));
    await until(
      async () => (await pageOf(`/watch/${event.slug}`)).spoken.words['event.onAir'] === 'Bremañ',
      'the new words',
    );
    expect(await listed()).toHaveLength(3);
  });

  test('runs from right to left where its script does', async () => {
    await keep(file({ 'event.onAir': 'على الهواء الآن' }, { tag: 'ar', name: 'العربية' }));
    await speak('ar');
    const event = await house.event(600, 660);
    expect((await pageOf(`/watch/${event.slug}`)).html).toContain('<html lang="ar" dir="rtl">');
  });

  test('is a file to go on from, whole, with English where it has nothing', async () => {
    await keep(file({ 'event.onAir': 'War-eeun bremañ' }));
    const got = (await house.get<{ words: Record<string, string> }>('/api/languages/files/br')).body;
    expect([got.words['event.onAir'], got.words['event.openPage']]).toEqual([
      'War-eeun bremañ',
      'Open the page',
    ]);
    expect((await keep(got)).body).toMatchObject({ tag: 'br', missing: 0 });
    expect((await house.get('/api/languages/files/xx')).status).toBe(404);
  });

  test('is not taken away from under the pages, and comes back by undo', async () => {
    const { ownId } = (await keep(file({ 'event.onAir': 'War-eeun bremañ' }))).body;
    await speak('br');
    expect((await house.delete<Problem>(`/api/languages/${ownId}`)).body.code).toBe('language-in-use');
    await speak('en-GB');
    expect((await house.delete(`/api/languages/${ownId}`)).status).toBe(204);
    expect(await listed()).toHaveLength(2);
    await house.post('/api/happenings/undo-last', { subjectId: ownId });
    expect(await listed()).toContainEqual(expect.objectContaining({ tag: 'br', name: 'Brezhoneg' }));
  });

  test('may stand in the place of ours, and ours is there again without it', async () => {
    const { ownId } = (
      await keep(file({ ...WELSH, 'event.onAir': 'Ar yr awyr' }, { tag: 'cy', name: 'Cymraeg' }))
    ).body;
    await speak('cy');
    expect((await listed()).filter(({ tag }) => tag === 'cy')).toMatchObject([{ ownId }]);
    expect((await house.delete(`/api/languages/${ownId}`)).status).toBe(204);
    expect((await listed()).filter(({ tag }) => tag === 'cy')).toMatchObject([{ ownId: null }]);
  });

  test('is refused with what is wrong, kept by owners alone, and of no other house', async () => {
    expect((await keep({ hello: 'there' })).body.code).toBe('language-no-file');
    expect((await keep(file({}, { tag: '..' }))).body.code).toBe('language-tag');
    for (let n = 0; n < 10; n++) await keep(file({}, { tag: `en-x-own${n}` }));
    expect((await keep(file({}))).body.code).toBe('languages-too-many');
    const { ownId } = (await keep(file({}, { tag: 'en-x-own1' }))).body;
    const other = await server.house();
    expect((await other.delete(`/api/languages/${ownId}`)).status).toBe(404);
    expect((await other.get('/api/languages/files/en-x-own1')).status).toBe(404);
  });
});
