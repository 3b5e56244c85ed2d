import type { Check, CheckCode, Stage } from './readiness.js';

const MINUTE_MS = 60_000;

const ORDER: Readonly<Record<Check['status'], number>> = {
  stops: 0,
  warns: 1,
  advises: 2,
  later: 3,
  passed: 4,
};

/** What is still open, worst first. */
export const openChecks = (checks: readonly Check[]): Check[] =>
  checks.filter((c) => ORDER[c.status] < ORDER.later).sort((a, b) => ORDER[a.status] - ORDER[b.status]);

/** From so long before the picture begins the desk is told what is left to do. */
export const LAST_MINUTES_MS = 10 * MINUTE_MS;
/** What takes longer than the last minutes, or changes nothing of what viewers will see and hear. */
const TOO_LATE_FOR: ReadonlySet<CheckCode> = new Set(['poster', 'people', 'overrun', 'advice', 'disk']);

/** What is open, worst first, and can still be put right in the last minutes. */
export const lastMinuteChecks = (checks: readonly Check[]): Check[] =>
  openChecks(checks).filter(({ code, status }) => status !== 'advises' && !TOO_LATE_FOR.has(code));

/** How far a stage has come, 0 to 1, and what is open in it. */
export function stageProgress(
  checks: readonly Check[],
  stage: Stage,
): { done: number; open: number; later: number } {
  const own = checks.filter((c) => c.stage === stage);
  const passed = own.filter((c) => c.status === 'passed').length;
  const later = own.filter((c) => c.status === 'later').length;
  return { done: own.length === 0 ? 0 : passed / own.length, open: own.length - passed - later, later };
}
