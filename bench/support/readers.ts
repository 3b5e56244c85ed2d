import { WebSocket } from 'ws';

// So many readers of one room in a process of their own: `readers.js ADDRESS COUNT [SLUG]`. With a slug they follow an
// event as a public page does (Socket.IO 5 over Engine.IO 4); without one they only listen. Every message carries
// when it was sent, so that its delay is known where it is read.

const [address, count, slug] = process.argv.slice(2);
const delaysMs: number[] = [];

function open(): Promise<void> {
  return new Promise((resolve, reject) => {
    const socket = new WebSocket(address!, { perMessageDeflate: false });
    socket.once('error', reject);
    if (!slug) socket.once('open', resolve);
    socket.on('message', (data: Buffer) => {
      const text = data.toString('latin1');
      for (const [, sentAtMs] of text.matchAll(/sent at (\d+\.\d+)/g))
        delaysMs.push(nowMs() - Number(sentAtMs));
      if (text.startsWith('0')) socket.send('40/public,');
      if (text === '2') socket.send('3');
      if (!text.startsWith('40/public')) return;
      socket.send(`42/public,${JSON.stringify(['follow', slug])}`);
      resolve();
    });
  });
}

/** The same in every process of a machine, finer than `Date.now()`. */
const nowMs = (): number => performance.timeOrigin + performance.now();

for (let opened = 0; opened < Number(count); opened += 50)
  await Promise.all(Array.from({ length: Math.min(50, Number(count) - opened) }, open));
process.once('message', () => process.send!(delaysMs, () => process.exit(0)));
process.send!('all-here');
