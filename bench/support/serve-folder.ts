import { once } from 'node:events';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { basename, join } from 'node:path';

/** The files of a folder over HTTP, as a plain web server would have them. */
export async function serveFolder(folder: string): Promise<{ url: string; close: () => void }> {
  const server = createServer((request, response) => {
    const path = join(folder, basename(new URL(request.url ?? '/', 'http://x').pathname));
    stat(path).then(
      () => {
        response.writeHead(200, { 'Access-Control-Allow-Origin': '*', 'Cache-Control': 'no-store' });
        createReadStream(path).pipe(response);
      },
      () => response.writeHead(404).end(),
    );
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, close: () => server.close() };
}
