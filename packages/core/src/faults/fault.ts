/** What can be wrong while an event is on air, the heavier of two first. */
export const FAULT_KINDS = [
  'node-away',
  'encoder-gone',
  'picture-black',
  'no-sound',
  'silence',
  'place-refused',
  'place-unreachable',
  'place-closed',
  'place-slow',
  'recording-stopped',
  'line-weak',
  'encoder-slow',
  'clipping',
  'too-loud',
  'too-quiet',
  'sound-offset',
  'picture-frozen',
  'keyframes-far',
  'took-over',
  'format-changed',
  'sizes-shed',
  'node-busy',
] as const;
export type FaultKind = (typeof FAULT_KINDS)[number];

/** What viewers noticed of a fault, in ms of each. */
export interface Noticed {
  readonly slateMs: number;
  readonly nothingMs: number;
  /** A picture that is not what it should be: black, standing, breaking up. */
  readonly pictureMs: number;
  readonly soundMs: number;
}

/** One fault of a programme: `kind`, `subjectId` and `fromMs` name it. */
export interface Fault {
  readonly kind: FaultKind;
  /** The source, place or node that it is about; empty for none. */
  readonly subjectId: string;
  /** Figures and codes for its sentence. */
  readonly detail: FaultDetail;
  readonly fromMs: number;
  /** `null` while it is open. */
  readonly toMs: number | null;
  readonly noticed: Noticed;
  /** Viewers × ms, of those ms in which they noticed it. */
  readonly viewerMs: number;
}

export type FaultDetail = Readonly<Record<string, string | number>>;

export const NOTICED_NOTHING: Noticed = { slateMs: 0, nothingMs: 0, pictureMs: 0, soundMs: 0 };

export const isSameFault = (one: Fault, other: Fault): boolean =>
  one.kind === other.kind && one.subjectId === other.subjectId && one.fromMs === other.fromMs;

/** How long viewers noticed anything of it. */
export const noticedMs = ({ noticed }: Pick<Fault, 'noticed'>): number =>
  noticed.slateMs + noticed.nothingMs + noticed.pictureMs + noticed.soundMs;

export const isHeavier = (one: FaultKind, other: FaultKind): boolean =>
  FAULT_KINDS.indexOf(one) < FAULT_KINDS.indexOf(other);

/** Heaviest first; of one weight, the one that has lasted longest. */
export const worstFirst = (faults: readonly Fault[]): Fault[] =>
  faults.toSorted(
    (one, other) =>
      FAULT_KINDS.indexOf(one.kind) - FAULT_KINDS.indexOf(other.kind) || one.fromMs - other.fromMs,
  );

/** Settings that could be better, and what has passed by the time it is read, wake nobody. */
const NOT_WORTH_A_LETTER: readonly FaultKind[] = [
  'keyframes-far',
  'took-over',
  'format-changed',
  'node-away',
  'sizes-shed',
];

export const isWorthALetter = (kind: FaultKind): boolean => !NOT_WORTH_A_LETTER.includes(kind);
