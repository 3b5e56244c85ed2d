import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import { type Fault, FAULT_KINDS, type FaultKind, NOTICED_NOTHING } from '@heliphon/core/faults/fault';
import { faultSentences, noticedSentence } from '@heliphon/contracts/fault-words';
import type { ChatMessage } from '@heliphon/contracts/chat';
import { type DeskFacts, speak } from '../src/console/desk/spoken-line.js';
import { EMPTY_LOG, takePage, takePushed } from '../src/data/chat-log.js';

const goingOut: DestinationState = { state: 'going-out', sinceMs: 0 };
const fault = (kind: FaultKind, detail: Fault['detail'] = {}, fromMs = 0): Fault => ({
  kind,
  subjectId: '',
  detail,
  fromMs,
  toMs: null,
  noticed: NOTICED_NOTHING,
  viewerMs: 0,
});
const lostLine = fault('encoder-gone', { ending: 'connection-broke' });
const refused = fault('place-refused');
const onAir: DeskFacts = {
  state: 'air',
  sourceName: 'Pier camera',
  sourceSends: true,
  viewersHave: 'picture',
  strayed: null,
  filmLeftMs: null,
  places: [],
  faults: [],
  nameOf: () => ({ source: 'Pier camera', place: 'Our relay' }),
};

describe('the spoken line', () => {
  test('says what viewers see when all is well', () => {
    expect(speak(onAir)).toEqual({
      seen: 'Viewers see the Pier camera.',
      trouble: null,
      help: null,
      remedy: null,
    });
  });

  test('while the opening film plays, says when the picture comes, and whether it will', () => {
    const film: DeskFacts = { ...onAir, viewersHave: 'film', filmLeftMs: 80_000 };
    expect(speak(film)).toMatchObject({
      seen: 'Viewers see the opening film. The Pier camera follows in 1 min.',
      trouble: null,
    });
    expect(speak({ ...film, sourceSends: false })).toMatchObject({
      trouble: 'Pier camera is not sending a picture yet.',
      remedy: 'connect',
    });
  });

  test('says what viewers have instead of the picture, why, and what helps', () => {
    expect(speak({ ...onAir, viewersHave: 'slate', faults: [lostLine] })).toEqual({
      seen: 'Viewers see the slate.',
      trouble: 'Pier camera has lost its connection.',
      help: 'Check its internet line. It comes back by itself once the line does.',
      remedy: 'connect',
    });
    expect(speak({ ...onAir, viewersHave: 'nothing' }).seen).toBe('Viewers see “The picture will be back”.');
  });

  test('where its ingest point has gone, says where the event goes on and the source has to send', () => {
    const strayed = { from: 'Quay House', to: 'Hill House' };
    expect(speak({ ...onAir, viewersHave: 'slate', faults: [lostLine], strayed })).toMatchObject({
      trouble: 'Quay House is not responding. The event carries on at Hill House: point Pier camera there.',
      remedy: 'connect',
    });
    expect(speak({ ...onAir, strayed }).trouble).toBeNull(); // it has come by itself
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
    const places = ['Our relay', 'Town'].map((name) => ({ name, state: goingOut }));
    expect(speak({ ...onAir, places, faults: [refused] })).toMatchObject({
      trouble: 'Our relay did not accept our key. The others are fine.',
      help: 'Put in a new key.',
      remedy: 'places',
    });
  });

  test('the heaviest of several faults is told, and that there are more', () => {
    const faults = [refused, fault('too-loud'), lostLine];
    expect(speak({ ...onAir, viewersHave: 'slate', faults }).trouble).toBe(
      'Pier camera has lost its connection. 2 more faults.',
    );
    expect(speak({ ...onAir, faults: [refused, fault('place-closed', {}, 5)] }).trouble).toBe(
      'Our relay did not accept our key. One more fault.',
    );
  });

  test('nothing is claimed of a picture nobody hears of', () => {
    expect(speak({ ...onAir, viewersHave: null })).toMatchObject({
      trouble: 'We have no news of the picture at the moment.',
    });
  });

  test('before air the line says what people see, and whether the picture is missing', () => {
    expect(speak({ ...onAir, state: 'planned' })).toMatchObject({
      seen: 'People see the poster and a countdown.',
      trouble: null,
    });
    expect(speak({ ...onAir, state: 'doors', sourceSends: false })).toMatchObject({
      seen: 'People see the countdown and can chat.',
      trouble: 'Pier camera is not sending a picture yet.',
      remedy: 'connect',
    });
    expect(speak({ ...onAir, state: 'doors', sourceName: null, sourceSends: false }).trouble).toBe(
      'The source is not sending a picture yet.',
    );
  });

  test('afterwards it says so', () => {
    expect(speak({ ...onAir, state: 'kept' }).seen).toBe('People can watch the replay.');
    expect(speak({ ...onAir, state: 'cancelled' }).seen).toBe('This event will not take place.');
  });
});

describe('what is said of a fault', () => {
  const names = { source: 'Pier camera', place: 'Our relay' };
  /** All that any of the rules tells. */
  const DETAIL: Fault['detail'] = {
    ending: 'stands',
    reason: 'disk-full',
    lateMs: 2500,
    ratePercent: 20,
    fps: 18.5,
    expectedFps: 30,
    seconds: 10,
    aheadMs: 700,
    from: '1280x720, 48000 Hz 2',
    to: '640x360, 48000 Hz 2',
    names: '720p',
  };

  test.each(FAULT_KINDS)('%s: what it is, what it was, and what helps', (kind) => {
    for (const sentence of Object.values(faultSentences(fault(kind, DETAIL), names))) {
      expect(sentence).toMatch(/^[A-Z].*\.$/);
      expect(sentence).not.toMatch(/undefined|NaN/);
    }
  });

  test('has its figures in it', () => {
    const now = (kind: FaultKind, detail: Fault['detail']): string =>
      faultSentences(fault(kind, detail), names).now;
    expect(now('line-weak', { lateMs: 2500, ratePercent: 90 })).toBe(
      'The line from Pier camera is weak, data arrives 2.5 s late.',
    );
    expect(now('line-weak', { lateMs: 100, ratePercent: 30 })).toBe(
      'The line from Pier camera is weak, only 30 % of the usual rate arrives.',
    );
    expect(now('sound-offset', { aheadMs: -900 })).toBe('The sound is 0.9 s behind the picture.');
    expect(now('format-changed', { from: '1280x720, 48000 Hz 2', to: '640x360, 48000 Hz 1' })).toBe(
      'Pier camera has changed its picture or sound: 640 × 360, 48000 Hz mono.',
    );
  });

  test('tells a media node that starts again from an event that goes on at another', () => {
    const names = { source: 'Pier camera', place: 'Our relay' };
    expect(faultSentences(fault('node-away'), names).now).toContain('is starting again');
    const { now, then } = faultSentences(fault('node-away', { moved: 1 }), names);
    expect(now).toContain('goes on at another');
    expect(then).toContain('Every place was connected again once.');
  });

  test('says what viewers noticed', () => {
    expect(noticedSentence(lostLine)).toBe('Viewers noticed nothing.');
    const noticed = { ...NOTICED_NOTHING, slateMs: 12_000, nothingMs: 400 };
    expect(noticedSentence({ noticed })).toBe('Viewers saw the slate for 12 s and had no picture for 1 s.');
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
