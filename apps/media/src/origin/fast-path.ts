import { STATUS_CODES } from 'node:http';
import type { Socket } from 'node:net';
import {
  type KnownHeaders,
  type PlainRequest,
  readPlainRequest,
} from '@heliphon/core/delivery/plain-request';
import { type Answer, refusal, SORRY } from './answers.js';

type MaybeAnswer = Answer | null;

/**
 * A connection on which nothing moves for so long is closed. Longer than a proxy keeps an idle one (nginx: 60 s), so
 * that no request meets one just being closed.
 */
export const IDLE_MS = 75_000;
/** Requests of players are short; longer ones go to the whole HTTP server and its limits. */
const MOST_HEAD_BYTES = 4096;
const KEEP_ALIVE = `Connection: keep-alive\r\nKeep-Alive: timeout=${IDLE_MS / 1000}\r\n\r\n`;

/**
 * Answers plain requests for media straight on their connection, without a whole HTTP server's work: players ask for
 * the same few things thousands of times. A connection that brings anything else goes, with what it brought,
 * to the HTTP server for good.
 */
export class FastPath {
  readonly #sockets = new Set<Socket>();
  readonly #headers: KnownHeaders = new Map();

  /** @param answer - `null` for what only the HTTP server can answer. What is at hand is given without a promise. */
  constructor(private readonly answer: (request: PlainRequest) => MaybeAnswer | Promise<MaybeAnswer>) {}

  /** @param toHttp - hands a connection over to the HTTP server. */
  take(socket: Socket, toHttp: (socket: Socket) => void): void {
    this.#sockets.add(socket);
    let isAnswering = false;
    let hasEnded = false;
    /** What came while an answer was being made. */
    let early: Buffer[] = [];

    const onData = (chunk: Buffer): void => {
      if (!isAnswering) return take(chunk);
      early.push(chunk);
      if (early.length > 1) socket.pause();
    };
    const take = (chunk: Buffer): void => {
      const request =
        chunk.byteLength <= MOST_HEAD_BYTES && readPlainRequest(chunk.toString('latin1'), this.#headers);
      if (!request) return handOver(chunk);
      isAnswering = true;
      const give = (answer: MaybeAnswer): void => {
        if (socket.destroyed) return;
        if (!answer) return handOver(chunk);
        write(socket, answer);
        if (!socket.writableNeedDrain) next();
      };
      const made = this.answer(request);
      if (made instanceof Promise) made.catch(() => refusal(500, SORRY)).then(give, close);
      else give(made);
    };
    const next = (): void => {
      isAnswering = false;
      if (hasEnded) socket.end();
      else if (early.length > 0) handOver();
    };
    const onEnd = (): void => {
      hasEnded = true;
      if (!isAnswering) socket.end();
    };
    const close = (): void => void socket.destroy();
    const leave = (): void => {
      this.#sockets.delete(socket);
      socket.off('data', onData).off('end', onEnd).off('error', close).off('timeout', close);
      socket.off('close', leave).off('drain', next);
    };
    const handOver = (...first: Buffer[]): void => {
      leave();
      if (hasEnded) return void socket.end();
      socket.pause();
      socket.setTimeout(0);
      socket.unshift(Buffer.concat([...first, ...early]));
      early = [];
      toHttp(socket);
      socket.resume();
    };
    socket.on('data', onData).on('end', onEnd).on('error', close).on('close', leave).on('drain', next);
    socket.setTimeout(IDLE_MS, close);
  }

  close(): void {
    for (const socket of this.#sockets) socket.destroy();
  }
}

function write(socket: Socket, answer: Answer): void {
  const { head, body } = messageOf(answer);
  if (!body) return void socket.write(head);
  socket.cork();
  socket.write(head);
  socket.write(body);
  socket.uncork();
}

/** A body so small is copied behind its head, once: one write is cheaper than two. */
const SMALL_BYTES = 32_768;

interface Message {
  readonly second: number;
  /** With a small body behind it. */
  readonly head: Buffer;
  readonly body: Uint8Array | null;
}
/** Answers that are given again and again; each head holds for the second that its date names (RFC 9110, 5.6.7). */
const messages = new WeakMap<Answer, Message>();

function messageOf(answer: Answer): Message {
  const second = Math.floor(Date.now() / 1000);
  const known = messages.get(answer);
  if (known?.second === second) return known;
  const { status, headers, body } = answer;
  let text = `HTTP/1.1 ${status} ${STATUS_CODES[status]}\r\n`;
  for (let index = 0; index < headers.length; index += 2)
    text += `${headers[index]}: ${headers[index + 1]}\r\n`;
  const date = new Date(second * 1000).toUTCString();
  const head = Buffer.from(`${text}Date: ${date}\r\n${KEEP_ALIVE}`, 'latin1');
  const isSmall = body !== null && body.byteLength <= SMALL_BYTES;
  const message = isSmall
    ? { second, head: Buffer.concat([head, body]), body: null }
    : { second, head, body };
  messages.set(answer, message);
  return message;
}
