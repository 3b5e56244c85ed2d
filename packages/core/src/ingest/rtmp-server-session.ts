import type { SourceEnding } from '../control/observations.js';
import { concatBytes } from '../bytes.js';
import { type AmfObject, type AmfValue, AmfError, decodeAmf0 } from './amf0.js';
import { ChunkError, ChunkReader, MESSAGE_TYPE, type RtmpMessage } from './rtmp-chunks.js';
import {
  Acknowledger,
  chunkSizeBytes,
  commandBytes,
  controlBytes,
  HANDSHAKE_BYTES,
  helloBytes,
  isObject,
  pongBytes,
  uint32,
} from './rtmp-messages.js';

/** What the owner of a connection has to do or know next. */
export type SessionSignal =
  | { readonly type: 'send'; readonly bytes: Uint8Array }
  /** Answer with `acceptConnect` or `refuseConnect`. `query` is what followed `?` in the application. */
  | { readonly type: 'connect-asked'; readonly application: string; readonly query: string }
  /** Answer with `acceptPublish` or `refusePublish`, whenever it is known. */
  | { readonly type: 'publish-asked'; readonly streamName: string }
  | { readonly type: 'metadata'; readonly metadata: AmfObject }
  | {
      readonly type: 'media';
      readonly kind: 'video' | 'audio';
      readonly timestampMs: number;
      readonly payload: Uint8Array;
    }
  /** The peer stopped publishing, or broke the protocol: close the socket, after `afterMs` so that it can read why. */
  | { readonly type: 'close'; readonly afterMs: number; readonly reason: SourceEnding };

const WINDOW_BYTES = 2_500_000;
/** An encoder that has been refused sees only a broken pipe unless it gets time to read the reason. */
const REFUSAL_LINGER_MS = 1000;

type Stage = 'hello' | 'ack' | 'messages' | 'closed';

/**
 * The server's side of one RTMP connection (Adobe RTMP 1.0) that publishes, without any I/O: bytes in, signals out.
 * A broken peer ends in a `close` signal, never in an exception.
 */
export class RtmpServerSession {
  #stage: Stage = 'hello';
  #pending: Uint8Array = new Uint8Array(0);
  readonly #reader = new ChunkReader();
  #signals: SessionSignal[] = [];
  readonly #acknowledger = new Acknowledger(WINDOW_BYTES);
  #connectId = 0;
  #connected = false;
  #publishStreamId: number | null = null;

  /** @param random - fills our half of the handshake; 1528 bytes. */
  constructor(private readonly random: Uint8Array) {}

  receive(bytes: Uint8Array): SessionSignal[] {
    this.#acknowledger.received(bytes.byteLength);
    try {
      if (this.#stage === 'messages') this.#readMessages(bytes);
      else if (this.#stage !== 'closed') this.#shakeHands(bytes);
      this.#acknowledge();
    } catch (error) {
      if (!(error instanceof ChunkError || error instanceof AmfError)) throw error;
      this.#close(0, 'unreadable');
    }
    return this.#flush();
  }

  acceptConnect(): SessionSignal[] {
    if (this.#stage === 'closed') return [];
    this.#connected = true;
    this.#control(MESSAGE_TYPE.windowAckSize, uint32(WINDOW_BYTES));
    this.#control(MESSAGE_TYPE.setPeerBandwidth, concatBytes([uint32(WINDOW_BYTES), Uint8Array.of(2)]));
    this.#announceChunkSize();
    this.#command(
      0,
      '_result',
      this.#connectId,
      { fmsVer: 'FMS/3,0,1,123', capabilities: 31 },
      {
        level: 'status',
        code: 'NetConnection.Connect.Success',
        description: 'Connected',
        objectEncoding: 0,
      },
    );
    return this.#flush();
  }

  /** Refuses the connection; `description` is shown by encoders, or carries the challenge they answer. */
  refuseConnect(description: string): SessionSignal[] {
    if (this.#stage === 'closed') return [];
    this.#announceChunkSize();
    this.#command(0, '_error', this.#connectId, null, {
      level: 'error',
      code: 'NetConnection.Connect.Rejected',
      description,
    });
    this.#close(REFUSAL_LINGER_MS, 'turned-away');
    return this.#flush();
  }

  acceptPublish(): SessionSignal[] {
    if (this.#publishStreamId === null || this.#stage === 'closed') return [];
    this.#reader.trust();
    this.#control(
      MESSAGE_TYPE.userControl,
      concatBytes([Uint8Array.of(0, 0), uint32(this.#publishStreamId)]),
    );
    this.#status('status', 'NetStream.Publish.Start', 'Publishing');
    return this.#flush();
  }

  refusePublish(description: string): SessionSignal[] {
    if (this.#stage === 'closed') return [];
    this.#status('error', 'NetStream.Publish.BadName', description);
    this.#close(REFUSAL_LINGER_MS, 'turned-away');
    return this.#flush();
  }

  #shakeHands(bytes: Uint8Array): void {
    this.#pending = concatBytes([this.#pending, bytes]);
    if (this.#stage === 'hello') {
      if (this.#pending.byteLength > 0 && this.#pending[0] !== 3) {
        this.#close(0, 'unreadable');
        return;
      }
      if (this.#pending.byteLength < 1 + HANDSHAKE_BYTES) return;
      const c1 = this.#pending.slice(1, 1 + HANDSHAKE_BYTES);
      this.#send(concatBytes([Uint8Array.of(3), helloBytes(this.random), c1]));
      this.#pending = this.#pending.slice(1 + HANDSHAKE_BYTES);
      this.#stage = 'ack';
    }
    if (this.#pending.byteLength < HANDSHAKE_BYTES) return;
    const rest = this.#pending.slice(HANDSHAKE_BYTES);
    this.#pending = new Uint8Array(0);
    this.#stage = 'messages';
    this.#readMessages(rest);
  }

  #readMessages(bytes: Uint8Array): void {
    this.#reader.push(bytes, (message) => {
      if (this.#stage === 'messages') this.#handle(message);
    });
  }

  #handle(message: RtmpMessage): void {
    switch (message.typeId) {
      case MESSAGE_TYPE.video:
      case MESSAGE_TYPE.audio:
        if (this.#publishStreamId === null || message.payload.byteLength === 0) return;
        this.#signals.push({
          type: 'media',
          kind: message.typeId === MESSAGE_TYPE.video ? 'video' : 'audio',
          timestampMs: message.timestampMs,
          payload: message.payload,
        });
        return;
      case MESSAGE_TYPE.data:
        this.#handleData(decodeAmf0(message.payload));
        return;
      case MESSAGE_TYPE.command:
        this.#handleCommand(message.streamId, decodeAmf0(message.payload));
        return;
      case MESSAGE_TYPE.windowAckSize:
        this.#acknowledger.setWindow(message.payload);
        return;
      case MESSAGE_TYPE.userControl:
        this.#send(pongBytes(message.payload));
        return;
      default: // what only players send, and what later versions may bring, is passed over
    }
  }

  #handleData(values: AmfValue[]): void {
    const at = values.indexOf('onMetaData');
    const metadata = at >= 0 ? values[at + 1] : undefined;
    if (isObject(metadata)) this.#signals.push({ type: 'metadata', metadata });
  }

  #handleCommand(streamId: number, [name, transaction, ...values]: AmfValue[]): void {
    const id = typeof transaction === 'number' ? transaction : 0;
    if (name !== 'connect' && !this.#connected) {
      this.#close(0, 'unreadable');
      return;
    }
    switch (name) {
      case 'connect': {
        const application = isObject(values[0]) && typeof values[0].app === 'string' ? values[0].app : '';
        const [path, ...query] = application.split('?');
        this.#connectId = id;
        this.#signals.push({
          type: 'connect-asked',
          application: path!.replace(/\/+$/, ''),
          query: query.join('?'),
        });
        return;
      }
      case 'createStream':
        this.#command(0, '_result', id, null, 1);
        return;
      case 'releaseStream':
      case 'FCPublish':
        this.#command(0, '_result', id, null, undefined);
        return;
      case 'publish': {
        if (this.#publishStreamId !== null) return;
        this.#publishStreamId = streamId;
        const streamName = typeof values[1] === 'string' ? values[1] : '';
        this.#signals.push({ type: 'publish-asked', streamName });
        return;
      }
      case 'play':
        this.#close(REFUSAL_LINGER_MS, 'turned-away');
        return;
      case 'FCUnpublish':
      case 'deleteStream':
      case 'closeStream':
        if (this.#publishStreamId !== null) this.#close(0, 'encoder-stopped');
        return;
      default: // encoders ask for more than they need (_checkbw and the like); silence is accepted by all
    }
  }

  #status(level: 'status' | 'error', code: string, description: string): void {
    this.#command(this.#publishStreamId ?? 1, 'onStatus', 0, null, { level, code, description });
  }

  #command(streamId: number, name: string, id: number, ...values: AmfValue[]): void {
    this.#send(commandBytes(streamId, name, id, ...values));
  }

  #control(typeId: number, payload: Uint8Array): void {
    this.#send(controlBytes(typeId, payload));
  }

  #announceChunkSize(): void {
    this.#send(chunkSizeBytes());
  }

  #send(bytes: Uint8Array | null): void {
    if (bytes) this.#signals.push({ type: 'send', bytes });
  }

  #acknowledge(): void {
    if (this.#stage === 'messages') this.#send(this.#acknowledger.due());
  }

  #close(afterMs: number, reason: SourceEnding): void {
    this.#stage = 'closed';
    this.#signals.push({ type: 'close', afterMs, reason });
  }

  #flush(): SessionSignal[] {
    const signals = this.#signals;
    this.#signals = [];
    return signals;
  }
}
