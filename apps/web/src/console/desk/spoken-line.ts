import type { DestinationState } from '@heliphon/core/destinations/destination-state';
import type { EventState } from '@heliphon/core/schedule/event-life';
import type { RecordingStop } from '@heliphon/core/control/observations';
import type { LoudnessReport } from '@heliphon/core/loudness/loudness-meter';
import { judgeLoudness } from '@heliphon/core/readiness/readiness';
import { duration } from '@heliphon/contracts/time-words';
import { reasonWords } from '../../words/signal.js';

/** What the desk knows at this moment. */
export interface DeskFacts {
  readonly state: EventState;
  readonly sourceName: string | null;
  readonly signalPresent: boolean | null;
  /** The ingest point of its source has gone, and where the event goes on. */
  readonly strayed: { readonly from: string; readonly to: string } | null;
  /** Of the film before the start, while it plays. */
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
  const source = facts.sourceName ?? 'no source';
  switch (facts.state) {
    case 'planned':
      return {
        seen: 'People see the poster and the date.',
        trouble: missing(facts),
        remedy: missing(facts) ? 'connect' : null,
      };
    case 'doors':
      return {
        seen: 'People see the countdown, and may chat.',
        trouble: missing(facts),
        remedy: missing(facts) ? 'connect' : null,
      };
    case 'kept':
      return { seen: 'People can watch the replay.', trouble: null, remedy: null };
    case 'cancelled':
      return { seen: 'This event will not take place.', trouble: null, remedy: null };
    case 'air':
      break;
  }
  if (facts.signalPresent === null) {
    return { seen: 'It is on air.', trouble: 'We hear nothing of the picture just now.', remedy: null };
  }
  if (!facts.signalPresent) {
    return {
      seen: 'Viewers see “The picture will be back”.',
      trouble: facts.strayed
        ? `${facts.strayed.from} does not answer. The event goes on at ${facts.strayed.to}: ${source} has to send there.`
        : `${source} sends nothing. The places are held open.`,
      remedy: 'connect',
    };
  }
  if (facts.filmLeftMs !== null)
    return {
      seen: `Viewers see the film before the start. The ${source} comes in ${duration(facts.filmLeftMs)}.`,
      trouble: facts.sourceSends ? null : `${source} sends no picture yet.`,
      remedy: facts.sourceSends ? null : 'connect',
    };
  const troubled = facts.places.filter((place) => place.state.state === 'troubled');
  const seen = `Viewers see the ${source}. ${placesWords(facts.places)}`.trim();
  const [first] = troubled;
  if (first?.state.state === 'troubled') {
    const others = troubled.length > 1 ? `${troubled.length - 1} more in trouble.` : 'The others are fine.';
    return { seen, trouble: `${first.name} ${reasonWords(first.state.reason)}. ${others}`, remedy: 'places' };
  }
  if (facts.recordingStopped) {
    const why = facts.recordingStopped === 'disk-full' ? 'The disk is full' : 'The disk does not take it';
    return { seen, trouble: `${why}: nothing is being recorded. Viewers notice nothing.`, remedy: 'archive' };
  }
  if (!facts.hasSound) return { seen, trouble: `${source} sends no sound.`, remedy: 'connect' };
  const { kind, status } = judgeLoudness(facts.loudness);
  if (status === 'warns') return { seen, trouble: LOUDNESS_TROUBLE[kind] ?? null, remedy: null };
  return { seen, trouble: null, remedy: null };
}

const LOUDNESS_TROUBLE: Readonly<Record<string, string>> = {
  silent: 'Nothing is heard. Look for the microphone, or its fader.',
  clipping: 'The sound is too hot and clips. Turn the desk down a little.',
  loud: 'The sound is too loud. Turn the desk down a little.',
};

const missing = ({ sourceName, signalPresent }: DeskFacts): string | null =>
  signalPresent === true ? null : `${sourceName ?? 'The source'} sends no picture yet.`;

function placesWords(places: DeskFacts['places']): string {
  const going = places.filter((place) => place.state.state === 'going-out').length;
  if (places.length === 0) return '';
  if (going === places.length)
    return places.length === 1 ? `${places[0]!.name} is getting it too.` : 'All places are getting it.';
  return `${going} of ${places.length} places are getting it.`;
}
