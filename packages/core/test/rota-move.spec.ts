import { describe, expect, test } from '@jest/globals';
import { instantOf } from '../src/schedule/civil-time.js';
import { moveOnRota, snapHours } from '../src/schedule/move-on-rota.js';

const ZONE = 'Europe/London';
const at = (local: string): number => {
  const instant = instantOf(local, ZONE);
  if (!instant.ok) throw new Error(local);
  return instant.value;
};
const evensong = { startsAtMs: at('2026-03-28T18:00'), stopsAtMs: at('2026-03-28T19:00'), zone: ZONE };

describe('moving an event on the rota', () => {
  test('across and down, it keeps its length', () => {
    expect(moveOnRota(evensong, { days: 2, hours: -1.5, edge: 'whole' })).toEqual({
      startsAtLocal: '2026-03-30T16:30',
      stopsAtLocal: '2026-03-30T17:30',
    });
  });
  test('over the change of the clocks it keeps its time of day', () => {
    expect(moveOnRota(evensong, { days: 1, hours: 0, edge: 'whole' })).toEqual({
      startsAtLocal: '2026-03-29T18:00',
      stopsAtLocal: '2026-03-29T19:00',
    });
  });
  test('by its end alone it grows and shrinks, but not to nothing', () => {
    expect(moveOnRota(evensong, { days: 0, hours: 0.75, edge: 'end' })?.stopsAtLocal).toBe(
      '2026-03-28T19:45',
    );
    expect(moveOnRota(evensong, { days: 0, hours: -1, edge: 'end' })).toBeNull();
  });
  test('snaps to the quarter hour', () => {
    expect([0.1, 0.13, -0.4].map(snapHours)).toEqual([0, 0.25, -0.5]);
  });
});
