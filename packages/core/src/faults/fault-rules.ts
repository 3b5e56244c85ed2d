import type { ViewersHave } from '../audience/viewers-have.js';
import type { RecordingStop, SourceEnding } from '../control/observations.js';
import type { DestinationReason, DestinationState } from '../destinations/destination-state.js';
import { KEYFRAME_LIMIT_MS, LOUDNESS } from '../readiness/readiness.js';
import type { SourceReport } from '../signal/source-report.js';
import type { FaultDetail, FaultKind } from './fault.js';
import type { Usual } from './usual.js';

export interface SourceFacts {
  readonly sourceId: string;
  /** No picture of it has come for longer than the event allows, or its connection is closed. */
  readonly isAway: boolean;
  /** Why it is not connected; `null` while it is, or has never been. */
  readonly ending: SourceEnding | null;
  /** While it is connected. */
  readonly report: SourceReport | null;
}

/** What is known of a programme on air at one moment. */
export interface FaultFacts {
  readonly nowMs: number;
  readonly airAtMs: number;
  /** That feeds it, or should. */
  readonly source: SourceFacts | null;
  /** The first source, while the one that stands by feeds it. */
  readonly replaced: SourceFacts | null;
  /** The one that stands by has taken over by itself. */
  readonly turn: { readonly toId: string; readonly agoMs: number } | null;
  /** It was on air when its node fell: when it was last heard of, and since when it goes on. */
  readonly takenUp: TakenUp | null;
  readonly viewersHave: ViewersHave['kind'];
  readonly viewers: number;
  readonly destinations: readonly { readonly destinationId: string; readonly state: DestinationState }[];
  readonly recordingStopped: RecordingStop | null;
  /** Smaller pictures that the machine cannot carry just now. */
  readonly shedSizes: readonly string[];
  /** Of the node's processors in use, 1 is all of them. */
  readonly load: number;
}

/** A programme that goes on where a node has fallen. */
export interface TakenUp {
  readonly lastSeenMs: number;
  readonly atMs: number;
  /** From another node. */
  readonly hasMoved: boolean;
}

export interface Finding {
  readonly kind: FaultKind;
  readonly subjectId: string;
  /** `null`: as it was found before; it begins nothing. */
  readonly detail: FaultDetail | null;
  /** Since when, where that is known better than by when it was found. */
  readonly sinceMs?: number;
}

export interface FaultRule {
  /** Names the rule: it finds one fault of a subject at a time, of the kind that it had at first. */
  readonly name: FaultKind | 'place';
  /** How long it must be there before it counts, and gone before it is over, so that nothing flickers. */
  readonly opensAfterMs: number;
  readonly closesAfterMs: number;
  /** What viewers notice of it while they have a picture; `null`: nothing. */
  readonly spoils: 'nothingMs' | 'pictureMs' | 'soundMs' | null;
  /** It takes the picture away, and costs whatever viewers have instead. */
  readonly isOutage?: true;
  /** Of these it is only a consequence. */
  readonly follows: readonly FaultRule['name'][];
  readonly find: (facts: FaultFacts, usual: Usual) => readonly Finding[];
}

/** Below so much of what is usual the rate has fallen; a still scene alone makes it fall too, so it never counts by itself. */
const RATE_FALLEN = 0.6;
/** Encoders miss a picture now and then. */
const FRAMES_MISSING = 0.88;
/** A line that carries all of it brings it within this. */
const LATE_MS = 900;
const LOST_SHARE = 0.02;
/** Ears and eyes disagree beyond it; packets are interleaved within it. */
const SOUND_OFFSET_MS = 500;
const BLACK_MS = 3000;
/** So much work waits for each processor that live pictures come late. */
const BUSY_LOAD = 3;
/** An encoder that is not back by then has gone by itself. */
const COMES_BACK_WITHIN_MS = 30_000;
/** From its connection to its first picture an encoder may take this long. */
const BEGINS_WITHIN_MS = 5000;
/** Looked at for the first time: it has just happened, whatever viewers have by now. */
const FIRST_LOOK_MS = 2000;
/** A momentary fault stays listed for this long. */
const NAMED_MS = 3000;
const FULL_SCALE_DBTP = 0;

const NONE: readonly Finding[] = [];

type Video = NonNullable<SourceReport['video']>;
type Heard = NonNullable<NonNullable<SourceReport['audio']>['loudness']>;
type Found = { readonly detail: FaultDetail; readonly sinceMs?: number } | null;

/** What is wrong with what a source sends, while it sends. */
const ofSource = (
  kind: FaultKind,
  find: (report: SourceReport, usual: Usual, nowMs: number) => Found,
): Pick<FaultRule, 'name' | 'find'> => ({
  name: kind,
  find: ({ source, nowMs }, usual) => {
    const found = source?.report && !source.isAway ? find(source.report, usual, nowMs) : null;
    return found ? [{ kind, subjectId: source!.sourceId, ...found }] : NONE;
  },
});

const ofPicture = (kind: FaultKind, find: (video: Video, nowMs: number) => Found) =>
  ofSource(kind, ({ video }, _usual, nowMs) => video && find(video, nowMs));

const ofSound = (kind: FaultKind, find: (heard: Heard, usual: Usual, nowMs: number) => Found) =>
  ofSource(kind, ({ audio }, usual, nowMs) => (audio?.loudness ? find(audio.loudness, usual, nowMs) : null));

/** Since when, for how long already. */
const lasting = (lastsMs: number, nowMs: number): Found => ({ detail: {}, sinceMs: nowMs - lastsMs });

/** Against what the encoder names, or has kept to so far. */
function framesShare(video: Video, usual: Usual): number {
  const expected = video.announcedFps ?? usual.encodedFps;
  return expected && video.timing.encodedFps > 0 ? video.timing.encodedFps / expected : 1;
}

const rateShare = (video: Video, usual: Usual): number =>
  usual.bitrateBps ? video.bitrateBps / usual.bitrateBps : 1;

const isLineWeak = (video: Video, { transport }: SourceReport, usual: Usual): boolean =>
  video.timing.lateMs > LATE_MS ||
  (transport?.lostShare ?? 0) > LOST_SHARE ||
  (rateShare(video, usual) < RATE_FALLEN && framesShare(video, usual) < FRAMES_MISSING);

const percent = (share: number): number => Math.round(share * 100);

const PLACE_KINDS: Readonly<Record<DestinationReason, FaultKind>> = {
  refused: 'place-refused',
  'not-secure': 'place-refused',
  'inner-address': 'place-unreachable',
  unreachable: 'place-unreachable',
  'broke-off': 'place-closed',
  stalled: 'place-slow',
};

function findAtPlace(subjectId: string, state: DestinationState): readonly Finding[] {
  if (state.state === 'troubled')
    return [
      {
        kind: PLACE_KINDS[state.reason],
        subjectId,
        detail: { reason: state.reason, said: state.said ?? '', attempt: state.attempt },
      },
    ];
  // A new attempt alone does not mean it has recovered.
  return state.state === 'connecting' && state.attempt > 1
    ? [{ kind: 'place-unreachable', subjectId, detail: null }]
    : NONE;
}

function goneOf({ sourceId, isAway, report, ending }: SourceFacts, nowMs: number): Finding {
  const isBack = !isAway || (report !== null && nowMs - report.sinceMs < BEGINS_WITHIN_MS);
  // Connected, and nothing comes: the line hangs, or the encoder does.
  const detail = { ending: report ? 'stands' : (ending ?? 'never-came') };
  // What sends again has to show that it stays; why it went is known by then.
  return { kind: 'encoder-gone', subjectId: sourceId, detail: isBack ? null : detail };
}

const OUTAGES = ['node-away', 'encoder-gone'] as const;
const OF_SOURCE = {
  opensAfterMs: 4000,
  closesAfterMs: 8000,
  follows: OUTAGES,
  spoils: null,
} as const;
const OF_PICTURE = { ...OF_SOURCE, spoils: 'pictureMs' } as const;
const OF_SOUND = { ...OF_SOURCE, spoils: 'soundMs' } as const;
const AT_ONCE = { opensAfterMs: 0, closesAfterMs: 3000, follows: [], spoils: null } as const;

/** When something is a fault, what it follows from, and what it does to viewers; what others follow from comes first. */
export const FAULT_RULES: readonly FaultRule[] = [
  {
    ...AT_ONCE,
    name: 'node-away',
    closesAfterMs: 0,
    spoils: 'nothingMs',
    isOutage: true,
    find: ({ takenUp, nowMs, viewersHave }) => {
      const agoMs = takenUp ? nowMs - takenUp.atMs : Infinity;
      const isMissed = viewersHave === 'slate' || viewersHave === 'nothing';
      return takenUp && (agoMs < FIRST_LOOK_MS || (isMissed && agoMs < COMES_BACK_WITHIN_MS))
        ? [
            {
              kind: 'node-away',
              subjectId: '',
              detail: takenUp.hasMoved ? { moved: 1 } : {},
              sinceMs: takenUp.lastSeenMs,
            },
          ]
        : NONE;
    },
  },
  {
    ...AT_ONCE,
    name: 'encoder-gone',
    closesAfterMs: 1000,
    follows: ['node-away'],
    isOutage: true,
    find: ({ nowMs, source, replaced, viewersHave }) => {
      // The opening film does not need it yet.
      if (viewersHave === 'film') return NONE;
      const isMissed = viewersHave === 'slate' || viewersHave === 'nothing';
      if (!source)
        return isMissed ? [{ kind: 'encoder-gone', subjectId: '', detail: { ending: 'no-source' } }] : NONE;
      return [
        ...(replaced?.isAway ? [goneOf(replaced, nowMs)] : NONE),
        ...(source.isAway || isMissed ? [goneOf(source, nowMs)] : NONE),
      ];
    },
  },
  {
    ...AT_ONCE,
    name: 'took-over',
    find: ({ turn, nowMs }) =>
      turn && turn.agoMs < NAMED_MS
        ? [{ kind: 'took-over', subjectId: turn.toId, detail: {}, sinceMs: nowMs - turn.agoMs }]
        : NONE,
  },
  {
    ...OF_PICTURE,
    ...ofSource('line-weak', (report, usual) => {
      const { video, transport } = report;
      if (!video || !isLineWeak(video, report, usual)) return null;
      return {
        detail: {
          lateMs: video.timing.lateMs,
          ratePercent: percent(rateShare(video, usual)),
          lostPermille: Math.round((transport?.lostShare ?? 0) * 1000),
        },
      };
    }),
  },
  {
    ...OF_PICTURE,
    follows: [...OUTAGES, 'line-weak'],
    ...ofSource('encoder-slow', ({ video }, usual) =>
      video && framesShare(video, usual) < FRAMES_MISSING
        ? {
            detail: {
              fps: video.timing.encodedFps,
              expectedFps: video.announcedFps ?? Math.round(usual.encodedFps ?? 0),
            },
          }
        : null,
    ),
  },
  {
    ...OF_SOURCE,
    opensAfterMs: 10_000,
    ...ofPicture('keyframes-far', ({ keyframeIntervalMs }) =>
      (keyframeIntervalMs ?? 0) > KEYFRAME_LIMIT_MS
        ? { detail: { seconds: Math.round((keyframeIntervalMs ?? 0) / 1000) } }
        : null,
    ),
  },
  {
    ...OF_PICTURE,
    opensAfterMs: 0,
    ...ofPicture('picture-frozen', ({ frozenMs }, nowMs) => (frozenMs > 0 ? lasting(frozenMs, nowMs) : null)),
  },
  {
    ...OF_PICTURE,
    opensAfterMs: 0,
    ...ofPicture('picture-black', ({ blackMs }, nowMs) =>
      blackMs >= BLACK_MS ? lasting(blackMs, nowMs) : null,
    ),
  },
  { ...OF_SOUND, ...ofSource('no-sound', ({ audio, video }) => (video && !audio ? { detail: {} } : null)) },
  {
    ...OF_SOUND,
    opensAfterMs: 0,
    closesAfterMs: 2000,
    ...ofSound('silence', ({ silentMs }, _usual, nowMs) =>
      silentMs >= LOUDNESS.silentMs ? lasting(silentMs, nowMs) : null,
    ),
  },
  {
    ...OF_SOUND,
    ...ofSound('clipping', ({ recentPeakDbtp }) =>
      recentPeakDbtp !== null && recentPeakDbtp > FULL_SCALE_DBTP
        ? { detail: { peakDbtp: recentPeakDbtp } }
        : null,
    ),
  },
  {
    ...OF_SOUND,
    opensAfterMs: 15_000,
    follows: [...OUTAGES, 'clipping'],
    ...ofSound('too-loud', (_heard, { lufs }) =>
      lufs !== null && lufs > LOUDNESS.loudLufs ? { detail: { lufs: oneDecimal(lufs) } } : null,
    ),
  },
  {
    ...OF_SOUND,
    opensAfterMs: 30_000,
    follows: [...OUTAGES, 'silence'],
    ...ofSound('too-quiet', (_heard, { lufs }) =>
      lufs !== null && lufs < LOUDNESS.quietLufs ? { detail: { lufs: oneDecimal(lufs) } } : null,
    ),
  },
  {
    ...OF_SOUND,
    opensAfterMs: 8000,
    ...ofPicture('sound-offset', ({ timing: { soundAheadMs: aheadMs } }) =>
      aheadMs !== null && Math.abs(aheadMs) > SOUND_OFFSET_MS ? { detail: { aheadMs } } : null,
    ),
  },
  {
    ...AT_ONCE,
    ...ofSource('format-changed', (_report, { format, formatBefore }) =>
      format !== null && formatBefore !== null ? { detail: { from: formatBefore, to: format } } : null,
    ),
  },
  {
    ...AT_ONCE,
    name: 'place',
    follows: ['node-away'],
    find: ({ destinations }) =>
      destinations.flatMap(({ destinationId, state }) => findAtPlace(destinationId, state)),
  },
  {
    ...AT_ONCE,
    name: 'recording-stopped',
    find: ({ recordingStopped: reason }) =>
      reason ? [{ kind: 'recording-stopped', subjectId: '', detail: { reason } }] : NONE,
  },
  {
    ...AT_ONCE,
    name: 'sizes-shed',
    find: ({ shedSizes }) =>
      shedSizes.length > 0
        ? [{ kind: 'sizes-shed', subjectId: '', detail: { names: shedSizes.join(', ') } }]
        : NONE,
  },
  {
    ...AT_ONCE,
    name: 'node-busy',
    opensAfterMs: 20_000,
    closesAfterMs: 20_000,
    find: ({ load }) =>
      load > BUSY_LOAD ? [{ kind: 'node-busy', subjectId: '', detail: { percent: percent(load) } }] : NONE,
  },
];

const oneDecimal = (value: number): number => Math.round(value * 10) / 10;
