import type { WebSocket } from 'ws';

const PING_EVERY_MS = 4000;

/** Ends a socket whose other end does not answer any more: it would hang half open. */
export function endWhenSilent(socket: WebSocket): void {
  let isAlive = true;
  const pinging = setInterval(() => {
    if (!isAlive) return socket.terminate();
    isAlive = false;
    socket.ping();
  }, PING_EVERY_MS);
  socket.on('pong', () => (isAlive = true));
  socket.on('message', () => (isAlive = true));
  socket.once('close', () => clearInterval(pinging));
}
