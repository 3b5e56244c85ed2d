import type { WebSocket } from 'ws';
import { MEASURING_MS } from '@heliphon/core/ladder/upload-measure';
import type { ToCamera } from '@heliphon/core/ingest/camera-protocol';
import type { Clock } from '../clock.js';

const TELL_EVERY_MS = 200;
/** A measuring that runs on is ended. */
const LONGEST_MS = MEASURING_MS + 5000;

/** Counts what a browser uploads, and tells it what has arrived; nothing of it is kept. */
export function measureUpload(socket: WebSocket, clock: Clock): void {
  let receivedBytes = 0;
  socket.on('message', (data: Buffer, isBinary) => {
    if (isBinary) receivedBytes += data.byteLength;
  });
  const tell = (): void => {
    const message: ToCamera = { type: 'received', atMs: clock.monotonicMs(), receivedBytes };
    socket.send(JSON.stringify(message));
  };
  const telling = setInterval(tell, TELL_EVERY_MS);
  const ending = setTimeout(() => socket.close(), LONGEST_MS);
  socket.once('close', () => {
    clearInterval(telling);
    clearTimeout(ending);
  });
  tell();
}
