import { addDays, isDay } from '@heliphon/core/schedule/civil-time';
import { occurrencesOf, readRule, RULE_LIMITS } from '@heliphon/core/schedule/recurrence';
import type { Rule } from '@heliphon/core/schedule/rule-choices';
import type { SeriesWhen } from '@heliphon/contracts/series';
import { refusedField } from '../platform/problems.js';
import { dayOf } from './series-dates.js';

const YEAR_DAYS = 366;
/** How far a rule is looked along for its next dates. */
const LOOK_AHEAD_DAYS = 5 * YEAR_DAYS;

/** The last day on which dates are looked for. */
export const lookUntil = (from: string): string =>
  dayOf(addDays(Date.parse(`${from}T12:00Z`), LOOK_AHEAD_DAYS, 'UTC'), 'UTC');

/** The rule that somebody typed. @throws ProblemError 422 for one that makes no sense */
export function checkedRule(text: string): Rule {
  const rule = readRule(text);
  if (rule.ok) return rule.value;
  const { code, ...params } = rule.error;
  throw refusedField('rule', `rule-${code}`, params);
}

/** As `checkedRule`, for one that gives dates, from a first day that is not far away. @throws ProblemError 422 */
export function checkedDates(when: SeriesWhen, zone: string, today: string): Rule {
  const rule = checkedRule(when.rule);
  if (!isDay(when.firstDate)) throw refusedField('firstDate', 'no-such-date');
  const years = Math.abs(Date.parse(when.firstDate) - Date.parse(today)) / (YEAR_DAYS * 86_400_000);
  if (years > RULE_LIMITS.years)
    throw refusedField('firstDate', 'first-date-far', { years: RULE_LIMITS.years });
  const until = lookUntil(when.firstDate);
  if (occurrencesOf({ ...when, rule, zone }, when.firstDate, until, 1).length === 0)
    throw refusedField('rule', 'rule-without-dates');
  return rule;
}
