import { describe, expect, test } from '@jest/globals';
import { ROLES } from '@heliphon/core/access/capabilities';
import { DESTINATION_REASONS } from '@heliphon/core/destinations/destination-state';
import type { Problem } from '@heliphon/contracts/problem';
import { moveOfKey } from '../src/console/week/useRotaDrag.js';
import { ApiError, OfflineError } from '../src/data/api.js';
import { fieldSentence, problemSentence, sentenceFor } from '../src/words/problems.js';
import { CAPABILITY_WORDS, ROLE_WORDS } from '../src/words/roles.js';
import { CHECK_WORDS } from '@heliphon/contracts/check-words';
import {
  loudnessWords,
  megabits,
  placeWords,
  reasonWords,
  refusalWords,
  reportWords,
} from '../src/words/signal.js';
import {
  clock,
  clockOrDays,
  clockThere,
  countdown,
  dayAndTime,
  dayName,
  duration,
  hoursAndMinutes,
  longDay,
  timeOfDay,
  timeWords,
} from '@heliphon/contracts/time-words';
import { calendarWords } from '@heliphon/core/languages/calendar-words';
import { type Fault, type FaultKind, NOTICED_NOTHING } from '@heliphon/core/faults/fault';
import { namesIn } from '@heliphon/contracts/fault-words';
import { changeSentence, faultAccount } from '@heliphon/contracts/report-words';
import type { PointView } from '@heliphon/contracts/nodes';
import {
  doubleWords,
  loadWords,
  pointWords,
  roundTripWords,
  sendElsewhereWords,
} from '../src/words/points.js';
import { NO_TIMING } from '@heliphon/core/signal/source-timing';

const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
const LONDON = 'Europe/London';

describe('times', () => {
  const sunday = Date.UTC(2026, 2, 8, 10, 30);
  test('are said in the house’s zone', () => {
    expect(dayAndTime(sunday, LONDON)).toBe('Sun 8 Mar, 10:30');
    expect(dayAndTime(sunday, 'Australia/Sydney')).toBe('Sun 8 Mar, 21:30');
    expect(longDay(sunday, LONDON)).toBe('Sunday 8 March');
    expect(dayName(sunday, LONDON)).toBe('Sun 8');
    expect(timeOfDay(Date.UTC(2026, 2, 8, 0, 5), LONDON)).toBe('00:05');
  });

  test('of the house stand beside one’s own where they differ', () => {
    const there = (ms: number, house: string, reader: string) =>
      clockThere(timeWords('en-GB', calendarWords('en-GB')), ms, house, reader);
    expect(there(sunday, LONDON, LONDON)).toBeNull();
    expect(there(sunday, 'Europe/Lisbon', LONDON)).toBeNull();
    expect(there(sunday, LONDON, 'Europe/Berlin')).toEqual({ there: '10:30', city: 'London' });
    expect(there(sunday, 'America/New_York', LONDON)).toEqual({ there: '06:30', city: 'New York' });
    expect(there(sunday, 'Pacific/Auckland', 'America/New_York')?.there).toBe('23:30');
    expect(there(Date.UTC(2026, 2, 8, 22), LONDON, 'Australia/Sydney')?.there).toBe('Sun 8 Mar, 22:00');
  });

  test.each([
    [42 * SECOND, '42 s'],
    [59_600, '1 min'],
    [18 * MINUTE, '18 min'],
    [65 * MINUTE, '1 h 05'],
    [10 * HOUR, '10 h 00'],
    [-5, '0 s'],
  ])('%d ms last %s', (ms, words) => {
    expect(duration(ms)).toBe(words);
  });

  test.each([
    [0, '0:00:00'],
    [12 * MINUTE + 47 * SECOND, '0:12:47'],
    [26 * HOUR, '26:00:00'],
    [-1000, '0:00:00'],
  ])('a console clock at %d ms shows %s', (ms, figure) => {
    expect(clock(ms)).toBe(figure);
    expect(hoursAndMinutes(ms)).toBe(figure.slice(0, -3));
  });

  test('beyond a day a clock says days and hours', () => {
    expect(clockOrDays(23 * HOUR)).toBe('23:00:00');
    expect(clockOrDays(30 * HOUR)).toBe('1 day 6 h');
    expect(clockOrDays(50 * HOUR)).toBe('2 days 2 h');
  });

  test.each([
    [30 * SECOND, 30, 'seconds'],
    [900, 1, 'seconds'],
    [0, 0, 'seconds'],
    [61 * SECOND, 2, 'minutes'],
    [60 * SECOND, 1, 'minutes'],
    [119 * MINUTE, 119, 'minutes'],
    [5 * HOUR, 5, 'hours'],
    [3 * DAY, 3, 'days'],
  ])('a public countdown at %d ms shows %d %s', (ms, count, unit) => {
    expect(countdown(ms)).toEqual({ count, unit });
  });
});

describe('what went wrong', () => {
  const problem = (over: Partial<Problem>): ApiError =>
    new ApiError(422, { type: 'about:blank', status: 422, title: '', code: 'fault', params: {}, ...over });

  test('says what happened, what still works, and what to do', () => {
    expect(problemSentence(new OfflineError('/api'))).toBe(
      'We cannot reach the server at the moment. Anything on air carries on. We will keep trying.',
    );
    expect(problemSentence(problem({ code: 'chat-too-quick', params: { seconds: 4 } }))).toContain(
      'in 4 s; it is still here.',
    );
    expect(problemSentence(problem({ code: 'moved-meanwhile', params: { state: 'air' } }))).toContain(
      'is on air now',
    );
  });

  test('a time that does not exist is told with the next one', () => {
    const params = { local: '2026-03-29T01:30', next: '2026-03-29T02:00' };
    expect(sentenceFor('time-does-not-exist', params)).toBe(
      '01:30 does not exist on that day, because the clocks go forward. The next possible time is 02:00.',
    );
  });

  test('never a code alone, whatever comes', () => {
    for (const error of [problem({ code: 'never-heard-of' }), new Error('boom'), null, 'x']) {
      expect(problemSentence(error)).toBe(sentenceFor('fault'));
    }
  });

  test('stands at the field that is wrong, and at no other', () => {
    const error = problem({
      code: 'stop-before-start',
      fields: [{ path: 'stopsAtLocal', message: 'stop-before-start' }],
    });
    expect(fieldSentence(error, 'stopsAtLocal')).toBe('The end is before the start. Choose a later end.');
    expect(fieldSentence(error, 'title')).toBeNull();
    expect(fieldSentence(new OfflineError('/'), 'title')).toBeNull();
  });

  test.each([
    ['string.empty', 'This is needed.'],
    ['any.required', 'This is needed.'],
    ['string.max', 'This is too long.'],
    ['number.min', 'This number is out of range.'],
    ['string.pattern.name', 'This is not in the right form.'],
    ['string.email', 'This is not an email address.'],
    ['any.only', 'This cannot be used here.'],
  ])('the rule %s is told as “%s”', (message, sentence) => {
    expect(
      fieldSentence(problem({ code: 'fields-wrong', fields: [{ path: 'title', message }] }), 'title'),
    ).toBe(sentence);
  });
});

describe('signal', () => {
  test('a report in a few words', () => {
    const video = {
      codec: 'avc1',
      widthPx: 1280,
      heightPx: 720,
      frameRateFps: 29.97,
      bitrateBps: 2_460_000,
      keyframeIntervalMs: 2000,
      announcedFps: null,
      timing: NO_TIMING,
      blackMs: 0,
      frozenMs: 0,
    };
    const audio = { codec: 'mp4a', sampleRateHz: 48_000, channels: 2, bitrateBps: 128_000, loudness: null };
    const report = {
      sinceMs: 0,
      remoteAddress: '::1',
      protocol: 'rtmp',
      transport: null,
      encoder: null,
    } as const;
    expect(reportWords({ ...report, video, audio })).toBe('720p30, 2.5 Mbit/s, with sound');
    expect(reportWords({ ...report, video, audio: null })).toBe('720p30, 2.5 Mbit/s, no sound');
    expect(reportWords({ ...report, video: null, audio: null })).toBe('nothing yet');
    expect(megabits(4_400_000)).toBe('4.4 Mbit/s');
  });

  test('a place’s state is a mark and words, with the next try', () => {
    const troubled = {
      state: 'troubled',
      reason: 'refused',
      said: null,
      attempt: 1,
      nextTryAtMs: 20_000,
    } as const;
    expect(placeWords(troubled, 0)).toEqual({
      mark: 'trouble',
      words: 'did not accept our key, tries again in 20 s',
    });
    expect(placeWords(troubled, 19_500).words).toBe('did not accept our key, tries again now');
    expect(placeWords({ state: 'going-out', sinceMs: 0 }, 0)).toEqual({ mark: 'out', words: 'going out' });
    expect(placeWords({ state: 'connecting', attempt: 1 }, 0).words).toBe('connecting');
    expect(placeWords({ state: 'waiting' }, 0).mark).toBe('planned');
    expect(placeWords({ state: 'stopped' }, 0).words).toBe('stopped');
    for (const reason of DESTINATION_REASONS) expect(reasonWords(reason)).toMatch(/^[a-z ]+$/);
  });

  test('a refusal nobody foresaw still has a sentence', () => {
    expect(refusalWords('already-sending')).toBe('A second encoder tried this key and was turned away.');
    expect(refusalWords('something-new')).toBe('An encoder was turned away.');
  });
});

describe('a report in words', () => {
  const of = (kind: FaultKind, detail: Fault['detail'] = {}): Fault => ({
    kind,
    subjectId: 'tower',
    detail,
    fromMs: 0,
    toMs: 3000,
    noticed: NOTICED_NOTHING,
    viewerMs: 0,
  });
  const names = namesIn({ tower: 'Tower box' }, 'tower');

  test('before next time it names what is to be changed, as nobody stands at the desk any more', () => {
    const change = (fault: Fault): string =>
      changeSentence({ change: { kind: fault.kind, fault } }, () => names);
    expect(change(of('encoder-gone', { ending: 'connection-broke' }))).toBe(
      'Check the internet line of Tower box. A cable is steadier than Wi-Fi.',
    );
    expect(change(of('place-refused'))).toBe('Put in a new key for Tower box.');
    expect(change(of('silence'))).toBe('Check the microphone and its fader.');
  });

  test('what lasts is told with its time, what only happens is not', () => {
    expect(faultAccount(of('picture-black'), names, 0)).toBe(
      'The picture was black. It lasted 3 s. Viewers noticed nothing.',
    );
    expect(faultAccount(of('took-over'), names, 0)).toBe('Tower box took over. Viewers noticed nothing.');
  });
});

describe('an ingest point in words', () => {
  const point: PointView = {
    nodeId: 'hill',
    place: 'Hill House',
    presence: 'here',
    lastSeenAtMs: 0,
    reachUrl: '',
    sendUrl: '',
    now: { load: 0.31, disk: 'plenty', diskFreeBytes: 1e12, sources: 1, programmes: 2, viewers: 40 },
    double: null,
  };
  test.each<[string, Partial<PointView>, string]>([
    ['is here', {}, 'working'],
    ['has gone', { presence: 'away' }, 'not responding since Thu 1 Jan, 00:00'],
    ['not connected yet', { presence: 'away', lastSeenAtMs: null }, 'not connected yet'],
    ['is silent for a moment', { presence: 'silent' }, 'not responding at the moment'],
  ])('that %s', (_what, over, words) => {
    expect(pointWords({ ...point, ...over }, 'UTC')).toBe(words);
  });
  test('says what it has to do in figures, and whether that is much in a word', () => {
    expect(loadWords(point)).toBe(
      '1 source, 2 events, 40 watching, not busy (31 %), plenty of space to record',
    );
    const busy = { ...point.now!, load: 0.9, disk: 'full' } as const;
    expect(loadWords({ ...point, now: busy })).toContain('busy (90 %), no space to record');
    expect(loadWords({ ...point, now: null })).toBeNull();
  });
  test.each([
    [undefined, 'measuring …'],
    [null, 'cannot be reached from here'],
    [0.4, 'less than 1 ms from here'],
    [11.6, '12 ms from here'],
  ])('%s ms away', (ms, words) => {
    expect(roundTripWords(ms)).toBe(words);
  });
  test('that has gone is the reason why no picture comes, and where to send meanwhile', () => {
    expect(CHECK_WORDS['source-here'].reason({ gone: 'Quay House', sendTo: 'Hill House' })).toBe(
      'Quay House is not responding. Point its encoder at Hill House until it is back.',
    );
  });
  test('that has gone sends people to another, and one with a double is told so', () => {
    expect(sendElsewhereWords('Quay House', 'Hill House')).toContain('Until it is back, send to Hill House');
    expect(doubleWords('hill', { atMs: 0, remoteAddress: '10.0.0.7' }, 'UTC')).toContain(
      'A second machine tried to connect as hill, from 10.0.0.7',
    );
  });
});

describe('loudness in words', () => {
  const heard = {
    momentaryLufs: -22,
    shortTermLufs: -22,
    integratedLufs: -22.6,
    truePeakDbtp: -6.24,
    recentPeakDbtp: -6,
    silentMs: 0,
  };
  test.each([
    ['nothing measured yet', { integratedLufs: null }, 'listening …'],
    ['all is well', {}, 'just right, −22.6 LUFS, peak −6.2 dBTP'],
    ['no peak is known', { truePeakDbtp: null }, 'just right, −22.6 LUFS'],
    ['it is hot', { truePeakDbtp: 0.3 }, 'far too loud, it is distorting, −22.6 LUFS, peak 0.3 dBTP'],
    ['it is loud', { integratedLufs: -9.96 }, 'too loud, −10.0 LUFS, peak −6.2 dBTP'],
    ['it whispers', { integratedLufs: -41 }, 'very quiet, −41.0 LUFS, peak −6.2 dBTP'],
    ['nobody speaks', { silentMs: 65_000 }, 'no sound for 1 min'],
  ])('%s', (_what, over, words) => {
    expect(loudnessWords({ ...heard, ...over })).toBe(words);
  });
});

describe('the keys of the rota', () => {
  test('arrows move the whole event, across in quarter hours and down in days', () => {
    expect(moveOfKey('ArrowRight', false)).toEqual({ days: 0, hours: 0.25, edge: 'whole' });
    expect(moveOfKey('ArrowUp', false)).toEqual({ days: -1, hours: 0, edge: 'whole' });
  });
  test('with Shift they move its end, which never leaves its day', () => {
    expect(moveOfKey('ArrowLeft', true)).toEqual({ days: 0, hours: -0.25, edge: 'end' });
    expect([moveOfKey('ArrowUp', true), moveOfKey('ArrowDown', true)]).toEqual([null, null]);
  });
  test('every other key is left to the browser', () => {
    for (const key of ['Enter', 'Tab', ' ', 'a', 'Escape']) expect(moveOfKey(key, false)).toBeNull();
  });
});

test('every role and every capability has words, and no two the same', () => {
  const said = [...Object.values(CAPABILITY_WORDS), ...ROLES.map((role) => ROLE_WORDS[role].name)];
  expect(new Set(said).size).toBe(said.length);
  for (const words of said) expect(words).toMatch(/^\S.*\S$/);
});
