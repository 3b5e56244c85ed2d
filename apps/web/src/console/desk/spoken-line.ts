import type { ViewersHave } from '@heliphon/core/audience/viewers-have';
import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import { type Fault, type FaultKind, worstFirst } from '@heliphon/core/faults/fault';
import type { EventState } from '@heliphon/core/schedule/event-life';
import { type FaultNames, faultSentences } from '@heliphon/contracts/fault-words';
import { duration } from '@heliphon/contracts/time-words';
import { SPOKEN } from '../../words/console/spoken-line.js';

/** What the desk knows at this moment. */
export interface DeskFacts {
  readonly state: EventState;
  readonly sourceName: string | null;
  /** Whether the source sends, also while viewers see something else. */
  readonly sourceSends: boolean;
  /** `null` while no node reports on it. */
  readonly viewersHave: ViewersHave['kind'] | null;
  /** The ingest point of its source has gone, and where the event goes on. */
  readonly strayed: { readonly from: string; readonly to: string } | null;
  /** Of the opening film, while it plays. */
  readonly filmLeftMs: number | null;
  readonly places: readonly { readonly name: string; readonly state: DestinationState }[];
  /** What is wrong while it is on air, and how the things that it is about are called. */
  readonly faults: readonly Fault[];
  readonly nameOf: (fault: Fault) => FaultNames;
}

export interface SpokenLine {
  /** What viewers see. */
  readonly seen: string;
  /** What is wrong, or `null`. */
  readonly trouble: string | null;
  /** What helps, in one sentence. */
  readonly help: string | null;
  /** Where that is done. */
  readonly remedy: Remedy | null;
}
export type Remedy = 'places' | 'connect' | 'archive';

const REMEDIES: Readonly<Partial<Record<FaultKind, Remedy>>> = {
  'encoder-gone': 'connect',
  'line-weak': 'connect',
  'encoder-slow': 'connect',
  'keyframes-far': 'connect',
  'no-sound': 'connect',
  'place-refused': 'places',
  'place-unreachable': 'places',
  'place-closed': 'places',
  'place-slow': 'places',
  'recording-stopped': 'archive',
};

const fine = (seen: string): SpokenLine => ({ seen, trouble: null, help: null, remedy: null });

/** The one line that says what viewers see, what is wrong, and what helps. */
export function speak(facts: DeskFacts): SpokenLine {
  switch (facts.state) {
    case 'planned':
      return withSource(facts, SPOKEN.posterAndCountdown);
    case 'doors':
      return withSource(facts, SPOKEN.countdownAndChat);
    case 'kept':
      return fine(SPOKEN.replay);
    case 'cancelled':
      return fine(SPOKEN.cancelled);
    case 'air':
      return speakOnAir(facts);
  }
}

function speakOnAir(facts: DeskFacts): SpokenLine {
  const source = facts.sourceName ?? SPOKEN.noSource;
  switch (facts.viewersHave) {
    case null:
      return { ...fine(SPOKEN.onAir), trouble: SPOKEN.noNews };
    case 'film':
      return withSource(facts, SPOKEN.openingFilm(source, duration(facts.filmLeftMs ?? 0)));
    case 'slate':
      return withFaults(facts, SPOKEN.slate);
    case 'nothing':
      return withFaults(facts, SPOKEN.willBeBack);
    case 'picture':
      return withFaults(facts, `${SPOKEN.viewersSee(source)} ${placesWords(facts.places)}`.trim());
  }
}

/** While viewers do not see it yet, all that can be missing is the source. */
const withSource = ({ sourceName, sourceSends }: DeskFacts, seen: string): SpokenLine =>
  sourceSends
    ? fine(seen)
    : { ...fine(seen), trouble: SPOKEN.noPictureYet(sourceName ?? SPOKEN.theSource), remedy: 'connect' };

function withFaults({ faults, nameOf, places, strayed, sourceName }: DeskFacts, seen: string): SpokenLine {
  const [first, ...others] = worstFirst(faults);
  if (!first) return fine(seen);
  const { now, help } = faultSentences(first, nameOf(first));
  const remedy = REMEDIES[first.kind] ?? null;
  if (first.kind === 'encoder-gone' && strayed) {
    const trouble = SPOKEN.pointThere(strayed.from, strayed.to, sourceName ?? SPOKEN.theSource);
    return { seen, trouble, help: null, remedy };
  }
  return { seen, trouble: [now, beside(first, others, places)].filter(Boolean).join(' '), help, remedy };
}

/** That it is not the only one; or, of a place, that it is. */
function beside(first: Fault, others: readonly Fault[], places: DeskFacts['places']): string {
  if (others.length > 0) return SPOKEN.moreWithProblems(others.length);
  return first.kind.startsWith('place-') && places.length > 1 ? SPOKEN.othersAreFine : '';
}

function placesWords(places: DeskFacts['places']): string {
  const going = places.filter((place) => place.state.state === 'going-out').length;
  if (places.length === 0) return '';
  if (going === places.length)
    return places.length === 1 ? SPOKEN.hasItToo(places[0]!.name) : SPOKEN.everyPlaceHasIt;
  return SPOKEN.placesHaveIt(going, places.length);
}
