import type { Logger } from 'pino';
import type { DesiredProgramme } from '@heliphon/core/control/desired-state';
import type { Action } from '@heliphon/core/control/reconcile';
import { assertNever } from '@heliphon/core/result';
import type { Clock } from './clock.js';
import type { FetchedFiles } from './control/fetched-files.js';
import { FilmPlayer } from './films/film-player.js';
import type { SourceRegistry } from './ingest/source-registry.js';
import type { ChildProcesses } from './processes/child-processes.js';
import type { Programme } from './programme/programme.js';
import type { Programmes } from './programme/programmes.js';

interface ActionPorts {
  readonly programmes: Programmes;
  readonly registry: SourceRegistry;
  readonly films: FetchedFiles;
  readonly clock: Clock;
  readonly children: ChildProcesses;
  readonly log: Logger;
  /** As the desired state has it now. */
  wantedProgramme(programmeId: string): DesiredProgramme | undefined;
}

/** Carries out what `reconcile` finds to be done. */
export class NodeActions {
  constructor(private readonly ports: ActionPorts) {}

  /** @throws what prevented it; it is then still to be done */
  async perform(action: Action): Promise<void> {
    if (action.type === 'cut-connection') return this.ports.registry.cut(action.connectionId);
    if (action.type === 'remove-recording')
      return this.ports.programmes.removeRecording(action.programmeId, action.houseId);
    if (action.type === 'cut-clip') return this.ports.programmes.cutClip(action.clip);
    if (action.type === 'open-programme') return this.#begin(action.programmeId);
    const programme = this.ports.programmes.running.get(action.programmeId);
    if (!programme) return;
    switch (action.type) {
      case 'move-programme':
        return programme.move(action.life, action.commandId);
      case 'set-source':
        return programme.setSource(action.sourceId, action.standby);
      case 'set-rewind-window':
        return programme.setRewindWindow(action.rewindWindowMs);
      case 'set-slate':
        return programme.setSlate(action.slate);
      case 'set-renditions':
        return programme.setRenditions(action.choice, action.isKept);
      case 'start-film':
        return this.#startFilm(programme, action);
      case 'stop-film':
        return programme.stopFilm();
      case 'start-destination':
        return programme.startDestination(action.destination);
      case 'feed-destination':
        return programme.feedDestination(action.destinationId, action.rendition);
      case 'stop-destination':
        // Not awaited: a place that takes its time to say goodbye holds nobody up.
        void programme.stopDestination(action.destinationId);
        return;
      case 'close-programme':
        return this.ports.programmes.end(action.programmeId);
      default:
        assertNever(action);
    }
  }

  #startFilm(
    programme: Programme,
    { fileId, durationMs, offsetMs }: Extract<Action, { type: 'start-film' }>,
  ): Promise<void> {
    const film = { path: this.ports.films.pathOf(fileId), fileId, durationMs, offsetMs };
    const player: FilmPlayer = new FilmPlayer(film, this.ports.clock, this.ports.children, () => {
      programme
        .filmOver(player)
        .catch((error: unknown) =>
          this.ports.log.error({ error: String(error) }, 'The end of a film was not kept'),
        );
    });
    return programme.startFilm(player);
  }

  async #begin(programmeId: string): Promise<void> {
    const wanted = this.ports.wantedProgramme(programmeId);
    if (wanted) await this.ports.programmes.begin(wanted);
  }
}
