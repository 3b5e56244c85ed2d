import { connect } from 'node:net';

// Asks one address over and over on fifty connections and throws the bytes away; prints how many answers were whole.
// General load programs turn bodies into text, which for media costs more than serving them.

const [address, seconds] = process.argv.slice(2);
const { hostname, port, pathname, search } = new URL(address!);
const CONNECTIONS = 50;
const ask = `GET ${pathname}${search} HTTP/1.1\r\nHost: ${hostname}\r\nAccept-Encoding: gzip\r\n\r\n`;
let answers = 0;

function load(): void {
  const socket = connect(Number(port), hostname, () => socket.write(ask));
  socket.setNoDelay(true);
  let leftBytes = 0;
  socket.on('data', (chunk: Buffer) => {
    if (leftBytes === 0) {
      const end = chunk.indexOf('\r\n\r\n') + 4;
      const head = chunk.toString('latin1', 0, end);
      if (end < 4 || !head.startsWith('HTTP/1.1 200'))
        throw new Error(`Not as expected: ${head.slice(0, 60)}`);
      leftBytes = end + Number(/content-length: (\d+)/i.exec(head)![1]);
    }
    leftBytes -= chunk.byteLength;
    if (leftBytes > 0) return;
    answers += 1;
    socket.write(ask);
  });
}

for (let count = 0; count < CONNECTIONS; count += 1) load();
setTimeout(
  () => {
    console.log(answers);
    process.exit(0);
  },
  Number(seconds) * 1000,
);
