import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { EventState } from '@heliphon/core/schedule/event-life';
import type { RecordingStop } from '@heliphon/core/control/observations';
import type { LoudnessReport } from '@heliphon/core/loudness/loudness-meter';
import { judgeLoudness } from '@heliphon/core/readiness/readiness';
import { duration } from '@heliphon/contracts/time-words';
import { SPOKEN } from '../../words/console/spoken-line.js';
import { reasonWords } from '../../words/signal.js';

/** What the desk knows at this moment. */
export interface DeskFacts {
  readonly state: EventState;
  readonly sourceName: string | null;
  readonly signalPresent: boolean | null;
  /** Viewers see the slate in place of the picture. */
  readonly slateStands: boolean;
  /** The ingest point of its source has gone, and where the event goes on. */
  readonly strayed: { readonly from: string; readonly to: string } | null;
  /** Of the opening film, while it plays. */
  readonly filmLeftMs: number | null;
  /** Whether the source sends, also while viewers see something else. */
  readonly sourceSends: boolean;
  readonly hasSound: boolean;
  /** Nothing is being recorded, and why. */
  readonly recordingStopped: RecordingStop | null;
  readonly loudness: LoudnessReport | null;
  readonly places: readonly { readonly name: string; readonly state: DestinationState }[];
}

export interface SpokenLine {
  /** What viewers see. */
  readonly seen: string;
  /** What is wrong, or `null`. */
  readonly trouble: string | null;
  readonly remedy: 'places' | 'connect' | 'archive' | null;
}

/** The one line that says what viewers see and what is wrong. */
export function speak(facts: DeskFacts): SpokenLine {
  const source = facts.sourceName ?? SPOKEN.noSource;
  switch (facts.state) {
    case 'planned':
      return {
        seen: SPOKEN.posterAndCountdown,
        trouble: missing(facts),
        remedy: missing(facts) ? 'connect' : null,
      };
    case 'doors':
      return {
        seen: SPOKEN.countdownAndChat,
        trouble: missing(facts),
        remedy: missing(facts) ? 'connect' : null,
      };
    case 'kept':
      return { seen: SPOKEN.replay, trouble: null, remedy: null };
    case 'cancelled':
      return { seen: SPOKEN.cancelled, trouble: null, remedy: null };
    case 'air':
      break;
  }
  if (facts.signalPresent === null) {
    return { seen: SPOKEN.onAir, trouble: SPOKEN.noNews, remedy: null };
  }
  if (!facts.signalPresent) {
    return {
      seen: facts.slateStands ? SPOKEN.slate : SPOKEN.willBeBack,
      trouble: facts.strayed
        ? SPOKEN.pointThere(facts.strayed.from, facts.strayed.to, source)
        : SPOKEN.sendsNothing(source),
      remedy: 'connect',
    };
  }
  if (facts.filmLeftMs !== null)
    return {
      seen: SPOKEN.openingFilm(source, duration(facts.filmLeftMs)),
      trouble: facts.sourceSends ? null : SPOKEN.noPictureYet(source),
      remedy: facts.sourceSends ? null : 'connect',
    };
  const troubled = facts.places.filter((place) => place.state.state === 'troubled');
  const seen = `${SPOKEN.viewersSee(source)} ${placesWords(facts.places)}`.trim();
  const [first] = troubled;
  if (first?.state.state === 'troubled') {
    const others = troubled.length > 1 ? SPOKEN.moreWithProblems(troubled.length - 1) : SPOKEN.othersAreFine;
    return { seen, trouble: `${first.name} ${reasonWords(first.state.reason)}. ${others}`, remedy: 'places' };
  }
  if (facts.recordingStopped) {
    return { seen, trouble: SPOKEN.recordingStopped[facts.recordingStopped], remedy: 'archive' };
  }
  if (!facts.hasSound) return { seen, trouble: SPOKEN.noSound(source), remedy: 'connect' };
  const { kind, status } = judgeLoudness(facts.loudness);
  if (status === 'warns')
    return {
      seen,
      trouble: (SPOKEN.loudness as Partial<Record<string, string>>)[kind] ?? null,
      remedy: null,
    };
  return { seen, trouble: null, remedy: null };
}

const missing = ({ sourceName, signalPresent }: DeskFacts): string | null =>
  signalPresent === true ? null : SPOKEN.noPictureYet(sourceName ?? SPOKEN.theSource);

function placesWords(places: DeskFacts['places']): string {
  const going = places.filter((place) => place.state.state === 'going-out').length;
  if (places.length === 0) return '';
  if (going === places.length)
    return places.length === 1 ? SPOKEN.hasItToo(places[0]!.name) : SPOKEN.everyPlaceHasIt;
  return SPOKEN.placesHaveIt(going, places.length);
}
