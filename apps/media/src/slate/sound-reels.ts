import { FlvSource } from '@heliphon/core/ingest/flv-source';
import { FlvStream } from '@heliphon/core/ingest/flv-stream';
import { isPicture } from '@heliphon/core/media/frame';
import type { SoundKind } from '@heliphon/core/media/track';
import type { Making } from './kept-reels.js';

/** What is heard with a slate, over and over: pieces of AAC. */
export interface SoundReel {
  readonly name: string;
  readonly pieces: readonly Uint8Array[];
}

export interface SoundOrder {
  readonly file: { readonly id: string; readonly path: string };
  /** As the programme's own sound is, so that nothing else changes. */
  readonly kind: SoundKind;
}

/** Only this much of a file is used; then it starts again. */
const LONGEST_SECONDS = 180;

/** The sound of slates: once for each file, rate and number of channels. */
export const SOUND_REELS: Making<SoundOrder, SoundReel> = {
  nameOf: ({ file, kind }) => `${file.id}@${kind.sampleRateHz}x${kind.channels}`,
  argsOf: ({ file, kind }) => [
    ...['-nostdin', '-v', 'error', '-t', String(LONGEST_SECONDS), '-i', file.path, '-vn'],
    ...['-ac', String(kind.channels), '-ar', String(kind.sampleRateHz), '-c:a', 'aac', '-b:a', '128k'],
    ...['-threads', '1', '-f', 'flv', '-flvflags', 'no_duration_filesize', 'pipe:1'],
  ],
  read: (name, flv) => {
    const source = new FlvSource();
    const pieces: Uint8Array[] = [];
    for (const { kind, timestampMs, body } of new FlvStream().push(flv)) {
      const signal = kind === 'script' ? null : source.read({ kind, timestampMs, body });
      if (signal?.type === 'frame' && !isPicture(signal.frame)) pieces.push(signal.frame.data);
    }
    return pieces.length > 0 ? { name, pieces } : null;
  },
};
