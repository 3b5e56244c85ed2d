import { readConfig } from './platform/config.js';
import { startServer, stopServer } from './server.js';

const app = await startServer(readConfig(process.env));

// One request's fault ends that request, never those of others.
// eslint-disable-next-line no-console -- the log is standard error
process.on('unhandledRejection', (error) => console.error('A fault that nobody took:', error));

let stopping = false;
async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  await stopServer(app);
  process.exit(0);
}
process.once('SIGTERM', () => void stop());
process.once('SIGINT', () => void stop());
// The keeper holds the other end: when it dies, so do we.
process.once('disconnect', () => void stop());
