import { pino } from 'pino';
import { readConfig } from './config.js';
import { MediaNode } from './node.js';

const log = pino({ name: 'media' });
const node = await MediaNode.start(readConfig(process.env), log);
log.info({ playbackPort: node.playbackPort, rtmpPort: node.rtmpPort }, 'The media node is listening');

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
