import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { ChatMessage } from '@heliphon/contracts/chat';
import { type DeskFacts, speak } from '../src/console/desk/spoken-line.js';
import { EMPTY_LOG, mergeMessages } from '../src/data/chat-log.js';

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

  test('while the film before the start plays, says when the picture comes, and whether it will', () => {
    const film = { ...onAir, filmLeftMs: 80_000 };
    expect(speak(film)).toMatchObject({
      seen: 'Viewers see the film before the start. The Pier camera comes in 1 min.',
      trouble: null,
    });
    expect(speak({ ...film, sourceSends: false })).toMatchObject({
      trouble: 'Pier camera sends no picture yet.',
      remedy: 'connect',
    });
  });

  test('where its ingest point has gone, says where the event goes on and the source has to send', () => {
    const strayed = { from: 'Quay House', to: 'Hill House' };
    expect(speak({ ...onAir, signalPresent: false, strayed })).toMatchObject({
      trouble: 'Quay House does not answer. The event goes on at Hill House: Pier camera has to send there.',
      remedy: 'connect',
    });
    expect(speak({ ...onAir, strayed }).trouble).toBeNull(); // it has come by itself
  });

  test.each<[string, DestinationState[], string]>([
    ['one place', [goingOut], 'Viewers see the Pier camera. A is getting it too.'],
    ['all places', [goingOut, goingOut], 'Viewers see the Pier camera. All places are getting it.'],
    [
      'some places',
      [goingOut, { state: 'waiting' }],
      'Viewers see the Pier camera. 1 of 2 places are getting it.',
    ],
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
    expect(speak({ ...onAir, places }).trouble).toBe('Our relay did not accept our key. 1 more in trouble.');
  });

  test('a picture that is gone comes before everything else', () => {
    const line = speak({ ...onAir, signalPresent: false, places: [{ name: 'Relay', state: refused }] });
    expect(line).toEqual({
      seen: 'Viewers see “The picture will be back”.',
      trouble: 'Pier camera sends nothing. The places are held open.',
      remedy: 'connect',
    });
  });

  test('nothing is claimed of a picture nobody hears of', () => {
    expect(speak({ ...onAir, signalPresent: null })).toMatchObject({
      trouble: 'We hear nothing of the picture just now.',
    });
  });

  test('silence is told', () => {
    expect(speak({ ...onAir, hasSound: false }).trouble).toBe('Pier camera sends no sound.');
  });

  test('before air the line says what people see, and whether the picture is missing', () => {
    expect(speak({ ...onAir, state: 'planned' })).toMatchObject({
      seen: 'People see the poster and the date.',
      trouble: null,
    });
    expect(speak({ ...onAir, state: 'doors', signalPresent: false })).toMatchObject({
      seen: 'People see the countdown, and may chat.',
      trouble: 'Pier camera sends no picture yet.',
      remedy: 'connect',
    });
    expect(speak({ ...onAir, state: 'doors', sourceName: null, signalPresent: false }).trouble).toBe(
      'The source sends no picture yet.',
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
    const log = mergeMessages(mergeMessages(EMPTY_LOG, [message('b', 2), message('a', 1)]), [
      message('b', 2),
      message('c', 3),
    ]);
    expect(log.messages.map(({ id }) => id)).toEqual(['a', 'b', 'c']);
    expect(log.seq).toBe(3);
  });

  test('a message that is hidden later stays where it was said', () => {
    const log = mergeMessages(EMPTY_LOG, [message('a', 1), message('b', 2)]);
    const hidden = mergeMessages(log, [message('a', 3, { atMs: 1, text: null, hiddenBy: '' })]);
    expect(hidden.messages.map(({ id, text }) => [id, text])).toEqual([
      ['a', null],
      ['b', 'text of b'],
    ]);
  });

  test('old news changes nothing', () => {
    const log = mergeMessages(EMPTY_LOG, [message('a', 5, { text: 'new' })]);
    expect(mergeMessages(log, [message('a', 2, { text: 'old' })]).messages[0]!.text).toBe('new');
    expect(mergeMessages(log, [])).toBe(log);
  });

  test('in whatever order and however often news comes, the log is the same', () => {
    const news = fc.array(
      fc.record({ id: fc.constantFrom('a', 'b', 'c', 'd'), seq: fc.integer({ min: 1, max: 20 }) }),
      { maxLength: 15 },
    );
    fc.assert(
      fc.property(news, (arrivals) => {
        const all = arrivals.map(({ id, seq }) => message(id, seq, { atMs: id.charCodeAt(0) }));
        const forwards = all.reduce((log, each) => mergeMessages(log, [each]), EMPTY_LOG);
        const backwards = [...all].reverse().reduce((log, each) => mergeMessages(log, [each]), EMPTY_LOG);
        const states = (log: typeof forwards) => log.messages.map(({ id, seq }) => `${id} ${seq}`);
        expect(states(forwards)).toEqual(states(backwards));
        expect(forwards.seq).toBe(backwards.seq);
      }),
    );
  });
});
