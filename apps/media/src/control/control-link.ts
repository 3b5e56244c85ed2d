import { WebSocket } from 'ws';
import type { Logger } from 'pino';
import type { DesiredState, ServerMessage } from '@heliphon/core/control/desired-state';
import type { Figures, NodeMessage, NodeSelf } from '@heliphon/core/control/observations';
import { serverMessageSchema } from '@heliphon/contracts/control.schema';
import type { Journal } from './journal.js';

const REDIAL_FIRST_MS = 1000;
const REDIAL_LAST_MS = 3000;
/** A server that says nothing at all for so long has gone, whatever the socket thinks. */
const PING_EVERY_MS = 5000;
/** A slow server keeps what was on air waiting no longer than this. */
const FIRST_WORD_WITHIN_MS = 1500;

const WHY_NOT: Readonly<Record<number, string>> = {
  401: 'The server does not know this media node: check HELIPHON_NODE_ID and HELIPHON_NODE_SECRET',
  409: 'Another media node goes by this name: give each its own HELIPHON_NODE_ID and secret',
};

export interface LinkSettings {
  readonly serverUrl: string;
  readonly nodeId: string;
  readonly nodeSecret: string;
}

/** @returns what is wrong with a message that is not understood */
function readMessage(text: string): ServerMessage | string {
  try {
    const { value, error } = serverMessageSchema.validate(JSON.parse(text));
    return error ? error.message : value;
  } catch (error) {
    return String(error);
  }
}

/** The node's end of the control link: dials the server, takes desired state, delivers what the journal holds. */
export class ControlLink {
  #socket: WebSocket | null = null;
  #redialMs = REDIAL_FIRST_MS;
  #timer: NodeJS.Timeout | null = null;
  #closed = false;
  #sentSeq = 0;
  /** Within one connection revisions only rise; a restarted server may begin lower. */
  #lastRevision = 0;
  /** Where the node can be had; `null` until its ports are open. */
  #self: NodeSelf | null = null;
  #endWait: () => void = () => undefined;

  constructor(
    private readonly settings: LinkSettings,
    private readonly journal: Journal,
    private readonly log: Logger,
    private readonly onDesired: (state: DesiredState) => void,
    private readonly onTellAnew: () => void,
  ) {}

  dial(): void {
    const { serverUrl, nodeId, nodeSecret } = this.settings;
    const socket = new WebSocket(`${serverUrl.replace(/^http/, 'ws')}/control/v1`, {
      headers: { authorization: `Node ${nodeId}:${nodeSecret}` },
      handshakeTimeout: 5000,
    });
    this.#socket = socket;
    let isAlive = true;
    let ping: NodeJS.Timeout | undefined;
    socket.on('pong', () => (isAlive = true));
    socket.on('open', () => {
      ping = setInterval(() => {
        if (!isAlive) return socket.terminate();
        isAlive = false;
        socket.ping();
      }, PING_EVERY_MS);
      this.#lastRevision = 0;
      this.log.info('The server is there');
      this.#redialMs = REDIAL_FIRST_MS;
      this.#sentSeq = 0;
      this.#sayHere();
    });
    socket.on('message', (data) => this.#take(String(data)));
    socket.on('unexpected-response', (_request, { statusCode }) => {
      this.log.error(
        { statusCode },
        WHY_NOT[statusCode ?? 0] ?? 'The server takes no media node in just now',
      );
      socket.terminate();
    });
    socket.on('error', () => undefined); // 'close' follows and dials again
    socket.on('close', () => {
      clearInterval(ping);
      this.#endWait();
      if (this.#closed) return;
      this.#timer = setTimeout(() => this.dial(), this.#redialMs);
      this.#redialMs = Math.min(REDIAL_LAST_MS, this.#redialMs * 1.5);
    });
  }

  /** Resolves when the desired state has come for the first time, or when there is no server to wait for. */
  firstWord(): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, FIRST_WORD_WITHIN_MS);
      this.#endWait = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  /** From now on the server knows where the node can be had, and is told what it observes. */
  introduce(self: NodeSelf): void {
    this.#self = self;
    this.#sayHere();
  }

  /** Sends what is waiting in the journal. */
  async deliver(): Promise<void> {
    if (!this.#self) return;
    const entries = (await this.journal.unstored()).filter((entry) => entry.journalSeq > this.#sentSeq);
    if (entries.length === 0 || !this.#send({ type: 'observed', entries })) return;
    this.#sentSeq = entries.at(-1)!.journalSeq;
  }

  report(figures: Figures): void {
    this.#send({ type: 'figures', figures });
  }

  close(): void {
    this.#closed = true;
    if (this.#timer) clearTimeout(this.#timer);
    this.#socket?.terminate();
  }

  #take(text: string): void {
    const message = readMessage(text);
    if (typeof message === 'string') {
      this.log.warn(
        { reason: message },
        'The server said something that is not understood; it is passed over',
      );
      return;
    }
    if (message.type === 'stored') {
      this.journal.stored(message.journalSeq);
      void this.deliver();
    } else if (message.type === 'tell-anew') {
      this.onTellAnew();
    } else if (message.state.revision > this.#lastRevision) {
      this.#lastRevision = message.state.revision;
      this.onDesired(message.state);
      this.#endWait();
    }
  }

  #sayHere(): void {
    if (!this.#self) return;
    this.#send({ type: 'here', self: this.#self, journalId: this.journal.id });
    void this.deliver();
  }

  #send(message: NodeMessage): boolean {
    if (this.#socket?.readyState !== WebSocket.OPEN) return false;
    this.#socket.send(JSON.stringify(message));
    return true;
  }
}
