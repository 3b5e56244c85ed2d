import { concatBytes } from '../bytes.js';
import { AmfError, type AmfObject, type AmfValue, decodeAmf0, encodeAmf0 } from '../ingest/amf0.js';
import {
  ChunkError,
  ChunkReader,
  MESSAGE_TYPE,
  type RtmpMessage,
  writeChunks,
} from '../ingest/rtmp-chunks.js';
import {
  Acknowledger,
  chunkSizeBytes,
  commandBytes,
  controlBytes,
  HANDSHAKE_BYTES,
  helloBytes,
  isObject,
  OUT_CHUNK_BYTES,
  pongBytes,
  uint32,
} from '../ingest/rtmp-messages.js';
import type { RtmpAddress } from './rtmp-address.js';

/** What the owner of a connection has to do or know next. */
export type PublisherSignal =
  | { readonly type: 'send'; readonly bytes: Uint8Array }
  /** The place takes pictures now. */
  | { readonly type: 'publishing' }
  /** The place wants name and password: reconnect with this behind the application. */
  | { readonly type: 'challenged'; readonly query: string }
  /** The place said no, or something that is not RTMP; `said` is its own words. */
  | { readonly type: 'refused'; readonly said: string };

export interface LoginSecrets {
  /** base64 of the MD5 of a text: core holds no MD5. */
  readonly md5Base64: (text: string) => string;
  /** Our half of the challenge. */
  readonly challenge: string;
}

const WINDOW_BYTES = 2_500_000;
const CHUNK_STREAM = { audio: 4, data: 5, video: 6 } as const;
/** By the numbers of the commands: their answers carry them. */
const TRANSACTION = { connect: 1, releaseStream: 2, fcPublish: 3, createStream: 4, publish: 5 } as const;
/** Receivers tell encoders by this prefix. */
const FLASH_VERSION = 'FMLE/3.0 (compatible; Heliphon)';

/**
 * The publishing side of one RTMP connection (Adobe RTMP 1.0), without any I/O: bytes in, signals out. Where a place asks
 * for name and password (`authmod=adobe`), the connection ends and its owner begins another with the answer.
 */
export class RtmpPublisher {
  #stage: 'handshake' | 'messages' | 'closed' = 'handshake';
  #pending: Uint8Array = new Uint8Array(0);
  readonly #reader = new ChunkReader();
  readonly #acknowledger = new Acknowledger(WINDOW_BYTES);
  #signals: PublisherSignal[] = [];
  #streamId: number | null = null;

  /** @param query - follows the application: the answer to a challenge. */
  constructor(
    private readonly address: RtmpAddress,
    private readonly query: string,
    private readonly secrets: LoginSecrets,
  ) {}

  /** @param random - fills our half of the handshake; 1528 bytes. @returns the first bytes to send */
  begin(random: Uint8Array): Uint8Array {
    return concatBytes([Uint8Array.of(3), helloBytes(random)]);
  }

  receive(bytes: Uint8Array): PublisherSignal[] {
    this.#acknowledger.received(bytes.byteLength);
    try {
      if (this.#stage === 'handshake') this.#shakeHands(bytes);
      else if (this.#stage === 'messages') this.#readMessages(bytes);
      if (this.#stage === 'messages') this.#send(this.#acknowledger.due());
    } catch (error) {
      if (!(error instanceof ChunkError || error instanceof AmfError)) throw error;
      this.#refused(`It does not speak RTMP: ${error.message}`);
    }
    const signals = this.#signals;
    this.#signals = [];
    return signals;
  }

  /** @returns what announces the programme's facts, once it is publishing */
  metadata(facts: AmfObject): Uint8Array {
    const payload = encodeAmf0(['@setDataFrame', 'onMetaData', facts]);
    return this.#mediaBytes(MESSAGE_TYPE.data, CHUNK_STREAM.data, 0, payload);
  }

  /** @param payload - the body of an FLV tag. @returns the bytes that carry it, once it is publishing */
  media(kind: 'video' | 'audio', timestampMs: number, payload: Uint8Array): Uint8Array {
    return this.#mediaBytes(MESSAGE_TYPE[kind], CHUNK_STREAM[kind], timestampMs, payload);
  }

  /** @returns the proper goodbye, so that the place knows at once */
  end(): Uint8Array {
    this.#stage = 'closed';
    if (this.#streamId === null) return new Uint8Array(0);
    const { streamName } = this.address;
    return concatBytes([
      commandBytes(0, 'FCUnpublish', 6, null, streamName),
      commandBytes(0, 'deleteStream', 7, null, this.#streamId),
    ]);
  }

  #mediaBytes(typeId: number, chunkStream: number, timestampMs: number, payload: Uint8Array): Uint8Array {
    const message = { typeId, streamId: this.#streamId ?? 1, timestampMs: timestampMs >>> 0, payload };
    return writeChunks(message, chunkStream, OUT_CHUNK_BYTES);
  }

  #shakeHands(bytes: Uint8Array): void {
    this.#pending = concatBytes([this.#pending, bytes]);
    if (this.#pending.byteLength > 0 && this.#pending[0] !== 3)
      return this.#refused('It does not speak RTMP');
    if (this.#pending.byteLength < 1 + 2 * HANDSHAKE_BYTES) return;
    const s1 = this.#pending.slice(1, 1 + HANDSHAKE_BYTES);
    const rest = this.#pending.slice(1 + 2 * HANDSHAKE_BYTES);
    this.#pending = new Uint8Array(0);
    this.#stage = 'messages';
    this.#send(s1);
    this.#send(chunkSizeBytes());
    this.#send(this.#connect());
    this.#readMessages(rest);
  }

  #connect(): Uint8Array {
    const { scheme, host, port, application } = this.address;
    const app = `${application}${this.query}`;
    const tcUrl = `${scheme}://${host}:${port}/${app}`;
    const wish = { app, type: 'nonprivate', flashVer: FLASH_VERSION, tcUrl };
    return commandBytes(0, 'connect', TRANSACTION.connect, wish);
  }

  #readMessages(bytes: Uint8Array): void {
    this.#reader.push(bytes, (message) => {
      if (this.#stage === 'messages') this.#handle(message);
    });
  }

  #handle({ typeId, payload }: RtmpMessage): void {
    switch (typeId) {
      case MESSAGE_TYPE.windowAckSize:
        return this.#acknowledger.setWindow(payload);
      case MESSAGE_TYPE.setPeerBandwidth:
        return this.#send(controlBytes(MESSAGE_TYPE.windowAckSize, uint32(WINDOW_BYTES)));
      case MESSAGE_TYPE.userControl:
        return this.#send(pongBytes(payload));
      case MESSAGE_TYPE.command:
        return this.#handleCommand(decodeAmf0(payload));
      default: // a publisher is sent nothing else that matters
    }
  }

  #handleCommand([name, transaction, ...values]: AmfValue[]): void {
    const info = values.find((value) => isObject(value) && 'code' in value);
    const { code, level, description } = isObject(info) ? info : {};
    const said = String(description || code || 'It gave no reason');
    if (name === 'onStatus') {
      if (code === 'NetStream.Publish.Start') this.#signals.push({ type: 'publishing' });
      else if (level === 'error' || /Publish\.(BadName|Denied)|Failed|Rejected/.test(String(code)))
        this.#refused(said);
      return;
    }
    if (name === '_error') {
      // What only some receivers know (releaseStream and the like) may be refused without harm.
      if (transaction === TRANSACTION.connect) this.#connectRefused(said);
      else if (transaction === TRANSACTION.createStream || transaction === TRANSACTION.publish)
        this.#refused(said);
      return;
    }
    if (name !== '_result') return;
    const { streamName } = this.address;
    if (transaction === TRANSACTION.connect) {
      this.#send(commandBytes(0, 'releaseStream', TRANSACTION.releaseStream, null, streamName));
      this.#send(commandBytes(0, 'FCPublish', TRANSACTION.fcPublish, null, streamName));
      this.#send(commandBytes(0, 'createStream', TRANSACTION.createStream, null));
    } else if (transaction === TRANSACTION.createStream) {
      const streamId = typeof values[1] === 'number' ? values[1] : 1;
      this.#streamId = streamId;
      this.#send(commandBytes(streamId, 'publish', TRANSACTION.publish, null, streamName, 'live'));
    }
  }

  #connectRefused(said: string): void {
    const query = this.address.login && answerTo(said, this.address.login, this.secrets);
    if (!query || query === this.query) return this.#refused(said);
    this.#stage = 'closed';
    this.#signals.push({ type: 'challenged', query });
  }

  #refused(said: string): void {
    this.#stage = 'closed';
    this.#signals.push({ type: 'refused', said });
  }

  #send(bytes: Uint8Array | null): void {
    if (bytes) this.#signals.push({ type: 'send', bytes });
  }
}

/** What to put behind the application, by what the place said; `null` where it wants nothing that we know. */
function answerTo(
  said: string,
  { user, password }: NonNullable<RtmpAddress['login']>,
  { md5Base64, challenge }: LoginSecrets,
): string | null {
  if (!said.includes('authmod=adobe') || said.includes('reason=authfailed')) return null;
  const named = `?authmod=adobe&user=${user}`;
  const fields = new URLSearchParams(/\?(.*)$/.exec(said)?.[1]?.replaceAll('+', '%2B') ?? '');
  if (fields.get('reason') !== 'needauth') return named;
  const [salt, theirs, opaque] = ['salt', 'challenge', 'opaque'].map((name) => fields.get(name) ?? '');
  const response = md5Base64(md5Base64(user + salt + password) + (opaque || theirs) + challenge);
  return `${named}&challenge=${challenge}&response=${response}&opaque=${opaque}`;
}
