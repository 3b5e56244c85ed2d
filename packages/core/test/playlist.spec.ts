import { describe, expect, test } from '@jest/globals';
import {
  advanceWindow,
  EMPTY_WINDOW,
  endWindow,
  hasPosition,
  isTooFarAhead,
  type LiveWindow,
  windowFrom,
  windowFromSegments,
} from '../src/packaging/live-window.js';
import fc from 'fast-check';
import { segmentsOfClip } from '../src/packaging/clip-range.js';
import type { PackagerOutput } from '../src/packaging/packager.js';
import {
  renderLivePlaylist,
  type LiveForm,
  ORIGINAL_FOLDER,
  renderMultivariantPlaylist,
  renderRenditionReplay,
  renditionFolder,
  SOUND_FOLDER,
  renderReplayPlaylist,
  withHeadersInFront,
} from '../src/packaging/playlist.js';
import { playingMs, segmentsBetween } from '../src/packaging/replay-range.js';

const CLOCK = { startsAtUtcMs: Date.UTC(2026, 2, 7, 10, 0) };
const REWIND_MS = 30_000;

/** Segments of 2 s with six parts each, as a packager gives them out. */
function outputsOf(segments: number, breaksAt: readonly number[] = [], extraParts = 0): PackagerOutput[] {
  const outputs: PackagerOutput[] = [];
  let part = 0;
  const begin = (sequence: number): void => {
    const discontinuity = breaksAt.includes(sequence);
    outputs.push({
      type: 'segment-begun',
      sequence,
      programmeMs: sequence * 2000,
      initNumber: 0,
      discontinuity,
    });
  };
  const addPart = (segmentSequence: number, independent: boolean): void => {
    outputs.push({
      type: 'part',
      part: { number: part, segmentSequence, durationSeconds: 1 / 3, independent, bytes: new Uint8Array(1) },
      endTime: 0,
      video: [],
      sound: [],
    });
    part += 1;
  };
  for (let sequence = 0; sequence < segments; sequence += 1) {
    begin(sequence);
    for (let index = 0; index < 6; index += 1) addPart(sequence, index === 0);
    outputs.push({
      type: 'segment',
      segment: {
        sequence,
        programmeMs: sequence * 2000,
        durationSeconds: 2,
        initNumber: 0,
        discontinuity: breaksAt.includes(sequence),
        firstPart: sequence * 6,
        partCount: 6,
      },
    });
  }
  begin(segments);
  for (let index = 0; index < extraParts; index += 1) addPart(segments, index === 0);
  return outputs;
}

const windowOf = (outputs: readonly PackagerOutput[]): LiveWindow =>
  outputs.reduce((window, output) => advanceWindow(window, output, REWIND_MS), EMPTY_WINDOW);

describe('the live playlist', () => {
  const text = renderLivePlaylist(windowOf(outputsOf(40, [], 2)), CLOCK);

  test('declares what a low-latency player needs and nothing that would freeze it', () => {
    expect(text).toContain(
      '#EXT-X-SERVER-CONTROL:CAN-BLOCK-RELOAD=YES,CAN-SKIP-UNTIL=24.0,PART-HOLD-BACK=1.050',
    );
    expect(text).toContain('#EXT-X-PART-INF:PART-TARGET=0.350');
    expect(text).not.toContain('PLAYLIST-TYPE');
    expect(text).not.toContain('ENDLIST');
  });

  test('slides: it holds the window that may be rewound, and counts on', () => {
    expect(text).toContain('#EXT-X-MEDIA-SEQUENCE:25');
    expect(text.match(/^seg-/gm)).toHaveLength(15);
  });

  test('lists parts for the last three target durations only, and hints at the next', () => {
    expect(text.match(/#EXT-X-PART:/g)).toHaveLength(6 * 6 + 2);
    expect(text.match(/INDEPENDENT=YES/g)).toHaveLength(7);
    expect(text).toContain('#EXT-X-PRELOAD-HINT:TYPE=PART,URI="part-242.m4s"');
  });

  test('says the date at its start and then at every whole minute', () => {
    expect(text.match(/PROGRAM-DATE-TIME/g)).toHaveLength(2);
    expect(text).toContain('#EXT-X-PROGRAM-DATE-TIME:2026-03-07T10:00:50.000Z');
  });

  test('marks a gap, dates it, and counts the gaps that have slid away', () => {
    const withGaps = renderLivePlaylist(windowOf(outputsOf(40, [3, 30])), CLOCK);
    expect(withGaps).toContain('#EXT-X-DISCONTINUITY-SEQUENCE:1');
    expect(withGaps.match(/#EXT-X-DISCONTINUITY\n/g)).toHaveLength(1);
    expect(withGaps).toContain('#EXT-X-DISCONTINUITY\n#EXT-X-PROGRAM-DATE-TIME:2026-03-07T10:01:00.000Z');
  });

  test('promises nothing while the encoder is away, and ends with the programme', () => {
    const away = advanceWindow(windowOf(outputsOf(4)), { type: 'hint-withdrawn', partNumber: 24 }, REWIND_MS);
    expect(renderLivePlaylist(away, CLOCK)).not.toContain('PRELOAD-HINT');
    expect(renderLivePlaylist(away, CLOCK).trim()).toMatch(/\nseg-\d+\.m4s\n# [^\n]+$/);
    expect(renderLivePlaylist(endWindow(away), CLOCK).trim()).toMatch(/#EXT-X-ENDLIST$/);
  });
});

describe('the forms of a programme', () => {
  const window = { ...windowOf(outputsOf(40, [], 2)), nextPart: 242 };
  const small = { ...windowOf(outputsOf(40, [], 1)), nextPart: 241 };
  const original = { folder: ORIGINAL_FOLDER, window };
  const soundAlone = { folder: SOUND_FOLDER, window };
  const smaller = { folder: renditionFolder('480p'), window: small };
  const whole = renderLivePlaylist(window, CLOCK, {
    selection: 'whole',
    isDelta: false,
    folder: ORIGINAL_FOLDER,
    others: [soundAlone, smaller],
  });
  const sound = renderLivePlaylist(window, CLOCK, {
    selection: 'sound',
    isDelta: false,
    folder: SOUND_FOLDER,
    others: [original],
  });

  test('are cut alike, and sound can be begun with anywhere', () => {
    const positions = (text: string): string[] => text.match(/DURATION=[^,]+,URI="part-\d+|^seg-.*$/gm)!;
    expect(positions(sound)).toEqual(positions(whole));
    expect(sound.match(/INDEPENDENT=YES/g)).toHaveLength(sound.match(/#EXT-X-PART:/g)!.length);
  });

  test('each says how far the other has come, as long as something comes', () => {
    expect(whole).toContain('#EXT-X-RENDITION-REPORT:URI="sound/live.m3u8",LAST-MSN=40,LAST-PART=1\n');
    expect(whole).toContain('#EXT-X-RENDITION-REPORT:URI="r/480p/live.m3u8",LAST-MSN=40,LAST-PART=0\n');
    expect(sound).toContain('#EXT-X-RENDITION-REPORT:URI="../live.m3u8",LAST-MSN=40,LAST-PART=1\n');
    const ofSmaller = (others: LiveForm['others']): string =>
      renderLivePlaylist(small, CLOCK, {
        selection: 'whole',
        isDelta: false,
        folder: smaller.folder,
        others,
      });
    const between = { ...original, window: { ...window, begun: null } };
    expect(ofSmaller([between])).toContain('URI="../../live.m3u8",LAST-MSN=39,LAST-PART=5');
    expect(ofSmaller([{ ...original, folder: renditionFolder('360p') }])).toContain(
      '"../../r/360p/live.m3u8"',
    );
    expect(renderLivePlaylist(endWindow(window), CLOCK)).not.toContain('RENDITION-REPORT');
  });

  test('are announced with what they take', () => {
    const text = renderMultivariantPlaylist(
      [
        {
          folder: ORIGINAL_FOLDER,
          bandwidthBps: 2_612_345.2,
          averageBandwidthBps: 2_400_000,
          codecs: 'avc1.64001f,mp4a.40.2',
          picture: { widthPx: 1280, heightPx: 720, frameRateFps: 29.97 },
        },
        {
          folder: SOUND_FOLDER,
          bandwidthBps: 128_000,
          averageBandwidthBps: 127_000,
          codecs: 'mp4a.40.2',
          picture: null,
        },
      ],
      'live.m3u8',
    );
    expect(text.split('\n').slice(2, 6)).toEqual([
      '#EXT-X-STREAM-INF:BANDWIDTH=2612346,AVERAGE-BANDWIDTH=2400000,CODECS="avc1.64001f,mp4a.40.2",RESOLUTION=1280x720,FRAME-RATE=29.970',
      'live.m3u8',
      '#EXT-X-STREAM-INF:BANDWIDTH=128000,AVERAGE-BANDWIDTH=127000,CODECS="mp4a.40.2"',
      'sound/live.m3u8',
    ]);
  });

  test('a replay takes the original where a smaller picture was not made, behind a header of its own', () => {
    const segments = windowOf(outputsOf(4)).segments.map(({ segment }) => segment);
    const text = renderRenditionReplay(segments, new Set([1, 2]), smaller.folder, CLOCK);
    expect(text.match(/^(#EXT-X-MAP.*|.*seg-.*)$/gm)).toEqual([
      '#EXT-X-MAP:URI="../../init-0.mp4"',
      '../../seg-0.m4s',
      '#EXT-X-MAP:URI="init-0.mp4"',
      'seg-1.m4s',
      'seg-2.m4s',
      '#EXT-X-MAP:URI="../../init-0.mp4"',
      '../../seg-3.m4s',
    ]);
  });
});

describe('a blocking reload', () => {
  const window = windowOf(outputsOf(4, [], 3));
  test.each([
    [3, null, true],
    [4, 2, true],
    [4, 3, false],
    [4, null, false],
    [5, 0, false],
  ])('segment %d, part %s: there is an answer now: %s', (sequence, part, expected) => {
    expect(hasPosition(window, sequence, part)).toBe(expected);
  });
  test('asks too much when it is more than two segments ahead', () => {
    expect([5, 6].map((sequence) => isTooFarAhead(window, sequence, null))).toEqual([false, true]);
  });
  test('asks too much when it is more than three seconds of parts ahead', () => {
    expect([3, 11, 12, 4000].map((part) => isTooFarAhead(window, 4, part))).toEqual([
      false,
      false,
      true,
      true,
    ]);
    expect([0, 8, 9].map((part) => isTooFarAhead(window, 5, part))).toEqual([false, false, true]);
  });
  test('is always answered once the programme is over', () => {
    expect(hasPosition(endWindow(window), 99, 0)).toBe(true);
  });
});

test('what is offered first can be begun with, where keyframes lie far apart', () => {
  const far = windowOf(outputsOf(12)).segments.map(({ segment }) => ({
    ...segment,
    independent: segment.sequence % 5 === 0,
  }));
  expect(windowFromSegments(far, 0).segments[0]!.segment.sequence).toBe(5);
  expect(windowFrom(windowFromSegments(far, 60_000), 12_500).segments[0]!.segment.sequence).toBe(10);
});

test('the public sees from the segment containing air on', () => {
  const shown = windowFrom(windowOf(outputsOf(10)), 5000);
  expect(shown.segments[0]!.segment.sequence).toBe(2);
});

test('a replay is a playlist: from air to end, its length without the gap', () => {
  const listed = windowOf(outputsOf(10)).segments.map(({ segment }) => segment);
  const moved = listed.map((segment) => ({
    ...segment,
    programmeMs: segment.programmeMs + (segment.sequence > 4 ? 60_000 : 0),
  }));
  const replay = segmentsBetween(moved, 4000, 75_000);
  expect(replay.map((segment) => segment.sequence)).toEqual([2, 3, 4, 5, 6, 7]);
  expect(playingMs(replay)).toBe(12_000);
  const text = renderReplayPlaylist(replay, CLOCK);
  expect(text).toContain('#EXT-X-PLAYLIST-TYPE:VOD');
  expect(text.trim()).toMatch(/#EXT-X-ENDLIST$/);
});

test('for players that stay with their first header, the first segment of each run has its own in front', () => {
  const runs = [0, 0, 1, 1, 2].map((initNumber, sequence) => ({
    ...windowOf(outputsOf(10)).segments[sequence]!.segment,
    initNumber,
    discontinuity: sequence === 2 || sequence === 4,
  }));
  const names = withHeadersInFront(renderReplayPlaylist(runs, CLOCK)).match(/^seg-.*$/gm);
  expect(names).toEqual([
    'seg-0.m4s?init=0',
    'seg-1.m4s',
    'seg-2.m4s?init=1',
    'seg-3.m4s',
    'seg-4.m4s?init=2',
  ]);
});

describe('a clip of a programme', () => {
  /** Segments of 2 s each, one after another; some of them show the slate. */
  const listed = (slates: readonly boolean[]) =>
    slates.map((isSlate, index) => ({
      sequence: index,
      programmeMs: index * 2000,
      utcMs: 1_000_000 + index * 2000,
      durationSeconds: 2,
      initNumber: 0,
      discontinuity: false,
      firstPart: index * 4,
      partCount: 4,
      ...(isSlate ? { isSlate: true as const } : {}),
    }));
  const range = (fromMs: number, toMs: number) => ({
    fromUtcMs: 1_000_000 + fromMs,
    toUtcMs: 1_000_000 + toMs,
  });

  test('is of whole segments, so that it begins at the keyframe before', () => {
    const numbers = segmentsOfClip(listed(Array(10).fill(false)), range(5000, 9000));
    expect(numbers.map(({ sequence }) => sequence)).toEqual([2, 3, 4]);
  });

  test('goes back to a segment that begins with a keyframe', () => {
    const segments = listed(Array(6).fill(false)).map((segment) => ({
      ...segment,
      independent: segment.sequence === 0 || segment.sequence === 4,
    }));
    expect(segmentsOfClip(segments, range(7000, 12_000)).map(({ sequence }) => sequence)).toEqual([
      0, 1, 2, 3, 4, 5,
    ]);
  });

  test('is none where only the slate was seen, or nothing at all', () => {
    expect(segmentsOfClip(listed([false, true, true, true, false]), range(2000, 8000))).toEqual([]);
    expect(segmentsOfClip(listed([false, false]), range(4000, 9000))).toEqual([]);
    expect(segmentsOfClip([], range(0, 9000))).toEqual([]);
  });

  test('covers what was asked for, without a hole, and no more than a segment at either end', () => {
    fc.assert(
      fc.property(
        fc.array(fc.boolean(), { minLength: 1, maxLength: 30 }),
        fc.nat(60_000),
        fc.integer({ min: 1, max: 60_000 }),
        (slates, fromMs, lengthMs) => {
          const asked = range(fromMs, fromMs + lengthMs);
          const chosen = segmentsOfClip(listed(slates), asked);
          chosen.slice(1).forEach((segment, index) => {
            expect(segment.sequence).toBe(chosen[index]!.sequence + 1);
          });
          for (const { utcMs } of chosen) {
            expect(utcMs).toBeLessThan(asked.toUtcMs);
            expect(utcMs + 2000).toBeGreaterThan(asked.fromUtcMs);
          }
          const within = listed(slates).filter(
            ({ utcMs }) => utcMs < asked.toUtcMs && utcMs + 2000 > asked.fromUtcMs,
          );
          expect(chosen.length).toBe(within.some(({ isSlate }) => !isSlate) ? within.length : 0);
        },
      ),
    );
  });
});
