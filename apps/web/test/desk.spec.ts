import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { ChatMessage } from '@heliphon/contracts/chat';
import { type DeskFacts, speak } from '../src/console/desk/spoken-line.js';
import { EMPTY_LOG, takePage, takePushed } from '../src/data/chat-log.js';

const goingOut: DestinationState = { state: 'going-out', sinceMs: 0 };
const refused: DestinationState = {
  state: 'troubled',
  reason: 'refused',
  said: null,
  attempt: 1,
  nextTryAtMs: 0,
};
const onAir: DeskFacts = {
  state: 'air',
  sourceName: 'Pier camera',
  signalPresent: true,
  slateStands: false,
  strayed: null,
  filmLeftMs: null,
  sourceSends: true,
  hasSound: true,
  recordingStopped: null,
  loudness: null,
  places: [],
};

describe('the spoken line', () => {
  test('says what viewers see when all is well', () => {
    expect(speak(onAir)).toEqual({ seen: 'Viewers see the Pier camera.', trouble: null, remedy: null });
  });

  test('while the opening film plays, says when the picture comes, and whether it will', () => {
    const film = { ...onAir, filmLeftMs: 80_000 };
    expect(speak(film)).toMatchObject({
      seen: 'Viewers see the opening film. The Pier camera follows in 1 min.',
      trouble: null,
    });
    expect(speak({ ...film, sourceSends: false })).toMatchObject({
      trouble: 'Pier camera is not sending a picture yet.',
      remedy: 'connect',
    });
  });

  test('where its ingest point has gone, says where the event goes on and the source has to send', () => {
    const strayed = { from: 'Quay House', to: 'Hill House' };
    expect(speak({ ...onAir, signalPresent: false, strayed })).toMatchObject({
      trouble: 'Quay House is not responding. The event carries on at Hill House: point Pier camera there.',
      remedy: 'connect',
    });
    expect(speak({ ...onAir, strayed }).trouble).toBeNull(); // it has come by itself
    expect(speak({ ...onAir, signalPresent: false, slateStands: true })).toMatchObject({
      seen: 'Viewers see the slate.',
      remedy: 'connect',
    });
  });

  test.each<[string, DestinationState[], string]>([
    ['one place', [goingOut], 'Viewers see the Pier camera. A has it too.'],
    ['all places', [goingOut, goingOut], 'Viewers see the Pier camera. Every place has it.'],
    ['some places', [goingOut, { state: 'waiting' }], 'Viewers see the Pier camera. 1 of 2 places have it.'],
  ])('counts %s', (_name, states, seen) => {
    const places = states.map((state, index) => ({ name: 'ABC'[index]!, state }));
    expect(speak({ ...onAir, places }).seen).toBe(seen);
  });

  test('a place in trouble is named, and that the others are fine', () => {
    const places = [
      { name: 'Our relay', state: refused },
      { name: 'Town', state: goingOut },
    ];
    expect(speak({ ...onAir, places })).toMatchObject({
      trouble: 'Our relay did not accept our key. The others are fine.',
      remedy: 'places',
    });
  });

  test('two places in trouble are counted', () => {
    const places = [
      { name: 'Our relay', state: refused },
      { name: 'Town', state: refused },
    ];
    expect(speak({ ...onAir, places }).trouble).toBe(
      'Our relay did not accept our key. 1 more with problems.',
    );
  });

  test('a picture that is gone comes before everything else', () => {
    const line = speak({ ...onAir, signalPresent: false, places: [{ name: 'Relay', state: refused }] });
    expect(line).toEqual({
      seen: 'Viewers see “The picture will be back”.',
      trouble: 'Pier camera is not sending anything. Places stay connected.',
      remedy: 'connect',
    });
  });

  test('nothing is claimed of a picture nobody hears of', () => {
    expect(speak({ ...onAir, signalPresent: null })).toMatchObject({
      trouble: 'We have no news of the picture at the moment.',
    });
  });

  test('silence is told', () => {
    expect(speak({ ...onAir, hasSound: false }).trouble).toBe('Pier camera is not sending any sound.');
  });

  test('before air the line says what people see, and whether the picture is missing', () => {
    expect(speak({ ...onAir, state: 'planned' })).toMatchObject({
      seen: 'People see the poster and a countdown.',
      trouble: null,
    });
    expect(speak({ ...onAir, state: 'doors', signalPresent: false })).toMatchObject({
      seen: 'People see the countdown and can chat.',
      trouble: 'Pier camera is not sending a picture yet.',
      remedy: 'connect',
    });
    expect(speak({ ...onAir, state: 'doors', sourceName: null, signalPresent: false }).trouble).toBe(
      'The source is not sending a picture yet.',
    );
  });

  test('afterwards it says so', () => {
    expect(speak({ ...onAir, state: 'kept' }).seen).toBe('People can watch the replay.');
    expect(speak({ ...onAir, state: 'cancelled' }).seen).toBe('This event will not take place.');
  });
});

describe('the chat log', () => {
  const message = (id: string, seq: number, over: Partial<ChatMessage> = {}): ChatMessage => ({
    id,
    seq,
    author: 'Sib',
    authorId: null,
    byHouse: false,
    text: `text of ${id}`,
    atMs: seq,
    hiddenBy: null,
    ...over,
  });

  test('shows each message once, in the order of speaking', () => {
    const log = takePushed(takePushed(EMPTY_LOG, [message('b', 2), message('a', 1)]), [
      message('b', 2),
      message('c', 3),
    ]);
    expect(log.messages.map(({ id }) => id)).toEqual(['a', 'b', 'c']);
    expect(log.seq).toBe(3);
  });

  test('a message that is hidden later stays where it was said', () => {
    const log = takePushed(EMPTY_LOG, [message('a', 1), message('b', 2)]);
    const hidden = takePushed(log, [message('a', 3, { atMs: 1, text: null, hiddenBy: '' })]);
    expect(hidden.messages.map(({ id, text }) => [id, text])).toEqual([
      ['a', null],
      ['b', 'text of b'],
    ]);
  });

  test('old news changes nothing', () => {
    const log = takePushed(EMPTY_LOG, [message('a', 5, { text: 'new' })]);
    expect(takePushed(log, [message('a', 2, { text: 'old' })]).messages[0]!.text).toBe('new');
    expect(takePushed(log, [])).toBe(log);
  });

  test('in whatever order and however often news comes, the log is the same', () => {
    const news = fc.array(
      fc.record({ id: fc.constantFrom('a', 'b', 'c', 'd'), seq: fc.integer({ min: 1, max: 20 }) }),
      { maxLength: 15 },
    );
    fc.assert(
      fc.property(news, (arrivals) => {
        const all = arrivals.map(({ id, seq }) => message(id, seq, { atMs: id.charCodeAt(0) }));
        const forwards = all.reduce((log, each) => takePushed(log, [each]), EMPTY_LOG);
        const backwards = [...all].reverse().reduce((log, each) => takePushed(log, [each]), EMPTY_LOG);
        const states = (log: typeof forwards) => log.messages.map(({ id, seq }) => `${id} ${seq}`);
        expect(states(forwards)).toEqual(states(backwards));
      }),
    );
  });

  const page = (after: number, to: number, hasMore = false) => ({
    messages: Array.from({ length: to - after }, (_, index) =>
      message(`m${after + index}`, after + index + 1),
    ),
    seq: to,
    hasMore,
  });

  test('after a break everything is asked for that was said since the last that is whole, page by page', () => {
    let log = takePage(EMPTY_LOG, page(0, 2));
    for (let seq = 3; seq <= 302; seq += 1) log = takePushed(log, [message(`m${seq - 1}`, seq)]);
    expect(log).toMatchObject({ seq: 302, hasGap: false });
    log = takePushed(log, [message('m799', 800)]);
    expect(log).toMatchObject({ seq: 302, hasGap: true });
    log = takePage(log, page(302, 502, true));
    expect(log).toMatchObject({ seq: 502, hasGap: true });
    log = takePage(takePage(log, page(502, 702, true)), page(702, 800));
    expect(log).toMatchObject({ seq: 800, hasGap: false });
    expect(log.messages.at(-1)!.id).toBe('m799');
    expect(log.messages).toHaveLength(500);
  });

  test('what was pushed beyond an answer on its way is asked for too, and an empty answer ends the asking', () => {
    const log = takePage(takePushed(EMPTY_LOG, [message('m9', 10)]), page(0, 8));
    expect(log).toMatchObject({ seq: 8, hasGap: true });
    expect(takePage(log, page(8, 10))).toMatchObject({ seq: 10, hasGap: false });
    expect(takePage(log, page(8, 8))).toMatchObject({ seq: 8, hasGap: false });
  });

  test('whatever is lost on the way, asking for what comes after the whole brings all of it', () => {
    const said = page(0, 60).messages;
    const answer = (after: number) => {
      const messages = said.filter(({ seq }) => seq > after).slice(0, 7);
      return {
        messages,
        seq: Math.max(after, ...messages.map(({ seq }) => seq)),
        hasMore: messages.length === 7,
      };
    };
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 59, maxLength: 59 }), (arrives) => {
        let log = takePushed(EMPTY_LOG, [said[0]!, ...said.slice(1).filter((_, index) => arrives[index])]);
        while (log.hasGap) log = takePage(log, answer(log.seq));
        const last = arrives.lastIndexOf(true) + 2;
        expect(log.messages.slice(0, last).map(({ seq }) => seq)).toEqual(
          said.slice(0, last).map(({ seq }) => seq),
        );
      }),
    );
  });
});
