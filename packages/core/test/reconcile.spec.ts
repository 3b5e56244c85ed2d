import { describe, expect, test } from '@jest/globals';
import type { RenditionChoice } from '../src/ladder/renditions.js';
import fc from 'fast-check';
import { type DesiredProgramme, type DesiredState, NO_DESIRED_STATE } from '../src/control/desired-state.js';
import { type Action, type ActualProgramme, type ActualState, reconcile } from '../src/control/reconcile.js';
import type { EventLife } from '../src/schedule/event-life.js';

const NOW = 1_000_000_000;
const IDS = ['p1', 'p2', 'p3'];
const SOURCES = ['s1', 's2'];
const PLACES = ['d1', 'd2', 'd3'];

const minutes = fc.integer({ min: -120, max: 120 }).map((value) => NOW + value * 60_000);
const life: fc.Arbitrary<EventLife> = fc.oneof(
  fc.constant({ state: 'planned' } as const),
  fc.record({ state: fc.constant('doors' as const), doorsAtMs: minutes }),
  fc.record({ state: fc.constant('air' as const), doorsAtMs: minutes, airAtMs: minutes }),
  fc.record({
    state: fc.constant('kept' as const),
    doorsAtMs: minutes,
    airAtMs: minutes,
    endAtMs: minutes,
    cause: fc.constant('by-hand' as const),
  }),
);
const destination = fc.record({
  destinationId: fc.constantFrom(...PLACES),
  address: fc.constantFrom('a', 'b'),
  rendition: fc.constantFrom(null, '480p'),
});
const destinations = fc.uniqueArray(destination, { selector: (d) => d.destinationId });

const FILMS = ['f1', 'f2'];
const CLIPS = ['clip1', 'clip2'];
const film = fc.option(
  fc.record({
    fileId: fc.constantFrom(...FILMS),
    sizeBytes: fc.constant(1000),
    durationMs: fc.integer({ min: 1000, max: 4 * 3_600_000 }),
    standsAlone: fc.boolean(),
  }),
  { nil: null },
);
const slate = fc.option(
  fc.record({
    awayAfterMs: fc.constantFrom(500, 1500),
    stillIds: fc.record({ coming: fc.constant('one'), back: fc.constantFrom('two', 'three') }),
    sound: fc.constantFrom(null, { fileId: 'bells', sizeBytes: 1 }),
  }),
  { nil: null },
);
const renditions: fc.Arbitrary<RenditionChoice> = fc.constantFrom<RenditionChoice[]>('off', 'auto', [
  { heightPx: 480, videoBitrateBps: null },
]);
const standby = fc.option(
  fc.record({
    sourceId: fc.constantFrom(...SOURCES),
    afterMs: fc.constantFrom(null, 1000),
    isPreferred: fc.boolean(),
  }),
  { nil: null },
);
const wanted: fc.Arbitrary<DesiredProgramme> = fc.record({
  standby,
  programmeId: fc.constantFrom(...IDS),
  houseId: fc.constant('h'),
  sourceId: fc.option(fc.constantFrom(...SOURCES), { nil: null }),
  plan: minutes.chain((startMs) =>
    fc.record({
      doorsAtMs: fc.constant(startMs - 900_000),
      airAtMs: fc.constant(startMs),
      stopAtMs: fc.constant(startMs + 3_600_000),
      hardStopAtMs: fc.constant(startMs + 5_400_000),
      deadAirMs: fc.constant(600_000),
    }),
  ),
  command: fc.option(
    fc.record({
      commandId: fc.constantFrom('c1', 'c2'),
      kind: fc.constantFrom('open-doors' as const, 'go-on-air' as const, 'end' as const),
      atMs: minutes,
    }),
    { nil: null },
  ),
  rewindWindowMs: fc.constantFrom(60_000, 600_000),
  slate,
  renditions,
  keepsRenditions: fc.boolean(),
  takenOver: fc.constant(null),
  film,
  grantsValidFromMs: fc.constant({ public: 0, desk: 0 }),
  destinations,
});
const desired: fc.Arbitrary<DesiredState> = fc.record({
  revision: fc.nat(),
  issuedAtMs: fc.constant(NOW),
  clockOffsetMs: fc.constant(0),
  grantKeys: fc.constant([]),
  sources: fc.subarray(SOURCES).map((ids) =>
    ids.map((sourceId) => ({
      sourceId,
      user: sourceId,
      keySha256Hex: `key of ${sourceId}`,
      password: null,
      lines: [],
      srt: null,
      followsProgrammeId: null,
      grantsValidFromMs: 0,
    })),
  ),
  programmes: fc.uniqueArray(wanted, { selector: (p) => p.programmeId }),
  binnedRecordings: fc.constant([]),
  guardedReplays: fc.constant([]),
  grantTurns: fc.constant({}),
  recordingsWithGaps: fc.constant([]),
  removedRecordings: fc
    .subarray(['old1', 'old2'])
    .map((ids) => ids.map((programmeId) => ({ programmeId, houseId: 'h' }))),
  elsewhere: fc.subarray(IDS),
  joins: fc.constant([]),
  clips: fc
    .subarray(CLIPS)
    .map((ids) =>
      ids.map((clipId) => ({ clipId, houseId: 'h', programmeId: 'p1', fromUtcMs: 0, toUtcMs: 1 })),
    ),
});

const actualProgramme: fc.Arbitrary<ActualProgramme> = fc.record({
  programmeId: fc.constantFrom(...IDS),
  life,
  sourceId: fc.option(fc.constantFrom(...SOURCES), { nil: null }),
  standby,
  lastCommandId: fc.option(fc.constantFrom('c1', 'c2'), { nil: null }),
  rewindWindowMs: fc.constantFrom(0, 600_000),
  slate,
  renditions,
  keepsRenditions: fc.boolean(),
  film: fc.option(
    fc.record({
      fileId: fc.constantFrom(...FILMS),
      state: fc.constantFrom('playing' as const, 'broken-off' as const, 'over' as const),
    }),
    { nil: null },
  ),
  signal: fc.record({
    known: fc.constant(true as const),
    present: fc.boolean(),
    lastFrameAtMs: fc.option(minutes, { nil: null }),
  }),
  destinations,
});
const actual: fc.Arbitrary<ActualState> = fc.record({
  isSettled: fc.boolean(),
  programmes: fc.uniqueArray(actualProgramme, { selector: (p) => p.programmeId }),
  connections: fc.uniqueArray(
    fc.record({
      connectionId: fc.constantFrom('x', 'y'),
      sourceId: fc.constantFrom(...SOURCES),
      credential: fc.constantFrom('key of s1', 'key of s2', 'an old key'),
    }),
    { selector: (c) => c.connectionId },
  ),
  films: fc.subarray(FILMS).map((ids) => new Set(ids)),
  removedRecordings: fc.subarray(['old1', 'old2']).map((ids) => new Set(ids)),
  doneClips: fc.subarray(CLIPS).map((ids) => new Set(ids)),
});

/** What carrying out an action makes of a node, as far as reconcile can see it. */
function apply(state: ActualState, action: Action): ActualState {
  if (action.type === 'cut-connection') {
    return { ...state, connections: state.connections.filter((c) => c.connectionId !== action.connectionId) };
  }
  if (action.type === 'remove-recording')
    return { ...state, removedRecordings: new Set([...state.removedRecordings, action.programmeId]) };
  if (action.type === 'cut-clip')
    return { ...state, doneClips: new Set([...state.doneClips, action.clip.clipId]) };
  if (action.type === 'open-programme') {
    const signal = { known: true, present: false, lastFrameAtMs: null } as const;
    const none = {
      lastCommandId: null,
      sourceId: null,
      standby: null,
      film: null,
      slate: null,
      renditions: 'off',
      keepsRenditions: true,
    } as const;
    const opened = { ...none, rewindWindowMs: 0, destinations: [], signal };
    return {
      ...state,
      programmes: [
        ...state.programmes,
        { ...opened, programmeId: action.programmeId, life: { state: 'planned' } },
      ],
    };
  }
  if (action.type === 'close-programme') {
    return { ...state, programmes: state.programmes.filter((p) => p.programmeId !== action.programmeId) };
  }
  const change = (programme: ActualProgramme): ActualProgramme => {
    switch (action.type) {
      case 'move-programme':
        return { ...programme, life: action.life, lastCommandId: action.commandId };
      case 'set-source':
        return { ...programme, sourceId: action.sourceId, standby: action.standby };
      case 'set-rewind-window':
        return { ...programme, rewindWindowMs: action.rewindWindowMs };
      case 'set-slate':
        return { ...programme, slate: action.slate };
      case 'set-renditions':
        return { ...programme, renditions: action.choice, keepsRenditions: action.isKept };
      case 'start-film':
        return { ...programme, film: { fileId: action.fileId, state: 'playing' } };
      case 'stop-film':
        return { ...programme, film: programme.film && { ...programme.film, state: 'over' } };
      case 'start-destination':
        return {
          ...programme,
          destinations: [...programme.destinations, action.destination],
        };
      case 'feed-destination':
        return {
          ...programme,
          destinations: programme.destinations.map((destination) =>
            destination.destinationId === action.destinationId
              ? { ...destination, rendition: action.rendition }
              : destination,
          ),
        };
      case 'stop-destination':
        return {
          ...programme,
          destinations: programme.destinations.filter((d) => d.destinationId !== action.destinationId),
        };
    }
  };
  return {
    ...state,
    programmes: state.programmes.map((p) => (p.programmeId === action.programmeId ? change(p) : p)),
  };
}

test('from any state it reaches in a few rounds one that needs no action, and a second run finds none', () => {
  fc.assert(
    fc.property(desired, actual, (want, is) => {
      let state = is;
      let rounds = 0;
      for (; rounds < 6; rounds += 1) {
        const actions = reconcile(want, state, NOW);
        if (actions.length === 0) break;
        state = actions.reduce(apply, state);
      }
      expect(rounds).toBeLessThan(6);
      expect(reconcile(want, state, NOW)).toEqual([]);
      for (const connection of state.connections) {
        expect(
          want.sources.some(
            (s) => s.sourceId === connection.sourceId && s.keySha256Hex === connection.credential,
          ),
        ).toBe(true);
      }
    }),
    { numRuns: 400 },
  );
});

describe('what is on air and not asked for', () => {
  const onAir = { programmeId: 'p1', life: { state: 'air', doorsAtMs: 1, airAtMs: 2 } } as ActualProgramme;
  const nothing = {
    isSettled: true,
    connections: [],
    films: new Set<string>(),
    removedRecordings: new Set<string>(),
    doneClips: new Set<string>(),
  };
  const alone = { programmes: [onAir], ...nothing };

  test('an empty desired state does not end it', () => {
    expect(reconcile(NO_DESIRED_STATE, alone, NOW)).toEqual([]);
  });

  test('it is closed once the server says that it runs at another node', () => {
    const closed = { type: 'close-programme', programmeId: 'p1' };
    expect(reconcile({ ...NO_DESIRED_STATE, elsewhere: ['p1'] }, alone, NOW)).toEqual([closed]);
  });

  test('it is closed, and then removed, once its recording is to be deleted for good', () => {
    const removed = { programmeId: 'p1', houseId: 'h' };
    expect(reconcile({ ...NO_DESIRED_STATE, removedRecordings: [removed] }, alone, NOW)).toEqual([
      { type: 'close-programme', programmeId: 'p1' },
      { type: 'remove-recording', ...removed },
    ]);
  });
});

describe('a node that has just come back', () => {
  const HOUR_MS = 3_600_000;
  const plan = {
    doorsAtMs: NOW - 2 * HOUR_MS,
    airAtMs: NOW - HOUR_MS,
    stopAtMs: NOW + HOUR_MS,
    hardStopAtMs: NOW + 2 * HOUR_MS,
    deadAirMs: 600_000,
  };
  const wantedNow = {
    programmeId: 'p1',
    houseId: 'h',
    sourceId: null,
    plan,
    command: null,
  } as DesiredProgramme;
  const state = (isSettled: boolean, lastFrameAtMs: number): ActualState => ({
    isSettled,
    connections: [],
    films: new Set(),
    removedRecordings: new Set(),
    doneClips: new Set(),
    programmes: [
      {
        programmeId: 'p1',
        life: { state: 'air', doorsAtMs: plan.doorsAtMs, airAtMs: plan.airAtMs },
        sourceId: null,
        standby: null,
        lastCommandId: null,
        rewindWindowMs: 0,
        slate: null,
        renditions: 'off',
        keepsRenditions: true,
        film: null,
        signal: { known: true, present: false, lastFrameAtMs },
        destinations: [],
      },
    ],
  });
  const movesIn = (isSettled: boolean, lastFrameAtMs: number): Action[] => {
    const wish = {
      ...wantedNow,
      standby: null,
      rewindWindowMs: 0,
      slate: null,
      renditions: 'off' as const,
      keepsRenditions: true,
      film: null,
      destinations: [],
    };
    const desired = { ...NO_DESIRED_STATE, programmes: [wish] };
    return reconcile(desired, state(isSettled, lastFrameAtMs), NOW);
  };

  test('ends nothing for want of a picture, until encoders have had time to come back', () => {
    expect(movesIn(false, NOW - 700_000)).toEqual([]);
    expect(movesIn(true, NOW - 700_000)).toMatchObject([
      { type: 'move-programme', life: { state: 'kept', cause: 'dead-air', endAtMs: NOW - 100_000 } },
    ]);
  });

  test('counts dead air from the last frame that anybody knows of, not from the beginning', () => {
    expect(movesIn(true, NOW - 30_000)).toEqual([]);
  });
});
