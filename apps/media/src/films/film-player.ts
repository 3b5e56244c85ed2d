import type { DesiredFilm } from '@heliphon/core/control/film';
import type { Clock } from '../clock.js';
import type { WantedFile } from '../control/fetched-files.js';
import { feedFromFlv } from '../ingest/flv-feed.js';
import { SourceConnection } from '../ingest/source-connection.js';
import type { Child, ChildProcesses } from '../processes/child-processes.js';

interface Played {
  readonly path: string;
  readonly fileId: string;
  readonly durationMs: number;
  /** Where in the film it begins. */
  readonly offsetMs: number;
}

/** How a film, or a sound, is fetched from the server. */
export const filmFile = ({ fileId, sizeBytes }: Pick<DesiredFilm, 'fileId' | 'sizeBytes'>): WantedFile => ({
  id: fileId,
  path: `/control/v1/films/${fileId}`,
  sizeBytes,
});

/** Plays a film of the house as fast as time goes, as if an encoder sent it: nothing is re-encoded. */
export class FilmPlayer {
  readonly fileId: string;
  readonly connection: SourceConnection;
  readonly #child: Child;
  readonly #endsAtMonotonicMs: number;

  /** @param onOver - it has played to its end, was stopped, or cannot be played. */
  constructor(
    { path, fileId, durationMs, offsetMs }: Played,
    private readonly clock: Clock,
    children: ChildProcesses,
    onOver: () => void,
  ) {
    this.fileId = fileId;
    const nowMs = clock.monotonicMs();
    this.#endsAtMonotonicMs = nowMs + durationMs - offsetMs;
    const stop = (): void => this.stop();
    const origin = { remoteAddress: '', protocol: 'file' } as const;
    this.connection = new SourceConnection('film', fileId, '', stop, clock.nowMs(), origin);
    const place = ['-ss', String(offsetMs / 1000), '-re', '-i', path];
    const whole = '-map 0:V:0 -map 0:a:0? -c copy -f flv -flvflags no_duration_filesize pipe:1';
    this.#child = children.start({
      purpose: 'film',
      command: 'ffmpeg',
      args: ['-nostdin', '-v', 'error', ...place, ...whole.split(' ')],
    });
    feedFromFlv(this.#child.stdout, this.connection, clock);
    void this.#child.ended.then(onOver);
  }

  get leftMs(): number {
    return Math.max(0, this.#endsAtMonotonicMs - this.clock.monotonicMs());
  }

  stop(): void {
    this.#child.kill();
  }
}
