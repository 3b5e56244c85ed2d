import type { EventState } from '../schedule/event-life.js';
import type { LoudnessReport } from '../loudness/loudness-meter.js';
import type { SourceReport } from '../signal/source-report.js';

export const CHECK_CODES = [
  'source-chosen',
  'source-here',
  'codecs',
  'picture',
  'sound',
  'loudness',
  'keyframes',
  'poster',
  'places',
  'source-free',
  'disk',
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
  /** `later` cannot be told yet: the source is not expected, or nothing has come. */
  readonly status: 'passed' | 'later' | Severity;
  /** Fills the catalogue's sentence. */
  readonly detail: Readonly<Record<string, string | number>>;
}

export interface ReadinessFacts {
  readonly state: EventState;
  readonly nowMs: number;
  readonly doorsAtMs: number;
  readonly source: { readonly id: string; readonly name: string } | null;
  readonly report: SourceReport | null;
  /** `false` while the media node is away and nothing of it can be known. */
  readonly nodeIsHere: boolean;
  readonly hasPoster: boolean;
  readonly brokenPlaces: readonly string[];
  readonly placeCount: number;
  readonly clash: { readonly eventId: string; readonly title: string } | null;
  readonly diskFreeBytes: number | null;
  readonly plannedMs: number;
}

/** From so long before the doors a source is expected. */
export const SOURCE_EXPECTED_BEFORE_MS = 15 * 60_000;
const KEYFRAME_LIMIT_MS = 4000;
/** Disk space is reckoned with a generous picture. */
const RECORDING_BPS = 8_000_000;

/** Computes every check; none is ever ticked by hand. */
export function checkReadiness(facts: ReadinessFacts): Check[] {
  const { report } = facts;
  const isHere = Boolean(report?.video ?? report?.audio);
  const isExpected = facts.nowMs >= facts.doorsAtMs - SOURCE_EXPECTED_BEFORE_MS;
  const name = facts.source?.name ?? '';
  const check = (
    code: CheckCode,
    stage: Stage,
    status: Check['status'],
    detail: Check['detail'] = {},
  ): Check => ({ code, stage, status, detail });
  const onceHere = (passes: boolean, otherwise: Severity): Check['status'] =>
    !isHere ? 'later' : passes ? 'passed' : otherwise;
  const interval = report?.video?.keyframeIntervalMs ?? 0;
  const picture = judgePicture(report);
  const loudness = judgeLoudness(report?.audio?.loudness ?? null);
  const neededBytes = (facts.plannedMs / 1000) * (RECORDING_BPS / 8);

  return [
    check('source-chosen', 'plan', facts.source ? 'passed' : 'stops'),
    check('source-free', 'plan', facts.clash ? 'warns' : 'passed', {
      name,
      title: facts.clash?.title ?? '',
      eventId: facts.clash?.eventId ?? '',
    }),
    check('poster', 'plan', facts.hasPoster ? 'passed' : 'warns'),
    check('places', 'plan', facts.brokenPlaces.length === 0 ? 'passed' : 'stops', {
      names: facts.brokenPlaces.join(', '),
      count: facts.placeCount,
    }),
    check(
      'source-here',
      'connect',
      isHere ? 'passed' : !facts.source || (!isExpected && facts.nodeIsHere) ? 'later' : 'stops',
      { name, nodeIsHere: facts.nodeIsHere ? 1 : 0 },
    ),
    check('codecs', 'connect', onceHere(true, 'stops')),
    check('picture', 'rehearse', isHere ? picture.status : 'later', { name, kind: picture.kind }),
    check('loudness', 'rehearse', report?.audio ? loudness.status : 'later', {
      kind: loudness.kind,
      lufs: report?.audio?.loudness?.integratedLufs ?? '',
    }),
    check('sound', 'rehearse', onceHere(Boolean(report?.audio), 'warns'), { name }),
    check('keyframes', 'connect', onceHere(interval <= KEYFRAME_LIMIT_MS, 'warns'), {
      seconds: Math.round(interval / 100) / 10,
    }),
    check(
      'disk',
      'plan',
      facts.diskFreeBytes === null ? 'later' : facts.diskFreeBytes < neededBytes ? 'warns' : 'passed',
      { freeGigabytes: Math.floor((facts.diskFreeBytes ?? 0) / 1e9) },
    ),
  ];
}

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
const LOUDNESS = { quietLufs: -33, loudLufs: -14, peakDbtp: -1, silentMs: 10_000 } as const;

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
