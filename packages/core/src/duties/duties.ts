/** What somebody can be down for on the day of an event. */
export const DUTIES = ['producer', 'operator', 'moderator'] as const;
export type Duty = (typeof DUTIES)[number];

/** Who is down for what. */
export interface OnDuty {
  readonly duty: Duty;
  readonly personId: string;
}

/** The people who take turns at a duty, in their order. */
export interface DutyTurns {
  readonly duty: Duty;
  readonly personIds: readonly string[];
}

/** What somebody who was asked has said; `null` as long as they have not. */
export const ANSWERS = ['yes', 'no'] as const;
export type Answer = (typeof ANSWERS)[number];

/** Those who have not said no: one a duty, in the order of duties. */
export const onDuty = (asked: readonly (OnDuty & { readonly answer: Answer | null })[]): OnDuty[] =>
  DUTIES.flatMap((duty) =>
    asked
      .filter((one) => one.duty === duty && one.answer !== 'no')
      .map(({ personId }) => ({ duty, personId })),
  );

/**
 * Who is down for a date by turns.
 * @param turn - how many dates came before it.
 */
export const onDutyByTurns = (turns: readonly DutyTurns[], turn: number): OnDuty[] =>
  turns.flatMap(({ duty, personIds }) => {
    const personId = personIds[turn % personIds.length];
    return personId === undefined ? [] : [{ duty, personId }];
  });

/**
 * Who is asked next when somebody cannot: the one whose turn comes after theirs, without those who cannot either.
 * @param cannot - who has said no, or is needed elsewhere.
 * @returns `null` when nobody is left.
 */
export function standInFor(
  personIds: readonly string[],
  personId: string,
  cannot: ReadonlySet<string>,
): string | null {
  const at = personIds.indexOf(personId) + 1;
  const inTurn = [...personIds.slice(at), ...personIds.slice(0, at)];
  return inTurn.find((id) => id !== personId && !cannot.has(id)) ?? null;
}

/** Somebody's duty on a date. */
export interface DutyDate extends OnDuty {
  readonly eventId: string;
  readonly title: string;
  readonly startsAtMs: number;
  /** The event was cancelled. */
  readonly isOff: boolean;
}

/** What has to be told to one person. */
export interface DutyNews {
  readonly personId: string;
  readonly asked: readonly DutyDate[];
  /** At another time, off, or on after all. */
  readonly changed: readonly DutyDate[];
  /** Not needed any more, or not on a date that was taken out. */
  readonly released: readonly DutyDate[];
}

const keyOf = ({ eventId, duty, personId }: DutyDate): string => `${eventId} ${duty} ${personId}`;

/**
 * Compares who is down for what with what people were last told. Once it has been told, there is no more news.
 * @param now - how it is; cancelled dates among it.
 * @param told - what each person was last told.
 */
export function dutyNews(now: readonly DutyDate[], told: readonly DutyDate[]): DutyNews[] {
  const known = new Map(told.map((date) => [keyOf(date), date]));
  const present = new Set(now.map(keyOf));
  const asked = now.filter((date) => !date.isOff && !known.has(keyOf(date)));
  const changed = now.filter((date) => {
    const before = known.get(keyOf(date));
    return before && (before.startsAtMs !== date.startsAtMs || before.isOff !== date.isOff);
  });
  // Who heard that a date is off need not hear that they are not needed on it.
  const released = told.filter((date) => !date.isOff && !present.has(keyOf(date)));
  const people = new Set([...asked, ...changed, ...released].map(({ personId }) => personId));
  const of = (dates: readonly DutyDate[], personId: string): DutyDate[] =>
    dates
      .filter((date) => date.personId === personId)
      .sort((a, b) => a.startsAtMs - b.startsAtMs || a.duty.localeCompare(b.duty));
  return [...people].map((personId) => ({
    personId,
    asked: of(asked, personId),
    changed: of(changed, personId),
    released: of(released, personId),
  }));
}
