import { type EventLife, moveEvent, type SignalKnowledge } from '../schedule/event-life.js';
import { isSameChoice, type RenditionChoice } from '../ladder/renditions.js';
import { type ActualFilm, AFTER_FILM_MS, filmStep } from './film.js';
import type {
  DesiredClip,
  DesiredDestination,
  DesiredProgramme,
  DesiredSlate,
  DesiredSource,
  DesiredStandby,
  DesiredState,
} from './desired-state.js';

/** What a media node is doing, as plain data. */
export interface ActualState {
  /** Encoders have had time to come (back): what is silent now is silent. */
  readonly isSettled: boolean;
  readonly programmes: readonly ActualProgramme[];
  readonly connections: readonly ActualConnection[];
  /** Films that lie on the node's disk, by their files' ids. */
  readonly films: ReadonlySet<string>;
  /** Recordings whose folder is gone. */
  readonly removedRecordings: ReadonlySet<string>;
  /** Clips that were cut, or for which there was nothing. */
  readonly doneClips: ReadonlySet<string>;
}

export interface ActualProgramme {
  readonly programmeId: string;
  readonly life: EventLife;
  readonly sourceId: string | null;
  readonly standby: DesiredStandby | null;
  readonly lastCommandId: string | null;
  readonly rewindWindowMs: number;
  readonly slate: DesiredSlate | null;
  readonly renditions: RenditionChoice;
  readonly keepsRenditions: boolean;
  readonly film: ActualFilm | null;
  readonly signal: Extract<SignalKnowledge, { known: true }>;
  readonly destinations: readonly DesiredDestination[];
}

export interface ActualConnection {
  readonly connectionId: string;
  readonly sourceId: string;
  /** By what it was let in: the hash of a key or of a line, or the programme that it shows. */
  readonly credential: string;
}

export type Action =
  | { readonly type: 'open-programme'; readonly programmeId: string }
  | {
      readonly type: 'move-programme';
      readonly programmeId: string;
      readonly life: EventLife;
      readonly commandId: string | null;
    }
  | {
      readonly type: 'set-source';
      readonly programmeId: string;
      readonly sourceId: string | null;
      readonly standby: DesiredStandby | null;
    }
  | { readonly type: 'set-rewind-window'; readonly programmeId: string; readonly rewindWindowMs: number }
  | { readonly type: 'set-slate'; readonly programmeId: string; readonly slate: DesiredSlate | null }
  | {
      readonly type: 'set-renditions';
      readonly programmeId: string;
      readonly choice: RenditionChoice;
      readonly isKept: boolean;
    }
  | {
      readonly type: 'start-film';
      readonly programmeId: string;
      readonly fileId: string;
      readonly durationMs: number;
      readonly offsetMs: number;
    }
  | { readonly type: 'stop-film'; readonly programmeId: string }
  | { readonly type: 'close-programme'; readonly programmeId: string }
  | {
      readonly type: 'start-destination';
      readonly programmeId: string;
      readonly destination: DesiredDestination;
    }
  | {
      readonly type: 'feed-destination';
      readonly programmeId: string;
      readonly destinationId: string;
      readonly rendition: string | null;
    }
  | { readonly type: 'stop-destination'; readonly programmeId: string; readonly destinationId: string }
  | { readonly type: 'remove-recording'; readonly programmeId: string; readonly houseId: string }
  | { readonly type: 'cut-clip'; readonly clip: DesiredClip }
  | { readonly type: 'cut-connection'; readonly connectionId: string };

/** Names an action in a log and among what has failed; without secrets. */
export function keyOf(action: Action): string {
  const { type } = action;
  if (action.type === 'cut-connection') return `${type} ${action.connectionId}`;
  if (action.type === 'cut-clip') return `${type} ${action.clip.clipId}`;
  if (action.type === 'start-destination')
    return `${type} ${action.programmeId} ${action.destination.destinationId}`;
  const destination = 'destinationId' in action ? ` ${action.destinationId}` : '';
  return `${type} ${action.programmeId}${destination}`;
}

/**
 * Compares what should be with what is. Carrying out the actions and asking again reaches a state that needs none.
 * Programmes that the server no longer names are closed unless on air: a restarted, empty server must not end a service.
 * One that it says runs elsewhere, or is to be deleted, is closed even so.
 */
export function reconcile(desired: DesiredState, actual: ActualState, nowMs: number): Action[] {
  return [
    ...desired.programmes.flatMap((wanted) => {
      const is = actual.programmes.find((programme) => programme.programmeId === wanted.programmeId);
      return is
        ? reconcileProgramme(wanted, actual.isSettled ? is : withPicture(is), actual.films, nowMs)
        : [{ type: 'open-programme', programmeId: wanted.programmeId } as const];
    }),
    ...actual.programmes
      .filter(
        ({ programmeId, life }) =>
          !desired.programmes.some((p) => p.programmeId === programmeId) &&
          (life.state !== 'air' ||
            desired.elsewhere.includes(programmeId) ||
            desired.removedRecordings.some((removed) => removed.programmeId === programmeId)),
      )
      .map(({ programmeId }) => ({ type: 'close-programme', programmeId }) as const),
    ...desired.removedRecordings
      .filter(({ programmeId }) => !actual.removedRecordings.has(programmeId))
      .map((recording) => ({ type: 'remove-recording', ...recording }) as const),
    ...desired.clips
      .filter(({ clipId }) => !actual.doneClips.has(clipId))
      .map((clip) => ({ type: 'cut-clip', clip }) as const),
    ...actual.connections
      .filter((connection) => !isWelcome(connection, desired, nowMs))
      .map(({ connectionId }) => ({ type: 'cut-connection', connectionId }) as const),
  ];
}

/** Just after a start nobody knows yet who is still sending: nothing ends for want of a picture. */
const withPicture = (is: ActualProgramme): ActualProgramme => ({
  ...is,
  signal: { ...is.signal, present: true },
});

function reconcileProgramme(
  wanted: DesiredProgramme,
  is: ActualProgramme,
  films: ReadonlySet<string>,
  nowMs: number,
): Action[] {
  const { programmeId, sourceId, standby } = wanted;
  const actions: Action[] = [];
  if (sourceId !== is.sourceId || !isSameStandby(standby, is.standby))
    actions.push({ type: 'set-source', programmeId, sourceId, standby });
  if (wanted.rewindWindowMs !== is.rewindWindowMs) {
    actions.push({ type: 'set-rewind-window', programmeId, rewindWindowMs: wanted.rewindWindowMs });
  }
  if (!isSameSlate(wanted.slate, is.slate))
    actions.push({ type: 'set-slate', programmeId, slate: wanted.slate });
  const { renditions: choice, keepsRenditions: isKept } = wanted;
  if (!isSameChoice(choice, is.renditions) || isKept !== is.keepsRenditions)
    actions.push({ type: 'set-renditions', programmeId, choice, isKept });
  const { life, commandId } = nextLife(wanted, is, nowMs);
  if (life !== is.life || commandId !== is.lastCommandId) {
    actions.push({ type: 'move-programme', programmeId, life, commandId });
  }
  return [...actions, ...reconcileFilm(wanted, is, films, nowMs), ...reconcileDestinations(wanted, is, life)];
}

const isSameStandby = (one: DesiredStandby | null, other: DesiredStandby | null): boolean =>
  one?.sourceId === other?.sourceId &&
  one?.afterMs === other?.afterMs &&
  one?.isPreferred === other?.isPreferred;

const isSameSlate = (one: DesiredSlate | null, other: DesiredSlate | null): boolean =>
  one?.awayAfterMs === other?.awayAfterMs &&
  one?.stillIds.coming === other?.stillIds.coming &&
  one?.stillIds.back === other?.stillIds.back &&
  one?.sound?.fileId === other?.sound?.fileId;

/** By the life that is: a film begins once the programme is on air. */
function reconcileFilm(
  { programmeId, film }: DesiredProgramme,
  is: ActualProgramme,
  films: ReadonlySet<string>,
  nowMs: number,
): Action[] {
  const step = filmStep(film, is.film, is.life, film !== null && films.has(film.fileId), nowMs);
  if (!step) return [];
  if (step.type === 'stop' || !film) return [{ type: 'stop-film', programmeId }];
  const { fileId, durationMs } = film;
  return [{ type: 'start-film', programmeId, fileId, durationMs, offsetMs: step.offsetMs }];
}

/** A command is applied at the instant it was given, and once; after it the clock goes on. */
function nextLife(
  wanted: DesiredProgramme,
  is: ActualProgramme,
  nowMs: number,
): { life: EventLife; commandId: string | null } {
  const command = wanted.command && wanted.command.commandId !== is.lastCommandId ? wanted.command : null;
  const byHand = command
    ? moveEvent(is.life, { type: 'command', kind: command.kind, nowMs: command.atMs })
    : is.life;
  const isFilmAlone = wanted.film?.standsAlone === true && is.film?.state === 'over';
  const plan = isFilmAlone ? { ...wanted.plan, deadAirMs: AFTER_FILM_MS } : wanted.plan;
  const life = moveEvent(byHand, { type: 'clock', nowMs, plan, signal: is.signal });
  return { life, commandId: command?.commandId ?? is.lastCommandId };
}

function reconcileDestinations(wanted: DesiredProgramme, is: ActualProgramme, life: EventLife): Action[] {
  const { programmeId } = wanted;
  const shouldRun = life.state === 'air' ? wanted.destinations : [];
  const stops = is.destinations
    .filter(
      (running) =>
        !shouldRun.some((d) => d.destinationId === running.destinationId && d.address === running.address),
    )
    .map(({ destinationId }) => ({ type: 'stop-destination', programmeId, destinationId }) as const);
  const starts = shouldRun.flatMap((destination): Action[] => {
    const { destinationId, address, rendition } = destination;
    const running = is.destinations.find(
      (known) => known.destinationId === destinationId && known.address === address,
    );
    if (!running) return [{ type: 'start-destination', programmeId, destination }];
    return running.rendition === rendition
      ? []
      : [{ type: 'feed-destination', programmeId, destinationId, rendition }];
  });
  return [...stops, ...starts];
}

const isWelcome = (
  { sourceId, credential }: ActualConnection,
  desired: DesiredState,
  nowMs: number,
): boolean =>
  desired.sources.some((source) => source.sourceId === sourceId && opensWith(source, credential, nowMs));

/** Whether a source is opened by this: the hash of its key, or of a line that has not run out, its SRT passphrase, or what it follows. */
export const opensWith = (source: DesiredSource, credential: string, nowMs: number): boolean =>
  source.keySha256Hex === credential ||
  source.lines.some((line) => line.sha256Hex === credential && nowMs < line.untilMs) ||
  (source.srt !== null && credential === SRT) ||
  (source.followsProgrammeId !== null && credential === relayOf(source.followsProgrammeId));

/** The passphrase was shown to the listener, which ends when there is another. */
export const SRT = 'srt';

/** By this a programme is let in at the sources that show it. */
export const relayOf = (programmeId: string): string => `programme ${programmeId}`;
