import type { NoteView } from './notes.js';
import type { ViewersHad } from '@heliphon/core/audience/viewers-have';
import type { PlatformEnding } from '@heliphon/core/connectors/platform-endings';
import type { Fault } from '@heliphon/core/faults/fault';
import type { Repeated, SignalReport } from '@heliphon/core/signal/signal-report';
import type { SignalSample } from '@heliphon/core/signal/signal-sample';

/** Which stretch of an event is asked for, and how fine. */
export interface SignalQuery {
  /** Only the last so many ms of it, to its end or to now; all of it unless said. */
  readonly lastMs?: number;
  readonly everyMs: number;
}

export interface SignalView {
  readonly samples: readonly SignalSample[];
  /** From the doors to the end, or until now. */
  readonly viewersHad: readonly ViewersHad[];
  /** All of them, in order of their beginning. */
  readonly faults: readonly Fault[];
  /** What the desk noted, in order of time. */
  readonly notes: readonly NoteView[];
}

/** Where an event was watched, and by how many. */
export interface WatchedAt {
  readonly kind: 'page' | 'site' | 'elsewhere' | 'place';
  /** The website's host, or the place's id; empty for the others. */
  readonly name: string;
  readonly most: number;
  /** Over the whole time on air. */
  readonly average: number;
}

/** How an event of the same series went. */
export interface ReportBefore {
  readonly eventId: string;
  readonly airAtMs: number;
  readonly cleanShare: number | null;
  readonly faults: number;
}

export interface SignalReportView {
  readonly title: string;
  readonly airAtMs: number;
  readonly endAtMs: number;
  readonly report: SignalReport;
  readonly viewersHad: readonly ViewersHad[];
  /** Where it was watched, the most first. */
  readonly watchedAt: readonly WatchedAt[];
  /** Postings that their platforms ended while it went on. */
  readonly endings: readonly (PlatformEnding & {
    /** As people know it; `null` where the account was unlinked since. */
    readonly platform: string | null;
    readonly longestMs: number | null;
  })[];
  readonly notes: readonly NoteView[];
  /** The names of what faults are about, by their ids. */
  readonly names: Readonly<Record<string, string>>;
  /** The last events of its series before it, newest first. */
  readonly before: readonly ReportBefore[];
  /** What this and those before it ran into more than once. */
  readonly repeated: readonly Repeated[];
}
