import { createHash } from 'node:crypto';
import { createServer, type Server } from 'node:net';
import { resolve } from 'node:path';

export interface FolderLock {
  release(): Promise<void>;
}

/**
 * Holds a data folder for one keeper: a name in Linux's abstract socket space, which dies with its holder however that
 * ends, and leaves no file behind.
 * @throws Error while somebody else holds it
 */
export async function lockFolder(folder: string): Promise<FolderLock> {
  const name = createHash('sha256').update(resolve(folder)).digest('hex').slice(0, 24);
  const server = createServer((socket) => socket.destroy());
  await new Promise<void>((done, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'EADDRINUSE'
          ? new Error(
              `Heliphon is running on ${folder} already. Stop it first, or set HELIPHON_DATA to another folder.`,
            )
          : error,
      ),
    );
    server.listen(`\0heliphon-${name}`, done);
  });
  server.unref();
  return { release: () => closed(server) };
}

const closed = (server: Server): Promise<void> => new Promise((done) => server.close(() => done()));
