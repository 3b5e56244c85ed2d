import { type Fault, isHeavier, type Noticed, NOTICED_NOTHING } from './fault.js';
import { FAULT_RULES, type FaultFacts, type FaultRule, type Finding } from './fault-rules.js';
import { learn, NOTHING_USUAL, type Usual } from './usual.js';

/** Something that was found, whether or not it has lasted long enough to be a fault. */
interface Trace {
  readonly rule: FaultRule['name'];
  readonly fault: Fault;
  readonly isOpen: boolean;
  readonly lastFoundMs: number;
}

/** Follows one programme while it is on air. */
export interface FaultWatch {
  /** By rule and subject. */
  readonly traces: ReadonlyMap<string, Trace>;
  /** When the last fault of a rule and subject was over: the next begins no earlier. */
  readonly overAtMs: ReadonlyMap<string, number>;
  readonly usual: Usual;
  readonly steppedAtMs: number | null;
}

export const NOTHING_WATCHED: FaultWatch = {
  traces: new Map(),
  overAtMs: new Map(),
  usual: NOTHING_USUAL,
  steppedAtMs: null,
};

const USUAL_STEP_MS = 1000;
/** A node that was busy for longer does not know what happened meanwhile. */
const LONGEST_STEP_MS = 5000;
const OF_SOURCE: readonly FaultRule['name'][] = ['node-away', 'encoder-gone', 'line-weak', 'encoder-slow'];

/**
 * The next step of the watch, about once a second.
 * @returns the faults that began or were over with this step, beside the watch.
 */
export function watchFaults(
  watch: FaultWatch,
  facts: FaultFacts,
): { readonly watch: FaultWatch; readonly changed: readonly Fault[] } {
  const { nowMs, source } = facts;
  const stepMs = Math.min(
    LONGEST_STEP_MS,
    Math.max(0, nowMs - (watch.steppedAtMs ?? Math.max(facts.airAtMs, nowMs - USUAL_STEP_MS))),
  );
  const report = source && !source.isAway ? source.report : null;
  const isWell = ![...watch.traces.values()].some(({ rule }) => OF_SOURCE.includes(rule));
  const usual = report ? learn(watch.usual, report, { nowMs, stepMs, isWell }) : watch.usual;
  const traces = new Map<string, Trace>();
  const overAtMs = new Map(watch.overAtMs);
  const changed: Fault[] = [];
  const names = new Set<FaultRule['name']>();
  for (const rule of FAULT_RULES) {
    const isConsequence = rule.follows.some((name) => names.has(name));
    const found = isConsequence ? [] : rule.find(facts, usual).filter(isKnownOrNew(rule, watch));
    if (found.length > 0) names.add(rule.name);
    const before = [...watch.traces].filter(([, trace]) => trace.rule === rule.name);
    for (const finding of found) {
      const key = keyOf(rule, finding.subjectId);
      const last = watch.traces.get(key);
      // What closed the connection may turn out to refuse the key: that is what has to be mended.
      const isOther =
        last !== undefined && finding.detail !== null && isHeavier(finding.kind, last.fault.kind);
      if (isOther && last.isOpen) {
        changed.push(closed(last));
        overAtMs.set(key, last.lastFoundMs);
      }
      const known = last && !isOther ? last : begin(finding, facts, overAtMs.get(key) ?? facts.airAtMs);
      const trace = step(rule, known, finding, facts, stepMs);
      traces.set(key, trace);
      if (trace.isOpen && !known.isOpen) changed.push(trace.fault);
    }
    for (const [key, trace] of before) {
      if (traces.has(key)) continue;
      if (!isConsequence && trace.isOpen && nowMs - trace.lastFoundMs < rule.closesAfterMs)
        traces.set(key, trace);
      else if (trace.isOpen) {
        changed.push(closed(trace));
        overAtMs.set(key, trace.lastFoundMs);
      }
    }
  }
  return { watch: { traces, overAtMs, usual, steppedAtMs: nowMs }, changed };
}

/** What is open now, in the order of the rules. */
export const openFaults = ({ traces }: FaultWatch): Fault[] =>
  [...traces.values()].flatMap(({ isOpen, fault }) => (isOpen ? [fault] : []));

/** The programme is over, and with it whatever was wrong. */
export const endFaults = ({ traces }: FaultWatch): Fault[] =>
  [...traces.values()].flatMap((trace) => (trace.isOpen ? [closed(trace)] : []));

const keyOf = ({ name }: FaultRule, subjectId: string): string => `${name} ${subjectId}`;

/** What is found as before has to have been found before. */
const isKnownOrNew =
  (rule: FaultRule, { traces }: FaultWatch) =>
  ({ subjectId, detail }: Finding): boolean =>
    detail !== null || traces.has(keyOf(rule, subjectId));

const closed = ({ fault, lastFoundMs }: Trace): Fault => ({ ...fault, toMs: lastFoundMs });

/** What was found late has been there all the while, but not since before `earliestMs`. */
function begin(
  { kind, subjectId, detail, sinceMs }: Finding,
  { nowMs }: FaultFacts,
  earliestMs: number,
): Omit<Trace, 'rule'> {
  const fromMs = Math.max(earliestMs, sinceMs ?? nowMs);
  const fault = {
    kind,
    subjectId,
    detail: detail ?? {},
    fromMs,
    toMs: null,
    noticed: NOTICED_NOTHING,
    viewerMs: 0,
  };
  return { fault, isOpen: false, lastFoundMs: fromMs };
}

function step(
  rule: FaultRule,
  { fault, isOpen, lastFoundMs }: Omit<Trace, 'rule'>,
  { detail }: Finding,
  facts: FaultFacts,
  stepMs: number,
): Trace {
  const { nowMs } = facts;
  return {
    rule: rule.name,
    fault: cost(
      { ...fault, detail: detail ?? fault.detail },
      rule,
      facts,
      Math.max(stepMs, isOpen ? 0 : nowMs - lastFoundMs),
    ),
    isOpen: isOpen || nowMs - fault.fromMs >= rule.opensAfterMs,
    lastFoundMs: nowMs,
  };
}

/** Adds what viewers noticed of a fault in the last step. */
function cost(fault: Fault, rule: FaultRule, facts: FaultFacts, stepMs: number): Fault {
  const { viewersHave, viewers, replaced } = facts;
  const what = noticedOf(rule, viewersHave);
  // Of two that are both gone the one that should feed the programme costs viewers their picture.
  if (what === null || fault.subjectId === replaced?.sourceId) return fault;
  return {
    ...fault,
    noticed: { ...fault.noticed, [what]: fault.noticed[what] + stepMs },
    viewerMs: fault.viewerMs + viewers * stepMs,
  };
}

/** What is wrong with a picture is noticed by those who have it; that it has gone, by those who have not. */
function noticedOf({ spoils, isOutage }: FaultRule, have: FaultFacts['viewersHave']): keyof Noticed | null {
  if (have === 'picture') return spoils;
  if (!isOutage) return null;
  return have === 'slate' ? 'slateMs' : have === 'nothing' ? 'nothingMs' : null;
}
