import type { Readable } from 'node:stream';
import { FlvStream } from '@heliphon/core/ingest/flv-stream';
import type { Clock } from '../clock.js';
import type { SourceConnection } from './source-connection.js';

/** Hands picture and sound of an FLV stream, as ffmpeg writes it, to a connection. */
export function feedFromFlv(stream: Readable, connection: SourceConnection, clock: Clock): void {
  const tags = new FlvStream();
  stream.on('data', (bytes: Buffer) => {
    for (const { kind, timestampMs, body } of tags.push(bytes))
      if (kind !== 'script') connection.media({ kind, timestampMs, payload: body }, clock.monotonicMs());
  });
}
