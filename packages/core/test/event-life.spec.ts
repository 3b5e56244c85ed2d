import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  COMMAND_KINDS,
  COMMANDS_FROM,
  EVENT_STATES,
  type EventLife,
  moveEvent,
  planOf,
  type SignalKnowledge,
} from '../src/schedule/event-life.js';

const MINUTE = 60_000;
const START = 100 * 60 * MINUTE;
const plan = planOf({
  startsAtMs: START,
  stopsAtMs: START + 60 * MINUTE,
  doorsMinutes: 15,
  overrunMinutes: 30,
  deadAirMinutes: 10,
  filmMs: 0,
});
const present: SignalKnowledge = { known: true, present: true, lastFrameAtMs: START };
const gone = (lastFrameAtMs: number | null): SignalKnowledge => ({
  known: true,
  present: false,
  lastFrameAtMs,
});
const at = (nowMs: number, signal: SignalKnowledge, life: EventLife = { state: 'planned' }): EventLife =>
  moveEvent(life, { type: 'clock', nowMs, plan, signal });
const onAir: EventLife = { state: 'air', doorsAtMs: plan.doorsAtMs, airAtMs: START };

describe('by the clock', () => {
  test('doors open and air begins at their instants, however late somebody looks', () => {
    expect(at(plan.doorsAtMs - 1, present).state).toBe('planned');
    expect(at(plan.doorsAtMs + 5, present)).toEqual({ state: 'doors', doorsAtMs: plan.doorsAtMs });
    expect(at(START + 5 * MINUTE, present)).toEqual(onAir);
  });

  test('an event with a picture goes on past its stop until the overrun is used up', () => {
    expect(at(plan.stopAtMs + 29 * MINUTE, present, onAir)).toBe(onAir);
    expect(at(plan.hardStopAtMs, present, onAir)).toMatchObject({
      state: 'kept',
      cause: 'overrun-used-up',
      endAtMs: plan.hardStopAtMs,
    });
  });

  test('without a picture it ends at its stop', () => {
    const ended = at(plan.stopAtMs, gone(plan.stopAtMs - MINUTE), onAir);
    expect(ended).toMatchObject({ cause: 'stop-without-signal', endAtMs: plan.stopAtMs });
  });

  test('dead air counts from the last picture, and from air where there was none', () => {
    const last = START + 20 * MINUTE;
    expect(at(last + 10 * MINUTE - 1, gone(last), onAir)).toBe(onAir);
    expect(at(last + 10 * MINUTE, gone(last), onAir)).toMatchObject({
      cause: 'dead-air',
      endAtMs: last + 10 * MINUTE,
    });
    expect(at(START + 10 * MINUTE, gone(null), onAir)).toMatchObject({ cause: 'dead-air' });
    expect(at(START + 9 * MINUTE, gone(START - 60 * MINUTE), onAir)).toBe(onAir);
  });

  test('where nobody knows of the picture, only the whole overrun ends it', () => {
    expect(at(plan.hardStopAtMs, { known: false }, onAir)).toBe(onAir);
    expect(at(plan.hardStopAtMs + MINUTE, { known: false }, onAir)).toMatchObject({
      endAtMs: plan.hardStopAtMs,
    });
  });
});

describe('by hand', () => {
  test('the table of commands is what the reducer does', () => {
    const lives: Record<string, EventLife> = {
      planned: { state: 'planned' },
      doors: { state: 'doors', doorsAtMs: 1 },
      air: onAir,
      kept: { ...onAir, state: 'kept', endAtMs: START + 1, cause: 'by-hand' },
      cancelled: { state: 'cancelled', atMs: 1 },
    };
    for (const state of EVENT_STATES) {
      for (const kind of COMMAND_KINDS) {
        const life = lives[state]!;
        const moved = moveEvent(life, { type: 'command', kind, nowMs: START });
        expect(moved !== life).toBe(COMMANDS_FROM[state].includes(kind));
      }
    }
  });

  test('going on air from planned passes through the doors', () => {
    const moved = moveEvent({ state: 'planned' }, { type: 'command', kind: 'go-on-air', nowMs: 5 });
    expect(moved).toEqual({ state: 'air', doorsAtMs: 5, airAtMs: 5 });
  });
});

test('no order of events runs a life back, and asking twice changes nothing', () => {
  const event = fc.oneof(
    fc.record({
      type: fc.constant('clock' as const),
      at: fc.integer({ min: -30, max: 120 }),
      there: fc.boolean(),
    }),
    fc.record({
      type: fc.constant('command' as const),
      kind: fc.constantFrom(...COMMAND_KINDS),
      at: fc.integer({ min: -30, max: 120 }),
    }),
  );
  fc.assert(
    fc.property(fc.array(event, { maxLength: 20 }), (events) => {
      let life: EventLife = { state: 'planned' };
      for (const each of events) {
        const nowMs = START + each.at * MINUTE;
        const step =
          each.type === 'clock'
            ? ({ type: 'clock', nowMs, plan, signal: each.there ? present : gone(null) } as const)
            : ({ type: 'command', kind: each.kind, nowMs } as const);
        const next = moveEvent(life, step);
        expect(EVENT_STATES.indexOf(next.state)).toBeGreaterThanOrEqual(EVENT_STATES.indexOf(life.state));
        if (step.type === 'clock') expect(moveEvent(next, step)).toBe(next);
        life = next;
      }
    }),
  );
});
