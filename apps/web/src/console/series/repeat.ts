import { type Rule, usualRules, withEnd } from '@heliphon/core/schedule/rule-choices';

/** How something repeats, as it is being chosen. */
export interface Repeat {
  /** Which of the usual rules; `own` for a rule in the words of RFC 5545. */
  readonly kind: string;
  readonly own: string;
  readonly end: 'never' | 'day' | 'count';
  readonly untilDate: string;
  readonly count: number;
}

export const newRepeat = (firstDate: string): Repeat => ({
  kind: 'weekly',
  own: '',
  end: 'never',
  untilDate: firstDate,
  count: 10,
});

/** The choice that comes to a rule there is. */
export function repeatOf(rule: Rule, firstDate: string): Repeat {
  const open = withEnd(rule.text, null);
  const usual = usualRules(firstDate).find((choice) => choice.rule.text === open);
  return {
    kind: usual?.kind ?? 'own',
    own: open,
    end: rule.untilDate ? 'day' : rule.count ? 'count' : 'never',
    untilDate: rule.untilDate ?? firstDate,
    count: rule.count ?? 10,
  };
}

/** The rule that was chosen. */
export function ruleOf({ kind, own, end, untilDate, count }: Repeat, firstDate: string): string {
  const rules = usualRules(firstDate);
  const text = kind === 'own' ? own : (rules.find((rule) => rule.kind === kind) ?? rules[0]!).rule.text;
  return withEnd(text, end === 'day' ? { untilDate } : end === 'count' ? { count } : null);
}
