import { createHash, randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { connect as connectTcp, isIP, type Socket } from 'node:net';
import { connect as connectTls } from 'node:tls';
import type { DestinationReason } from '@heliphon/core/destinations/destination-state';
import { reasonOfCode, receiverWords } from '@heliphon/core/destinations/receiver-words';
import type { RtmpAddress } from '@heliphon/core/destinations/rtmp-address';
import { INNER_ADDRESS, lookupOutside } from './lookup-outside.js';
import { type PublisherSignal, RtmpPublisher } from '@heliphon/core/destinations/rtmp-publisher';
import { isInnerAddress } from '@heliphon/core/net/inner-address';
import type { AmfObject } from '@heliphon/core/ingest/amf0';

/** A place that has not said yes by then is given up for now. */
const ADMISSION_MS = 8000;
/** A place that takes nothing for so long while something waits is given up. */
const SILENT_MS = 8000;
const STOP_GRACE_MS = 2000;
/** More than the opening handshake writes: the place is really taking the programme. */
const TAKEN_BYTES = 20_000;
/** Authorities by which a secure place is known, as Debian keeps them. */
const SYSTEM_AUTHORITIES = '/etc/ssl/certs/ca-certificates.crt';

export interface SenderEnding {
  readonly reason: DestinationReason;
  /** What the receiver said, without secrets; `null` where it said nothing. */
  readonly said: string | null;
}

interface SenderEvents {
  tookBytes(): void;
  ended(ending: SenderEnding): void;
}

type Piece = (publisher: RtmpPublisher) => Uint8Array;

/** Sends to one place over RTMP, or RTMPS; in this process, so that its key stands on no command line. */
export class RtmpSender {
  #socket: Socket | null = null;
  #publisher: RtmpPublisher | null = null;
  /** What came before the place had said yes. */
  #early: Piece[] = [];
  #earlyBytes = 0;
  #isPublishing = false;
  #isOver = false;
  #sentBefore = 0;
  /** Without the brackets of IPv6. */
  readonly #host: string;
  readonly #admission: NodeJS.Timeout;
  readonly #gone: Promise<void>;
  #resolveGone: () => void = () => undefined;

  constructor(
    private readonly address: RtmpAddress,
    private readonly mayBeInner: boolean,
    private readonly events: SenderEvents,
  ) {
    this.#gone = new Promise((resolve) => (this.#resolveGone = resolve));
    this.#admission = setTimeout(() => this.#over('unreachable'), ADMISSION_MS);
    this.#host = address.host.replace(/^\[|\]$/g, '');
    // Told after the constructor, when the caller has this sender.
    if (!mayBeInner && isIP(this.#host) !== 0 && isInnerAddress(this.#host))
      setImmediate(() => this.#over('inner-address'));
    else this.#connect('');
  }

  /** What waits for the place, in bytes. */
  get queuedBytes(): number {
    return this.#earlyBytes + (this.#socket?.writableLength ?? 0);
  }

  /** What the place has taken, in bytes. */
  get takenBytes(): number {
    const { bytesWritten, writableLength } = this.#socket ?? { bytesWritten: 0, writableLength: 0 };
    return this.#isPublishing ? bytesWritten - writableLength - this.#sentBefore : 0;
  }

  metadata(facts: AmfObject): void {
    this.#write((publisher) => publisher.metadata(facts), 0);
  }

  media(kind: 'video' | 'audio', timestampMs: number, payload: Uint8Array): void {
    this.#write((publisher) => publisher.media(kind, timestampMs, payload), payload.byteLength);
  }

  kill(reason: DestinationReason): void {
    this.#over(reason);
  }

  /** Tells the place properly that this is the end; one that does not take it in time is left. */
  async end(): Promise<void> {
    const socket = this.#socket;
    if (this.#isOver || !socket) return;
    if (this.#isPublishing) socket.write(this.#publisher!.end());
    socket.end();
    const timer = setTimeout(() => socket.destroy(), STOP_GRACE_MS);
    await this.#gone;
    clearTimeout(timer);
  }

  /** @param query - the answer to a challenge */
  #connect(query: string): void {
    const { scheme, port } = this.address;
    const host = this.#host;
    const challenge = randomBytes(4).toString('hex');
    const publisher = new RtmpPublisher(this.address, query, { md5Base64, challenge });
    const lookup = this.mayBeInner ? {} : { lookup: lookupOutside };
    const socket =
      scheme === 'rtmps'
        ? connectTls({
            host,
            port,
            ...lookup,
            ca: authorities(),
            ...(isIP(host) ? {} : { servername: host }),
          })
        : connectTcp({ host, port, ...lookup });
    this.#socket = socket;
    this.#publisher = publisher;
    const begin = (): void => void socket.write(publisher.begin(randomBytes(1528)));
    socket.once(scheme === 'rtmps' ? 'secureConnect' : 'connect', begin);
    socket.setNoDelay(true);
    socket.on('data', (bytes) => {
      for (const signal of publisher.receive(bytes)) if (this.#socket === socket) this.#obey(signal);
    });
    socket.on('drain', () => this.#noteTaken());
    socket.setTimeout(SILENT_MS, () => socket.writableLength > 0 && this.#over('stalled'));
    socket.on('error', ({ code }: NodeJS.ErrnoException) => {
      if (this.#socket !== socket) return;
      this.#over(code === INNER_ADDRESS ? 'inner-address' : reasonOfCode(code ?? ''));
    });
    socket.on('close', () => {
      if (this.#socket === socket) this.#over(this.#isPublishing ? 'broke-off' : 'refused');
    });
  }

  #obey(signal: PublisherSignal): void {
    switch (signal.type) {
      case 'send':
        this.#socket?.write(signal.bytes);
        return;
      case 'publishing':
        clearTimeout(this.#admission);
        this.#isPublishing = true;
        this.#sentBefore = this.#socket!.bytesWritten;
        for (const piece of this.#early) this.#socket!.write(piece(this.#publisher!));
        this.#early = [];
        this.#earlyBytes = 0;
        return;
      case 'challenged': {
        const before = this.#socket;
        this.#connect(signal.query);
        before?.destroy();
        return;
      }
      case 'refused':
        return this.#over('refused', signal.said);
    }
  }

  #write(piece: Piece, sizeBytes: number): void {
    if (this.#isOver) return;
    if (!this.#isPublishing) {
      this.#early.push(piece);
      this.#earlyBytes += sizeBytes;
      return;
    }
    this.#gather();
    this.#socket!.write(piece(this.#publisher!));
    this.#noteTaken();
  }

  /** What is written in one turn goes out together: a call of the system for each packet costs more than the packet. */
  #gather(): void {
    const socket = this.#socket!;
    if (socket.writableCorked > 0) return;
    socket.cork();
    setImmediate(() => socket.uncork());
  }

  #noteTaken(): void {
    if (this.takenBytes > TAKEN_BYTES) this.events.tookBytes();
  }

  #over(reason: DestinationReason, said: string | null = null): void {
    if (this.#isOver) return;
    this.#isOver = true;
    clearTimeout(this.#admission);
    this.#early = [];
    this.#earlyBytes = 0;
    this.#socket?.destroy();
    this.#resolveGone();
    this.events.ended({ reason, said: said === null ? null : receiverWords(said, this.address) });
  }
}

const md5Base64 = (text: string): string => createHash('md5').update(text).digest('base64');

/** A secure place has to prove who it is before it gets our key: by an authority of the system, or of the house. */
function authorities(): Buffer[] | undefined {
  const files = [process.env.HELIPHON_CA_FILE, SYSTEM_AUTHORITIES].filter((file) => file && existsSync(file));
  return files.length === 0 ? undefined : files.map((file) => readFileSync(file!));
}
