import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  nextPostingStep,
  type PostingEnding,
  type PostingKnown,
  type PostingStage,
  type PostingText,
} from '../src/connectors/posting-step.js';

const wanted: PostingText = {
  title: 'Lamplight Evensong',
  text: '',
  startsAtMs: 1000,
  audience: 'everyone',
  pictureId: null,
};
const made: PostingKnown = { state: 'planned', endedBecause: null, told: wanted };
const step = (
  stage: PostingStage,
  known: PostingKnown | null,
  over: Partial<PostingText> = {},
  needsStart = false,
  isFresh = true,
) =>
  nextPostingStep({
    stage,
    known,
    wanted: { ...wanted, ...over },
    needsStart,
    isFresh,
    isAskedAgain: false,
    isPaused: false,
    isTrial: false,
    part: 1,
  });
const endedBy = (
  endedBecause: PostingEnding,
  over: {
    isAskedAgain?: boolean;
    isPaused?: boolean;
    isTrial?: boolean;
    part?: number;
    stage?: PostingStage;
  } = {},
) =>
  nextPostingStep({
    stage: 'on',
    known: { ...made, state: 'ended', endedBecause },
    wanted,
    needsStart: false,
    isFresh: true,
    isAskedAgain: false,
    isPaused: false,
    isTrial: false,
    part: 1,
    ...over,
  });

describe('a posting', () => {
  test.each<[PostingStage, string | null]>([
    ['early', null],
    ['ahead', 'post'],
    ['on', 'post'],
    ['over', null],
    ['called-off', null],
  ])('that was not made: while its event is %s the next step is %s', (stage, next) => {
    expect(step(stage, null)).toBe(next);
  });

  test('follows its event: what is said, when, to whom, then the poster', () => {
    for (const change of [
      { title: 'Evensong' },
      { text: 'From the quay' },
      { startsAtMs: 2 },
      { audience: 'friends' },
    ] as const)
      expect(step('ahead', made, change)).toBe('change');
    expect(step('ahead', made, { pictureId: 'p', title: 'Evensong' })).toBe('change');
    expect(step('ahead', made, { pictureId: 'p' })).toBe('picture');
    expect(step('ahead', { ...made, told: { ...wanted, pictureId: 'p' } })).toBeNull();
  });

  test('is begun where the platform wants that, once its event is on', () => {
    expect(step('ahead', made, {}, true)).toBeNull();
    expect(step('on', made, { title: 'Evensong' }, true)).toBe('begin');
    expect(step('on', made)).toBeNull();
    expect(step('on', { ...made, state: 'open' }, {}, true)).toBeNull();
  });

  test.each<PostingStage>(['over', 'called-off'])(
    'of an event that is %s is ended, or taken down where nobody saw it',
    (stage) => {
      expect(step(stage, { ...made, state: 'open' })).toBe('end');
      expect(step(stage, made)).toBe('take-down');
    },
  );

  test('is looked at while it is on, and before it is ended: platforms begin and end by themselves', () => {
    for (const stage of ['ahead', 'on', 'over', 'called-off'] as const)
      expect(step(stage, made, {}, false, false)).toBe('look');
    expect(step('early', made, {}, false, false)).toBeNull();
    expect(step('on', made, {}, true, false)).toBe('begin');
  });

  test('that went without a picture for too long is made again by itself, some times, and not while it is paused', () => {
    expect(endedBy('no-picture')).toBe('again');
    expect(endedBy('no-picture', { part: 3 })).toBe('again');
    expect(endedBy('no-picture', { part: 4 })).toBeNull();
    expect(endedBy('no-picture', { isPaused: true })).toBeNull();
    expect(endedBy('no-picture', { stage: 'over' })).toBeNull();
  });

  test('that lasted too long, or that somebody ended, is made again when a person asks for it', () => {
    for (const because of ['too-long', 'sender'] as const) {
      expect(endedBy(because)).toBeNull();
      expect(endedBy(because, { isAskedAgain: true, part: 9 })).toBe('again');
      expect(endedBy(because, { isAskedAgain: true, stage: 'over' })).toBeNull();
    }
  });

  test('that was only tried out is not made again, and nothing of it stays', () => {
    expect(endedBy('no-picture', { isTrial: true })).toBeNull();
    for (const stage of ['over', 'called-off'] as const)
      expect(endedBy('sender', { isTrial: true, stage })).toBe('take-down');
  });

  test('that has ended is left alone, whatever is wanted', () => {
    fc.assert(
      fc.property(
        fc.constantFrom<PostingStage>('early', 'ahead', 'on', 'over', 'called-off'),
        fc.string(),
        fc.boolean(),
        (stage, title, needsStart) => {
          const ended = { ...made, state: 'ended', endedBecause: 'sender' } as const;
          expect(step(stage, ended, { title }, needsStart)).toBeNull();
        },
      ),
    );
  });

  test('comes to rest: a step that was taken is not asked for again', () => {
    const taken = (stage: PostingStage, known: PostingKnown | null): PostingKnown | null => {
      switch (step(stage, known, { pictureId: 'p' }, true)) {
        case 'post':
          return made;
        case 'change':
        case 'picture':
          return { ...known!, told: { ...wanted, pictureId: 'p' } };
        case 'begin':
          return { ...known!, state: 'open' };
        case 'end':
          return { ...known!, state: 'ended' };
        case 'look':
        case 'take-down':
        case 'again':
        case null:
          return null;
      }
    };
    for (const stage of ['ahead', 'on'] as const) {
      let known: PostingKnown | null = null;
      for (let turn = 0; turn < 5; turn += 1) known = taken(stage, known) ?? known;
      expect(step(stage, known, { pictureId: 'p' }, true)).toBeNull();
    }
  });
});
