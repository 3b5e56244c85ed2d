import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { WebSocketServer } from 'ws';

/** The yardstick of the chat: hands every message on to everybody at once, and does nothing else. */
const server = createServer((request, response) => {
  let text = '';
  request.on('data', (chunk) => (text += String(chunk)));
  request.on('end', () => {
    for (const client of room.clients) client.send(text);
    response.end();
  });
});
const room = new WebSocketServer({ server, perMessageDeflate: false });
server.listen(0, '127.0.0.1', () => process.send!({ port: (server.address() as AddressInfo).port }));
process.once('disconnect', () => process.exit(0));
