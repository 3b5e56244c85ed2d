import type { Readable } from 'node:stream';
import type { AmfObject } from '@heliphon/core/ingest/amf0';
import { type FlvMessage, FlvSource } from '@heliphon/core/ingest/flv-source';
import { FlvStream } from '@heliphon/core/ingest/flv-stream';
import type { Clock } from '../clock.js';
import type { SourceConnection } from './source-connection.js';

/** Hands what an encoder sends in FLV's form to its connection. */
export class FlvFeed {
  readonly #source = new FlvSource();

  constructor(
    readonly connection: SourceConnection,
    private readonly clock: Clock,
  ) {}

  announce(metadata: AmfObject): void {
    this.connection.take(this.#source.announce(metadata), this.clock.monotonicMs());
  }

  message(message: FlvMessage): void {
    const signal = this.#source.read(message);
    if (signal) this.connection.take(signal, this.clock.monotonicMs());
  }
}

/** Hands picture and sound of an FLV stream, as ffmpeg writes it, to a connection. */
export function feedFromFlv(stream: Readable, connection: SourceConnection, clock: Clock): void {
  const tags = new FlvStream();
  const feed = new FlvFeed(connection, clock);
  stream.on('data', (bytes: Buffer) => {
    for (const { kind, timestampMs, body } of tags.push(bytes))
      if (kind !== 'script') feed.message({ kind, timestampMs, body });
  });
}
