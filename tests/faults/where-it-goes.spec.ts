import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { access, openSides, seesMore, type Sides, until } from './installation.js';

const PLACE = 'lantern-quay-1';
let sides: Sides;

beforeAll(async () => {
  sides = await openSides();
});
afterAll(() => sides.browser.close());

interface Stream {
  readonly streamName: string;
  readonly isLive: boolean;
  readonly receivedBytes: number;
}
const received = async (): Promise<Stream> => {
  const streams = (await (await fetch(`${access.standins}/platform/streams`)).json()) as Stream[];
  return streams.find(({ streamName }) => streamName === PLACE)!;
};
const platform = (words: string): Promise<void> =>
  sides.outside
    .locator('article')
    .filter({ hasText: PLACE.slice(0, 6) })
    .getByRole('button', { name: words })
    .click();
const deskSays = (words: RegExp): Promise<true> =>
  until(() => sides.desk.getByText(words).first().isVisible(), `the desk to say ${words.source}`);

/** Nobody who watches here is held up by what the place does: that would last as long as it does. */
const viewersGoOn = (): Promise<void> => seesMore(sides.viewer, 6);

describe('a place that', () => {
  test('refuses the key is told in its own words, while everybody else goes on watching', async () => {
    await platform('Refuse the key');
    await deskSays(/This key is not valid any more/);
    await viewersGoOn();
    expect((await received()).isLive).toBe(false);
  });

  test('takes the connection and nothing more delays nobody', async () => {
    await platform('Take nothing any more');
    await until(async () => (await received()).isLive, 'the connection');
    const before = (await received()).receivedBytes;
    await viewersGoOn();
    expect((await received()).receivedBytes - before).toBeLessThan(500_000);
  });

  test('hangs up is called again, and gets the programme once it takes it', async () => {
    await platform('Hang up after 5 s');
    await deskSays(/closed the connection/);
    await platform('Take it');
    const before = (await received()).receivedBytes;
    await until(async () => (await received()).receivedBytes > before + 1_000_000, 'the programme');
    await viewersGoOn();
  });
});
