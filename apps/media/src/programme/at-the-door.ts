import type { Tracks } from '@heliphon/core/packaging/init-segment';
import type { SourceVideoFrame } from '@heliphon/core/packaging/packager';
import type { FilmPlayer } from '../films/film-player.js';
import type { FrameListener } from '../ingest/source-connection.js';

/** So near its end a film makes way. */
const MAKES_WAY_MS = 1000;

/** A source that waits while a film plays: let in with a keyframe, once the film is as good as over. */
export class AtTheDoor implements FrameListener {
  constructor(
    private readonly film: FilmPlayer,
    private readonly letIn: (frame: SourceVideoFrame, tracks: Tracks) => void,
  ) {}

  videoFrame(frame: SourceVideoFrame, tracks: Tracks): void {
    if (frame.isKeyframe && this.film.leftMs <= MAKES_WAY_MS) this.letIn(frame, tracks);
  }

  audioFrame(): void {
    // Sound alone waits for the film's own end.
  }

  sourceWent(): void {
    // Who comes again is waited for anew.
  }
}
