import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { access, openSides, positionIn, type Sides, until } from './installation.js';

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
  until(() => sides.desk.getByText(words).first().isVisible(), `the desk to say ${words.source}`, 50_000);

/** Nobody who watches here notices: six seconds of picture pass in about six seconds. */
async function viewersGoOn(): Promise<void> {
  const from = await positionIn(sides.viewer);
  const startedAtMs = performance.now();
  await until(async () => (await positionIn(sides.viewer)) >= from + 6, 'six seconds of picture');
  expect(performance.now() - startedAtMs).toBeLessThan(9000);
}

describe('a place that', () => {
  test('refuses the key is told in its own words, while everybody else goes on watching', async () => {
    await platform('Refuse the key');
    await deskSays(/This key is not valid any more/);
    await viewersGoOn();
    expect((await received()).isLive).toBe(false);
  });

  test('takes the connection and nothing more delays nobody', async () => {
    await platform('Take nothing any more');
    await until(async () => (await received()).isLive, 'the connection', 50_000);
    const before = (await received()).receivedBytes;
    await viewersGoOn();
    expect((await received()).receivedBytes - before).toBeLessThan(500_000);
  });

  test('hangs up is called again, and gets the programme once it takes it', async () => {
    await platform('Hang up after 5 s');
    await deskSays(/broke off the connection/);
    await platform('Take it');
    const before = (await received()).receivedBytes;
    await until(async () => (await received()).receivedBytes > before + 1_000_000, 'the programme', 60_000);
    await viewersGoOn();
  });
});
