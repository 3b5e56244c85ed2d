import { describe, expect, test } from '@jest/globals';
import type { DutyDate } from '@heliphon/core/duties/duties';
import type { Check } from '@heliphon/core/readiness/readiness';
import { cannotComeLetter, dutyNewsLetter } from '../src/duties/duty-letter-texts.js';
import { type MorningEvent, morningLetter } from '../src/mornings/morning-letter-text.js';

const ZONE = 'Europe/London';
/** In summer, so that the zone can be told from UTC. */
const SUNDAY_MS = Date.UTC(2028, 5, 4, 9, 30);
const HOUR_MS = 3_600_000;

describe('a letter about duties', () => {
  const date = (over: Partial<DutyDate> = {}): DutyDate => ({
    eventId: 'sunday',
    title: 'Evensong',
    startsAtMs: SUNDAY_MS,
    duty: 'operator',
    personId: 'odo',
    isOff: false,
    ...over,
  });
  const letter = (over: Partial<Parameters<typeof dutyNewsLetter>[0]>) =>
    dutyNewsLetter({
      name: 'Odo',
      houseName: 'Lantern Quay Commons',
      zone: ZONE,
      link: 'https://live.example.org/duties/s3cret',
      asked: [],
      changed: [],
      released: [],
      ...over,
    });

  test('asks for one date in its subject, and for several by their number', () => {
    expect(letter({ asked: [date()] }).subject).toBe(
      'Can you come? Sun 4 Jun, 10:30 at Lantern Quay Commons',
    );
    const two = [date(), date({ eventId: 'next', startsAtMs: SUNDAY_MS + 7 * 24 * HOUR_MS })];
    expect(letter({ asked: two }).subject).toBe('Can you come? 2 dates at Lantern Quay Commons');
  });

  test('tells only what there is to tell, by the clock of the house, with the one link', () => {
    const { subject, text } = letter({ changed: [date(), date({ isOff: true, title: 'Vespers' })] });
    expect(subject).toBe('Your duties at Lantern Quay Commons have changed');
    expect(text).toContain('- Sun 4 Jun, 10:30: Evensong, as operator (new time)');
    expect(text).toContain('- Sun 4 Jun, 10:30: Vespers, as operator (cancelled: no need to come)');
    expect(text).not.toContain('Could you help on');
    expect(text).not.toContain('no longer needed');
    expect(text.match(/https:\/\//g)).toHaveLength(1);
  });

  test('of somebody who cannot come names who was asked instead, or that nobody was', () => {
    const facts = {
      name: 'Ines',
      who: 'Odo',
      duty: 'operator',
      note: '',
      title: 'Evensong',
      startsAtMs: SUNDAY_MS,
      zone: ZONE,
    } as const;
    const alone = cannotComeLetter({ ...facts, standIn: null });
    expect(alone.subject).toBe('Odo cannot come: Evensong, Sun 4 Jun, 10:30');
    expect(alone.text).toContain('Nobody has been asked instead.');
    expect(alone.text).not.toContain('They say');
    const helped = cannotComeLetter({ ...facts, note: 'At sea.', standIn: 'Pell' });
    expect(helped.text).toContain('They say: “At sea.”');
    expect(helped.text).toContain('Pell is next on the rota and has been asked.');
  });
});

describe('the letter of the morning', () => {
  const check = (over: Partial<Check>): Check => ({
    code: 'poster',
    stage: 'plan',
    status: 'warns',
    detail: {},
    ...over,
  });
  const event = (over: Partial<MorningEvent> = {}): MorningEvent => ({
    title: 'Evensong',
    startsAtMs: SUNDAY_MS,
    stopsAtMs: SUNDAY_MS + HOUR_MS,
    isCancelled: false,
    checks: [],
    people: [],
    link: 'https://live.example.org/events/1',
    ...over,
  });
  const letter = (today: readonly MorningEvent[], soon: readonly MorningEvent[] = []) =>
    morningLetter({ name: 'Ines', houseName: 'Lantern Quay Commons', zone: ZONE, today, soon });

  test('says so when nothing stands in the way', () => {
    const { subject, text } = letter([
      event({ checks: [check({ status: 'passed' }), check({ status: 'later' })] }),
    ]);
    expect(subject).toBe('“Evensong” today: nothing left to do');
    expect(text).toContain('10:30 to 11:30  Evensong\n  Everything is ready.');
  });

  test('names what is open, worst first, with what it means and how much it weighs', () => {
    const checks = [check({}), check({ code: 'source-chosen', status: 'stops' })];
    const { subject, text } = letter([event({ checks })]);
    expect(subject).toBe('“Evensong” today: 2 still to do');
    expect(
      text.indexOf('No source is chosen (must be put right). Without one there is no picture.'),
    ).toBeGreaterThan(0);
    expect(text.indexOf('No source is chosen')).toBeLessThan(
      text.indexOf('There is no poster (should be put right)'),
    );
  });

  test('counts several, names who is on duty, and keeps a cancelled one short', () => {
    const people = [
      { duty: 'operator', name: 'Odo', isSure: true },
      { duty: 'moderator', name: 'Pell', isSure: false },
    ] as const;
    const { subject, text } = letter([event({ people }), event({ title: 'Choir', isCancelled: true })]);
    expect(subject).toBe('2 events today: nothing left to do');
    expect(text).toContain('On duty: Odo (operator), Pell (moderator, not answered)');
    expect(text).toContain('10:30 to 11:30  Choir: cancelled');
  });

  test('has the day of what is to come, and a subject of its own where nothing is on', () => {
    const { subject, text } = letter([], [event({ checks: [check({})] })]);
    expect(subject).toBe('Something to do for Lantern Quay Commons');
    expect(text).toContain('Coming up:\n\nSun 4 Jun, 10:30 to 11:30  Evensong');
    expect(text).not.toContain('Today:');
  });
});
