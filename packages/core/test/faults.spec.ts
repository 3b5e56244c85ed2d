import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { DestinationState } from '../src/destinations/destination-state.js';
import { type Fault, worstFirst } from '../src/faults/fault.js';
import type { FaultFacts } from '../src/faults/fault-rules.js';
import { endFaults, NOTHING_WATCHED, openFaults, watchFaults } from '../src/faults/fault-watch.js';
import type { LoudnessReport } from '../src/loudness/loudness-meter.js';
import { NO_TIMING, type TimingReport } from '../src/signal/source-timing.js';
import type { SourceReport } from '../src/signal/source-report.js';

type Video = NonNullable<SourceReport['video']>;

const heardWell: LoudnessReport = {
  momentaryLufs: -23,
  shortTermLufs: -23,
  integratedLufs: -23,
  truePeakDbtp: -6,
  recentPeakDbtp: -6,
  silentMs: 0,
};
const videoWell: Video = {
  codec: 'avc1.64001f',
  widthPx: 1280,
  heightPx: 720,
  frameRateFps: 30,
  announcedFps: 30,
  bitrateBps: 4_000_000,
  keyframeIntervalMs: 2000,
  timing: { ...NO_TIMING, encodedFps: 30, soundAheadMs: 20 },
  blackMs: 0,
  frozenMs: 0,
};
const well: SourceReport = {
  sinceMs: -60_000,
  remoteAddress: '10.0.0.1',
  protocol: 'rtmp',
  transport: null,
  encoder: null,
  video: videoWell,
  audio: { codec: 'mp4a.40.2', sampleRateHz: 48_000, channels: 2, bitrateBps: 128_000, loudness: heardWell },
};
const seen = (video: Partial<Video>): SourceReport => ({ ...well, video: { ...videoWell, ...video } });
const timed = (timing: Partial<TimingReport>): SourceReport =>
  seen({ timing: { ...videoWell.timing, ...timing } });
const heard = (loudness: Partial<LoudnessReport>): SourceReport => ({
  ...well,
  audio: { ...well.audio!, loudness: { ...heardWell, ...loudness } },
});

type Moment = Partial<Omit<FaultFacts, 'nowMs'>>;
const sending = (report: SourceReport): Moment => ({
  source: { sourceId: 'pier', isAway: false, ending: null, report },
});
const gone: Moment = {
  source: { sourceId: 'pier', isAway: true, ending: 'connection-broke', report: null },
  viewersHave: 'slate',
};
const place = (state: DestinationState): Moment => ({ destinations: [{ destinationId: 'relay', state }] });
const refused: Moment = place({
  state: 'troubled',
  reason: 'refused',
  said: 'bad key',
  attempt: 1,
  nextTryAtMs: 0,
});

interface Stretch {
  readonly seconds: number;
  readonly moment: Moment;
}
const forSeconds = (seconds: number, moment: Moment = {}): Stretch => ({ seconds, moment });

/** What the watch tells, and what is still open, of stretches that follow one another; a step a second from air on. */
function follow(stretches: readonly Stretch[]): { told: Fault[]; open: Fault[]; ended: Fault[] } {
  let watch = NOTHING_WATCHED;
  let nowMs = 0;
  const told: Fault[] = [];
  for (const { seconds, moment } of stretches)
    for (let second = 0; second < seconds; second += 1) {
      nowMs += 1000;
      const facts: FaultFacts = {
        nowMs,
        airAtMs: 0,
        viewersHave: 'picture',
        viewers: 10,
        takenUp: null,
        replaced: null,
        turn: null,
        destinations: [],
        recordingStopped: null,
        shedSizes: [],
        load: 0.2,
        source: sending(well).source!,
        ...moment,
      };
      const next = watchFaults(watch, facts);
      watch = next.watch;
      told.push(...next.changed);
    }
  return { told, open: openFaults(watch), ended: endFaults(watch) };
}
const inWords = ({ kind, fromMs, toMs }: Fault): string =>
  `${kind} ${fromMs / 1000}–${toMs === null ? '' : toMs / 1000}`;
const toldOf = (...stretches: readonly Stretch[]): string[] => follow(stretches).told.map(inWords);

describe('one fault for one cause', () => {
  test('an encoder that goes and comes back is one fault, from the first second to the last', () => {
    expect(toldOf(forSeconds(60), forSeconds(12, gone), forSeconds(10))).toEqual([
      'encoder-gone 61–',
      'encoder-gone 61–72',
    ]);
  });

  test('why it went stays what it was while it comes back, and is set right when more is known', () => {
    const hangs: Moment = { ...gone, source: { ...gone.source!, report: well } };
    const isBack: Moment = { ...sending(well), viewersHave: 'slate' };
    const { ended } = follow([
      forSeconds(60),
      forSeconds(2, hangs),
      forSeconds(5, gone),
      forSeconds(3, isBack),
    ]);
    expect(ended).toMatchObject([{ detail: { ending: 'connection-broke' } }]);
  });

  test('an encoder that connects again and has not sent a picture yet is not one that hangs', () => {
    const connected = (sinceMs: number): Moment => ({
      ...gone,
      source: { ...gone.source!, ending: null, report: { ...well, sinceMs, video: null } },
    });
    const reasonAfter = (seconds: number) =>
      follow([forSeconds(60), forSeconds(2, gone), forSeconds(seconds, connected(62_500))]).ended[0]!.detail;
    expect(reasonAfter(4)).toEqual({ ending: 'connection-broke' });
    expect(reasonAfter(10)).toEqual({ ending: 'stands' });
  });

  test('an encoder that sends while its first picture is on the way to viewers is not gone', () => {
    expect(toldOf(forSeconds(3, { ...sending(well), viewersHave: 'nothing' }), forSeconds(10))).toEqual([]);
  });

  test('what follows from a missing encoder is not told beside it, and ends with its beginning', () => {
    const silent = sending(heard({ silentMs: 20_000 }));
    expect(toldOf(forSeconds(60), forSeconds(5, silent), forSeconds(5, { ...silent, ...gone }))).toEqual([
      'silence 41–',
      'encoder-gone 66–',
      'silence 41–65',
    ]);
  });

  test('a weak line that makes the encoder leave out pictures is a weak line', () => {
    const choked = sending(
      seen({ bitrateBps: 1_500_000, timing: { ...videoWell.timing, encodedFps: 18, lateMs: 300 } }),
    );
    expect(toldOf(forSeconds(60), forSeconds(20, choked))).toEqual(['line-weak 61–']);
  });

  test('pictures missing at a steady rate are the encoder’s own fault', () => {
    const { open } = follow([forSeconds(60), forSeconds(20, sending(timed({ encodedFps: 22 })))]);
    expect(open).toMatchObject([{ kind: 'encoder-slow', detail: { fps: 22, expectedFps: 30 } }]);
  });

  test('a place that breaks off has one fault until it goes out; a key that is refused is another', () => {
    const troubled = (reason: 'broke-off' | 'refused', attempt: number): DestinationState => ({
      state: 'troubled',
      reason,
      said: null,
      attempt,
      nextTryAtMs: 0,
    });
    const after = (reason: 'broke-off' | 'refused'): string[] =>
      toldOf(
        forSeconds(10, place({ state: 'going-out', sinceMs: 0 })),
        forSeconds(2, place(troubled('broke-off', 1))),
        forSeconds(4, place({ state: 'connecting', attempt: 2 })),
        forSeconds(4, place(troubled(reason, 2))),
        forSeconds(10, place({ state: 'going-out', sinceMs: 20_000 })),
      );
    expect(after('broke-off')).toEqual(['place-closed 11–', 'place-closed 11–20']);
    expect(after('refused')).toEqual([
      'place-closed 11–',
      'place-closed 11–16',
      'place-refused 17–',
      'place-refused 17–20',
    ]);
  });

  test('a node that fell takes the blame for the encoder that has to come back to it', () => {
    const takenUp = { lastSeenMs: 6000, atMs: 10_000, hasMoved: false };
    const { told } = follow([
      forSeconds(9),
      forSeconds(5, { ...gone, takenUp }),
      forSeconds(10, { takenUp }),
    ]);
    expect(told.map(inWords).slice(-2)).toEqual(['node-away 6–', 'node-away 6–14']);
    expect(told.at(-1)!.noticed).toMatchObject({ slateMs: 8000 });
  });

  test('one that came from another node says so, also of its places', () => {
    const takenUp = { lastSeenMs: 0, atMs: 0, hasMoved: true };
    const { told } = follow([forSeconds(3, { ...gone, takenUp })]);
    expect(told[0]!.detail).toEqual({ moved: 1 });
  });

  test('an encoder that stays away after its node has come back is gone by itself', () => {
    const takenUp = { lastSeenMs: 0, atMs: 0, hasMoved: false };
    expect(toldOf(forSeconds(40, { ...gone, takenUp }))).toEqual([
      'node-away 0–',
      'node-away 0–29',
      'encoder-gone 30–',
    ]);
  });

  test('before the first try has failed a place is not troubled', () => {
    expect(toldOf(forSeconds(30, place({ state: 'connecting', attempt: 1 })))).toEqual([]);
  });
});

describe('two sources', () => {
  const balcony: Moment = {
    source: { sourceId: 'balcony', isAway: false, ending: null, report: well },
    replaced: { sourceId: 'pier', isAway: true, ending: 'connection-broke', report: null },
  };

  test('the first is gone for as long as it is, though viewers have a picture, and the other has taken over', () => {
    const { told, open } = follow([
      forSeconds(10),
      forSeconds(1, { ...balcony, turn: { toId: 'balcony', agoMs: 400 } }),
      forSeconds(9, { ...balcony, turn: { toId: 'balcony', agoMs: 5000 } }),
    ]);
    expect(told.map(inWords)).toEqual(['encoder-gone 11–', 'took-over 10.6–', 'took-over 10.6–11']);
    expect(open).toMatchObject([{ kind: 'encoder-gone', subjectId: 'pier', viewerMs: 0 }]);
  });

  test('the first that has come back is no fault while the other still feeds the programme', () => {
    const isBack = { ...balcony, replaced: { ...balcony.replaced!, isAway: false, report: well } };
    expect(follow([forSeconds(10, balcony), forSeconds(10, isBack)]).open).toEqual([]);
  });
});

describe('every kind is found', () => {
  const found: readonly [Fault['kind'], Moment, number?][] = [
    ['line-weak', sending(timed({ lateMs: 2500 }))],
    [
      'line-weak',
      sending({ ...well, transport: { roundTripMs: 40, lostShare: 0.05, retransmittedShare: 0.2 } }),
    ],
    ['keyframes-far', sending(seen({ keyframeIntervalMs: 10_000 }))],
    ['picture-frozen', sending(seen({ frozenMs: 25_000 }))],
    ['picture-black', sending(seen({ blackMs: 4000 }))],
    ['no-sound', sending({ ...well, audio: null })],
    ['silence', sending(heard({ silentMs: 12_000 }))],
    ['too-quiet', sending(heard({ shortTermLufs: -41 })), 120],
    ['too-loud', sending(heard({ shortTermLufs: -8 })), 120],
    ['clipping', sending(heard({ recentPeakDbtp: 1.2 }))],
    ['sound-offset', sending(timed({ soundAheadMs: -900 }))],
    ['place-refused', refused],
    ['recording-stopped', { recordingStopped: 'disk-full' }],
    ['sizes-shed', { shedSizes: ['720p'] }],
    ['node-busy', { load: 3.5 }, 60],
    ['encoder-gone', { source: null, viewersHave: 'slate' }],
  ];
  test.each(found)('%s', (kind, moment, seconds = 30) => {
    const { open } = follow([forSeconds(60), forSeconds(seconds, moment)]);
    expect(open.map((fault) => fault.kind)).toEqual([kind]);
    // All is well again, for long enough: it closes.
    const after = follow([forSeconds(60), forSeconds(seconds, moment), forSeconds(240)]);
    expect([after.open, after.ended]).toEqual([[], []]);
  });

  test('and nothing where nothing is wrong', () => {
    expect(toldOf(forSeconds(600))).toEqual([]);
  });

  test('another size is named with what it was, and so is another sound', () => {
    const { told } = follow([forSeconds(30), forSeconds(20, sending(seen({ widthPx: 640, heightPx: 360 })))]);
    expect(told[0]).toMatchObject({
      kind: 'format-changed',
      detail: { from: '1280x720, 48000 Hz 2', to: '640x360, 48000 Hz 2' },
    });
    expect(told.at(-1)!.toMs).not.toBeNull();
  });

  test('another size is named once, however often its encoder drops and comes back', () => {
    const returns = [1, 2, 3, 4].flatMap((times) => [
      forSeconds(2, gone),
      forSeconds(2, sending({ ...seen({ widthPx: 640, heightPx: 360 }), sinceMs: times * 4000 })),
    ]);
    const { told } = follow([forSeconds(30), ...returns, forSeconds(20)]);
    const named = told.filter(({ kind, toMs }) => kind === 'format-changed' && toMs === null);
    expect(named.map(({ detail }) => detail.to)).toEqual(['640x360, 48000 Hz 2', '1280x720, 48000 Hz 2']);
  });
});

describe('nothing flickers', () => {
  test('what lasts for a moment is no fault, and what pauses for a moment is still the same', () => {
    const late = sending(timed({ lateMs: 2000 }));
    expect(toldOf(forSeconds(30), forSeconds(3, late), forSeconds(30))).toEqual([]);
    expect(toldOf(forSeconds(30), forSeconds(10, late), forSeconds(4), forSeconds(10, late))).toEqual([
      'line-weak 31–',
    ]);
  });

  test('a scene that needs fewer bits is no weak line', () => {
    expect(toldOf(forSeconds(60), forSeconds(60, sending(seen({ bitrateBps: 600_000 }))))).toEqual([]);
  });

  test('what has lasted for minutes has become usual, where the encoder announced nothing', () => {
    const at = (encodedFps: number): Moment =>
      sending(seen({ announcedFps: null, timing: { ...videoWell.timing, encodedFps } }));
    const { open, told } = follow([forSeconds(60, at(30)), forSeconds(1200, at(20))]);
    expect(told.map(({ kind }) => kind)).toEqual(['encoder-slow', 'encoder-slow']);
    expect(open).toEqual([]);
  });

  test('the opening film does not need the encoder yet', () => {
    expect(toldOf(forSeconds(60, { ...gone, viewersHave: 'film' }))).toEqual([]);
  });
});

describe('what it costs', () => {
  test('is what viewers saw instead, and how many they were', () => {
    const { ended } = follow([
      forSeconds(60),
      forSeconds(2, { ...gone, viewersHave: 'picture' }),
      forSeconds(10, { ...gone, viewers: 30 }),
    ]);
    expect(ended).toMatchObject([
      { noticed: { slateMs: 10_000, nothingMs: 0, pictureMs: 0, soundMs: 0 }, viewerMs: 300_000 },
    ]);
  });

  test('of what was found late counts from its beginning, but not from before air', () => {
    const silent = (silentMs: number): Moment => sending(heard({ silentMs }));
    const [fault] = follow([
      forSeconds(60),
      forSeconds(1, silent(10_000)),
      forSeconds(4, silent(14_000)),
    ]).open;
    expect(fault).toMatchObject({ fromMs: 51_000, noticed: { soundMs: 14_000 }, viewerMs: 140_000 });
    expect(follow([forSeconds(1, silent(30_000))]).open).toMatchObject([{ fromMs: 0, viewerMs: 10_000 }]);
  });

  test('of a place is nothing to our viewers', () => {
    const { open } = follow([forSeconds(20, refused)]);
    expect(open).toMatchObject([{ kind: 'place-refused', detail: { said: 'bad key' }, viewerMs: 0 }]);
  });
});

const anyMoment: fc.Arbitrary<Stretch> = fc.record({
  seconds: fc.integer({ min: 1, max: 40 }),
  moment: fc.constantFrom<Moment>(
    {},
    gone,
    { ...gone, viewersHave: 'nothing' },
    refused,
    place({ state: 'going-out', sinceMs: 0 }),
    sending(heard({ silentMs: 15_000 })),
    sending(timed({ lateMs: 3000 })),
    sending(seen({ widthPx: 640 })),
    sending({ ...well, audio: null }),
  ),
});

describe('whatever happens', () => {
  test('every fault that was told begins once and ends once, and costs no more than the time it lasted', () => {
    fc.assert(
      fc.property(fc.array(anyMoment, { maxLength: 12 }), (stretches) => {
        const { told, ended } = follow(stretches);
        const begun = told.filter(({ toMs }) => toMs === null).map(({ kind, fromMs }) => `${kind} ${fromMs}`);
        const over = [...told, ...ended].filter(({ toMs }) => toMs !== null);
        expect(over.map(({ kind, fromMs }) => `${kind} ${fromMs}`).toSorted()).toEqual(begun.toSorted());
        for (const { fromMs, toMs, noticed, viewerMs } of over) {
          const totalMs = Object.values(noticed).reduce((sum, ms) => sum + ms, 0);
          expect(totalMs).toBeLessThanOrEqual(toMs! - fromMs + 1000);
          expect(viewerMs).toBe(totalMs * 10);
        }
      }),
    );
  });

  test('of two faults of one subject and kind no two overlap', () => {
    fc.assert(
      fc.property(fc.array(anyMoment, { maxLength: 12 }), (stretches) => {
        const { told, ended } = follow(stretches);
        const over = [...told, ...ended].filter(({ toMs }) => toMs !== null);
        for (const one of over)
          for (const other of over)
            if (one !== other && one.kind === other.kind && one.fromMs <= other.fromMs)
              expect(one.toMs!).toBeLessThanOrEqual(other.fromMs);
      }),
    );
  });
});

test('the heaviest comes first, and of one weight the one that has lasted longest', () => {
  const fault = (kind: Fault['kind'], fromMs: number): Fault => ({
    ...follow([forSeconds(20, refused)]).open[0]!,
    kind,
    fromMs,
  });
  const sorted = worstFirst([fault('too-loud', 1), fault('place-refused', 9), fault('place-refused', 4)]);
  expect(sorted.map(inWords)).toEqual(['place-refused 0.004–', 'place-refused 0.009–', 'too-loud 0.001–']);
});
