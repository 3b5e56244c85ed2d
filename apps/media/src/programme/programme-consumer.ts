import type { Frame } from '@heliphon/core/media/frame';
import type { WholeTracks } from '@heliphon/core/media/track';

/** Takes what a programme sends, on the programme's own time: a place, or a source that shows it. */
export interface ProgrammeConsumer {
  /** A run begins; its first frame is a keyframe. */
  configure(tracks: WholeTracks): void;
  frame(frame: Frame): void;
}
