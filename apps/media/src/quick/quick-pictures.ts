import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { type WebSocket, WebSocketServer } from 'ws';
import { isPicture } from '@heliphon/core/media/frame';
import type { QuickRun } from '@heliphon/contracts/quick';
import { QuickPackager } from '@heliphon/core/packaging/quick-packager';
import { endWhenSilent } from '../ingest/end-when-silent.js';
import type { GrantChecker } from '../origin/grant-checker.js';
import { readAddress } from '../origin/programme-address.js';
import type { Programme } from '../programme/programme.js';

/** Under this name a running programme hands out its pictures one by one. */
const FILE = 'quick';
const MOST = 40;
/** A line that lets so much wait is too slow: pictures are left out until the next keyframe. */
const MOST_WAITING_BYTES = 1_000_000;
const REFUSED = 'HTTP/1.1 403 Forbidden\r\nContent-Length: 0\r\n\r\n';
const TOO_MANY = 'HTTP/1.1 503 Service Unavailable\r\nRetry-After: 5\r\nContent-Length: 0\r\n\r\n';

interface QuickPorts {
  readonly grants: GrantChecker;
  runningProgramme(programmeId: string): Programme | undefined;
}

/** The pictures of programmes as they come, for the desks of their houses: a WebSocket each, at most a few. */
export class QuickPictures {
  readonly #acceptor = new WebSocketServer({ noServer: true, maxPayload: 1000, perMessageDeflate: false });

  constructor(private readonly ports: QuickPorts) {}

  /** Takes an upgrade of HTTP that asks for a quick picture. @returns false for any other */
  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): boolean {
    const address = readAddress(request.url ?? '');
    if (address?.file !== FILE) return false;
    const grant = this.ports.grants.check(address.programmeId, address.grantText);
    const programme = this.ports.runningProgramme(address.programmeId);
    if (!grant.ok || grant.value.class !== 'desk' || !programme) socket.end(REFUSED);
    else if (this.#acceptor.clients.size >= MOST) socket.end(TOO_MANY);
    else this.#acceptor.handleUpgrade(request, socket, head, (accepted) => this.#send(accepted, programme));
    return true;
  }

  close(): void {
    for (const socket of this.#acceptor.clients) socket.terminate();
    this.#acceptor.close();
  }

  /** Sends every picture of a programme down a socket, until either ends, or the programme runs elsewhere. */
  #send(socket: WebSocket, programme: Programme): void {
    const packager = new QuickPackager();
    const { startsAtUtcMs } = programme;
    const leave = programme.consume({
      configure: (tracks) => packager.configure(tracks),
      frame: (frame) => {
        if (isPicture(frame) && socket.bufferedAmount > MOST_WAITING_BYTES) return packager.skip();
        for (const output of packager.take(frame)) {
          if (output.type === 'fragment') socket.send(output.bytes);
          else {
            const run: QuickRun = { type: 'run', codecs: output.codecs, startsAtUtcMs };
            socket.send(JSON.stringify(run));
            socket.send(output.init);
          }
        }
      },
    });
    const stopListening = programme.onChange(() => {
      const isRunning = this.ports.runningProgramme(programme.identity.programmeId) === programme;
      if (programme.life.state === 'kept' || !isRunning) socket.close();
    });
    endWhenSilent(socket);
    socket.on('error', () => socket.terminate());
    socket.once('close', () => {
      leave();
      stopListening();
    });
  }
}
