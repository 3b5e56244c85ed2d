import { randomBytes } from 'node:crypto';
import { type AddressInfo, createServer, type Socket } from 'node:net';
import { RtmpServerSession, type SessionSignal } from '@heliphon/core/ingest/rtmp-server-session';

// Many places in one process: takes what is sent to it over RTMP and notes the longest silence of each stream. The
// stream `stalled` is taken and never read, `refused` is turned away. Asked, it answers with what it noted, and begins again.

interface Noted {
  lastAtMs: number;
  longestSilenceMs: number;
}

const streams = new Map<string, Noted>();

const server = createServer((socket: Socket) => {
  const session = new RtmpServerSession(randomBytes(1528));
  let noted: Noted | null = null;
  const obey = (signals: readonly SessionSignal[]): void => {
    for (const signal of signals) {
      if (signal.type === 'send') socket.write(signal.bytes);
      if (signal.type === 'connect-asked') obey(session.acceptConnect());
      if (signal.type === 'close') socket.destroy();
      if (signal.type !== 'publish-asked') continue;
      if (signal.streamName === 'refused') {
        obey(session.refusePublish('We do not know this key'));
        continue;
      }
      obey(session.acceptPublish());
      if (signal.streamName === 'stalled') socket.pause();
      else streams.set(signal.streamName, (noted = { lastAtMs: performance.now(), longestSilenceMs: 0 }));
    }
  };
  socket.on('data', (bytes: Buffer) => {
    if (!noted) return obey(session.receive(bytes));
    const nowMs = performance.now();
    noted.longestSilenceMs = Math.max(noted.longestSilenceMs, nowMs - noted.lastAtMs);
    noted.lastAtMs = nowMs;
  });
  socket.on('error', () => socket.destroy());
});
server.listen(0, '127.0.0.1', 256, () => process.send!({ port: (server.address() as AddressInfo).port }));
process.on('message', () => {
  const silences = [...streams.values()].map(({ longestSilenceMs }) => longestSilenceMs);
  for (const noted of streams.values()) noted.longestSilenceMs = 0;
  process.send!(silences);
});
process.once('disconnect', () => process.exit(0));
