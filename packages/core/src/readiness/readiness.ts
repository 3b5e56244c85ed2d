import { heavierTrouble, type OutletStanding, outletTrouble } from '../connectors/outlet-trouble.js';
import type { Answer, Duty } from '../duties/duties.js';
import type { EventState } from '../schedule/event-life.js';
import type { LoudnessReport } from '../loudness/loudness-meter.js';
import { type AdviceLine, compareWithAdvice } from '../ladder/compare-with-advice.js';
import type { PictureSize } from '../ladder/picture-sizes.js';
import type { SourceKind } from '../ingest/source-kinds.js';
import { judgeSizes, type ReadinessSizes } from './judge-sizes.js';
import { codedAs, type SourceReport } from '../signal/source-report.js';

export const CHECK_CODES = [
  'source-chosen',
  'source-free',
  'overrun',
  'places',
  'accounts',
  'people',
  'poster',
  'look',
  'watching',
  'film',
  'disk',
  'source-here',
  'codecs',
  'picture',
  'loudness',
  'sound',
  'keyframes',
  'advice',
  'standby',
  'sizes',
] as const;
export type CheckCode = (typeof CHECK_CODES)[number];

/** The stage of the workspace in which a check is put right. */
export const STAGES = ['plan', 'connect', 'rehearse', 'air', 'keep'] as const;
export type Stage = (typeof STAGES)[number];

/** Stops the event from going out well, warns, or only advises. */
export type Severity = 'stops' | 'warns' | 'advises';

export interface Check {
  readonly code: CheckCode;
  readonly stage: Stage;
  /** `later` cannot be told yet, or is not worth saying yet: the source is not expected, or there is time. */
  readonly status: 'passed' | 'later' | Severity;
  /** Fills the catalogue's sentence. */
  readonly detail: Readonly<Record<string, string | number>>;
}

/** Somebody who was asked for a duty. */
export interface AskedPerson {
  readonly duty: Duty;
  readonly name: string;
  readonly answer: Answer | null;
  /** Another event at the same time that they are down for. */
  readonly elsewhere: string | null;
}

export interface ReadinessSource {
  readonly id: string;
  readonly name: string;
  readonly kind: SourceKind;
  /** Whether the node has the film that a source of that kind plays. */
  readonly hasFile: boolean;
  /** The ingest point chosen for it has gone, and where to send meanwhile; `null` where that is as it should be. */
  readonly strayed: { readonly gone: string; readonly sendTo: string } | null;
  /** What its encoder was advised; `null` where nobody asked. */
  readonly advice: { readonly size: PictureSize; readonly uploadBps: number | null } | null;
}

/** An outlet of a linked account that the event is posted at. */
export interface ReadinessOutlet extends OutletStanding {
  /** Of the place. */
  readonly name: string;
  readonly accountId: string;
  readonly accountName: string;
  /** As the server calls it, and as people do. */
  readonly platform: string;
  readonly platformName: string;
}

export interface ReadinessStandby {
  readonly name: string;
  readonly report: SourceReport | null;
  /** It arrives where the event runs; elsewhere it could not take over. */
  readonly isAtNode: boolean;
}

export interface ReadinessFacts {
  readonly state: EventState;
  readonly nowMs: number;
  readonly doorsAtMs: number;
  readonly source: ReadinessSource | null;
  readonly report: SourceReport | null;
  /** A second source that stands by. */
  readonly standby: ReadinessStandby | null;
  /** `false` while the media node is away and nothing of it can be known. */
  readonly nodeIsHere: boolean;
  readonly hasPoster: boolean;
  /** Colours of its page that many people cannot read. */
  readonly poorColours: number;
  /** It is for those with the password, or for invited people, and there is no such thing yet. */
  readonly nobodyCanWatch: 'no-password' | 'nobody-invited' | null;
  /** What it begins with. */
  readonly film: { readonly isAtNode: boolean } | null;
  readonly brokenPlaces: readonly string[];
  readonly placeCount: number;
  readonly outlets: readonly ReadinessOutlet[];
  readonly people: readonly AskedPerson[];
  /** Another event that needs the same source, or this place. */
  readonly clash: {
    readonly eventId: string;
    readonly title: string;
    readonly place: string | null;
  } | null;
  /** The event that needs the same once this one runs over. */
  readonly overrun: { readonly title: string; readonly opensAtMs: number } | null;
  readonly sizes: ReadinessSizes;
  readonly diskFreeBytes: number | null;
  readonly plannedMs: number;
}

const MINUTE_MS = 60_000;
const DAY_MS = 24 * 60 * MINUTE_MS;
/** From so long before the doors a source is expected. */
export const SOURCE_EXPECTED_BEFORE_MS = 15 * MINUTE_MS;
/** From so long before the doors somebody who was asked should have answered. */
const ANSWER_BEFORE_MS = 3 * DAY_MS;
/** From so long before the doors a linked account should be in order. */
export const ACCOUNTS_BEFORE_MS = 7 * DAY_MS;
export const KEYFRAME_LIMIT_MS = 4000;
/** Disk space is reckoned with a generous picture. */
const RECORDING_BPS = 8_000_000;

interface Finding {
  readonly status: Check['status'];
  readonly detail?: Check['detail'];
}

interface Rule {
  readonly stage: Stage;
  /** From so long before the doors it is worth saying; `Infinity`: at once. */
  readonly fromMs: number;
  readonly judge: (facts: ReadinessFacts) => Finding;
}

const passedIf = (passes: boolean, otherwise: Severity): Check['status'] => (passes ? 'passed' : otherwise);

const isHere = ({ report }: ReadinessFacts): boolean => Boolean(report?.video ?? report?.audio);

/** What can only be told of a picture that is here. */
const onceHere = (facts: ReadinessFacts, passes: boolean, otherwise: Severity): Check['status'] =>
  isHere(facts) ? passedIf(passes, otherwise) : 'later';

const nameOf = ({ source }: ReadinessFacts): string => source?.name ?? '';

/** Every rule: where it is put right, when it becomes worth saying, and how it is judged. */
const RULES: Readonly<Record<CheckCode, Rule>> = {
  'source-chosen': {
    stage: 'plan',
    fromMs: Infinity,
    judge: ({ source }) => ({ status: passedIf(source !== null, 'stops') }),
  },
  'source-free': {
    stage: 'plan',
    fromMs: Infinity,
    judge: (facts) => ({
      status: passedIf(facts.clash === null, 'warns'),
      detail: {
        name: facts.clash?.place ?? nameOf(facts),
        title: facts.clash?.title ?? '',
        kind: facts.clash?.place ? 'place' : 'source',
        eventId: facts.clash?.eventId ?? '',
      },
    }),
  },
  places: {
    stage: 'plan',
    fromMs: Infinity,
    judge: ({ brokenPlaces, placeCount }) => ({
      status: passedIf(brokenPlaces.length === 0, 'stops'),
      detail: { names: brokenPlaces.join(', '), count: placeCount },
    }),
  },
  accounts: { stage: 'plan', fromMs: ACCOUNTS_BEFORE_MS, judge: judgeAccounts },
  people: { stage: 'plan', fromMs: 14 * DAY_MS, judge: judgePeople },
  poster: {
    stage: 'plan',
    fromMs: 14 * DAY_MS,
    judge: ({ hasPoster }) => ({ status: passedIf(hasPoster, 'warns') }),
  },
  look: {
    stage: 'plan',
    fromMs: 14 * DAY_MS,
    judge: ({ poorColours }) => ({
      status: passedIf(poorColours === 0, 'warns'),
      detail: { count: poorColours },
    }),
  },
  watching: {
    stage: 'plan',
    fromMs: 14 * DAY_MS,
    judge: ({ nobodyCanWatch }) => ({
      status: passedIf(nobodyCanWatch === null, 'warns'),
      detail: { kind: nobodyCanWatch ?? '' },
    }),
  },
  overrun: {
    stage: 'plan',
    fromMs: 14 * DAY_MS,
    judge: ({ overrun }) => ({
      status: passedIf(overrun === null, 'advises'),
      detail: { title: overrun?.title ?? '', opensAtMs: overrun?.opensAtMs ?? 0 },
    }),
  },
  film: {
    stage: 'plan',
    // Nodes are told of an event two days ahead.
    fromMs: DAY_MS,
    judge: ({ film, nodeIsHere }) => ({
      status: film && !nodeIsHere ? 'later' : passedIf(film === null || film.isAtNode, 'warns'),
    }),
  },
  disk: {
    stage: 'plan',
    fromMs: 2 * DAY_MS,
    judge: ({ diskFreeBytes, plannedMs }) => ({
      status:
        diskFreeBytes === null
          ? 'later'
          : passedIf(diskFreeBytes >= (plannedMs / 1000) * (RECORDING_BPS / 8), 'warns'),
      detail: { freeGigabytes: Math.floor((diskFreeBytes ?? 0) / 1e9) },
    }),
  },
  'source-here': {
    stage: 'connect',
    fromMs: Infinity,
    judge: (facts) => {
      const { source, nodeIsHere } = facts;
      const isExpected = facts.nowMs >= facts.doorsAtMs - SOURCE_EXPECTED_BEFORE_MS || !nodeIsHere;
      const isThere = source?.kind === 'file' ? source.hasFile : isHere(facts);
      // Another event's programme comes when that event is on air.
      const otherwise = source?.kind === 'programme' ? 'advises' : 'stops';
      return {
        status: isThere ? 'passed' : source && isExpected ? otherwise : 'later',
        detail: {
          name: nameOf(facts),
          kind: source?.kind ?? 'device',
          nodeIsHere: nodeIsHere ? 1 : 0,
          ...source?.strayed,
        },
      };
    },
  },
  codecs: {
    stage: 'connect',
    fromMs: Infinity,
    judge: (facts) => ({ status: onceHere(facts, true, 'stops') }),
  },
  picture: {
    stage: 'rehearse',
    fromMs: Infinity,
    judge: (facts) => {
      const { status, kind } = judgePicture(facts.report);
      return { status: isHere(facts) ? status : 'later', detail: { name: nameOf(facts), kind } };
    },
  },
  loudness: {
    stage: 'rehearse',
    fromMs: Infinity,
    judge: ({ report }) => {
      const heard = report?.audio?.loudness ?? null;
      const { status, kind } = judgeLoudness(heard);
      return { status, detail: { kind, lufs: heard?.integratedLufs ?? '' } };
    },
  },
  sound: {
    stage: 'rehearse',
    fromMs: Infinity,
    judge: (facts) => ({
      status: onceHere(facts, Boolean(facts.report?.audio), 'warns'),
      detail: { name: nameOf(facts) },
    }),
  },
  keyframes: {
    stage: 'connect',
    fromMs: Infinity,
    judge: (facts) => {
      const intervalMs = facts.report?.video?.keyframeIntervalMs ?? 0;
      return {
        status: onceHere(facts, intervalMs <= KEYFRAME_LIMIT_MS, 'warns'),
        detail: { seconds: Math.round(intervalMs / 100) / 10 },
      };
    },
  },
  advice: { stage: 'connect', fromMs: Infinity, judge: judgeAdvice },
  standby: { stage: 'connect', fromMs: Infinity, judge: judgeStandby },
  sizes: { stage: 'plan', fromMs: Infinity, judge: ({ sizes, report }) => judgeSizes(sizes, report) },
};

/** Computes every check; none is ever ticked by hand. What is open, but not worth saying yet, can be told later. */
export function checkReadiness(facts: ReadinessFacts): Check[] {
  return CHECK_CODES.map((code) => {
    const { stage, fromMs, judge } = RULES[code];
    const { status, detail = {} } = judge(facts);
    const isEarly = facts.nowMs < facts.doorsAtMs - fromMs;
    return { code, stage, status: isEarly && status !== 'passed' ? 'later' : status, detail };
  });
}

/** Whether the second source could take over, and what that would cost. */
function judgeStandby({ standby, source, report, nowMs, doorsAtMs, nodeIsHere }: ReadinessFacts): Finding {
  if (!standby) return { status: 'passed' };
  const { name } = standby;
  const isExpected = nowMs >= doorsAtMs - SOURCE_EXPECTED_BEFORE_MS;
  if (!standby.report)
    return { status: isExpected && nodeIsHere ? 'warns' : 'later', detail: { kind: 'away', name } };
  if (!standby.isAtNode) return { status: 'warns', detail: { kind: 'elsewhere', name } };
  const own = report && codedAs(report);
  const other = codedAs(standby.report);
  if (own && other && own !== other)
    return { status: 'advises', detail: { kind: 'differs', name, first: source?.name ?? '', own, other } };
  return { status: 'passed' };
}

/** What is coming in against what was advised: what will be seen or heard warns, another setting only advises. */
function judgeAdvice({ source, report }: ReadinessFacts): Finding {
  if (!source?.advice || !report) return { status: source?.advice ? 'later' : 'passed' };
  const lines = compareWithAdvice(report, source.advice.size, source.advice.uploadBps);
  const worst = (verdict: AdviceLine['verdict']): AdviceLine | undefined =>
    // Sound and keyframes have checks of their own.
    lines.find((line) => line.verdict === verdict && line.topic !== 'keyframes' && line.topic !== 'sound');
  const found = worst('change') ?? worst('differs');
  if (!found) return { status: 'passed' };
  return {
    status: found.verdict === 'change' ? 'warns' : 'advises',
    detail: { code: found.code, ...found.detail },
  };
}

/** Whether linked accounts will let the event be posted, and be seen; the heaviest trouble stands for all. */
function judgeAccounts({ outlets, doorsAtMs, plannedMs }: ReadinessFacts): Finding {
  const found = outlets
    .flatMap((outlet) => {
      const kind = outletTrouble(outlet, doorsAtMs + plannedMs);
      return kind ? [{ kind, outlet }] : [];
    })
    .toSorted((a, b) => heavierTrouble(a.kind, b.kind));
  const [worst] = found;
  if (!worst) return { status: 'passed' };
  const { kind, outlet } = worst;
  const { accountId, accountName, platform, platformName } = outlet;
  return {
    status: kind === 'consent-ends' || kind === 'only-me' ? 'warns' : 'stops',
    detail: { kind, name: outlet.name, accountId, accountName, platform, platformName, count: found.length },
  };
}

/** Whether the people of the day will be there: who cannot, who is in two places, who has not answered. */
function judgePeople({ people, nowMs, doorsAtMs }: ReadinessFacts): Finding {
  const stands = people.filter(({ answer }) => answer !== 'no');
  const missing = people.find(({ duty }) => !stands.some((person) => person.duty === duty));
  if (missing) return { status: 'warns', detail: { kind: 'cannot', ...named(missing) } };
  const twice = stands.find(({ elsewhere }) => elsewhere !== null);
  if (twice)
    return { status: 'warns', detail: { kind: 'twice', ...named(twice), title: twice.elsewhere ?? '' } };
  if (!stands.some(({ duty }) => duty === 'operator'))
    return { status: 'advises', detail: { kind: 'nobody' } };
  const unsure = nowMs >= doorsAtMs - ANSWER_BEFORE_MS && stands.find(({ answer }) => answer === null);
  return unsure
    ? { status: 'advises', detail: { kind: 'unanswered', ...named(unsure) } }
    : { status: 'passed' };
}

const named = ({ name, duty }: AskedPerson): Check['detail'] => ({ name, duty });

interface Judgement {
  readonly status: 'passed' | 'later' | Severity;
  readonly kind: string;
}

/** Black for so long is no cut between two cameras. */
const BLACK_MS = 5000;

function judgePicture(report: SourceReport | null): Judgement {
  const video = report?.video;
  if (!video) return { status: 'warns', kind: 'none' };
  if (video.blackMs > BLACK_MS) return { status: 'warns', kind: 'black' };
  return video.frozenMs > 0 ? { status: 'advises', kind: 'frozen' } : { status: 'passed', kind: 'alive' };
}

/** EBU R 128 asks for −23 LUFS; speech and organ are both bearable within these. */
export const LOUDNESS = { quietLufs: -33, loudLufs: -14, peakDbtp: -1, silentMs: 10_000 } as const;

/** How a source sounds, by what was heard of it. */
export function judgeLoudness(heard: LoudnessReport | null): Judgement {
  if (!heard) return { status: 'later', kind: 'unheard' };
  if (heard.silentMs >= LOUDNESS.silentMs) return { status: 'warns', kind: 'silent' };
  const { integratedLufs: lufs, truePeakDbtp: peak } = heard;
  if (lufs === null) return { status: 'later', kind: 'unheard' };
  if (peak !== null && peak > LOUDNESS.peakDbtp) return { status: 'warns', kind: 'clipping' };
  if (lufs > LOUDNESS.loudLufs) return { status: 'warns', kind: 'loud' };
  return lufs < LOUDNESS.quietLufs
    ? { status: 'advises', kind: 'quiet' }
    : { status: 'passed', kind: 'right' };
}
