import { pino } from 'pino';
import { readConfig } from './config.js';
import { letHeapGrow } from './heap.js';
import { MediaNode } from './node.js';

letHeapGrow();
const log = pino({ name: 'media' });
const node = await MediaNode.start(readConfig(process.env), log);
log.info({ playbackPort: node.playbackPort, rtmpPort: node.rtmpPort }, 'The media node is listening');

// One subject's fault ends that subject, never the picture of others.
process.on('unhandledRejection', (error) => log.error({ error: String(error) }, 'A fault that nobody took'));

let stopping = false;
async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  await node.stop();
  process.exit(0);
}
process.once('SIGTERM', () => void stop());
process.once('SIGINT', () => void stop());
// The keeper holds the other end: when it dies, so do we.
process.once('disconnect', () => void stop());
