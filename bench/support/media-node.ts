import { pino } from 'pino';
import type { DesiredState } from '@heliphon/core/control/desired-state';
import { letHeapGrow } from '../../apps/media/src/heap.js';
import { MediaNode } from '../../apps/media/src/node.js';

/** A media node in a process of its own, so that its processor time can be told apart. Desired state comes by IPC. */
letHeapGrow();
const node = await MediaNode.start(
  {
    bind: '127.0.0.1',
    playbackPort: 0,
    srtFirstPort: 0,
    trustedProxies: [],
    whip: { addresses: ['127.0.0.1'], portRange: undefined },
    rtmpPort: 0,
    dataFolder: process.argv[2]!,
    serverUrl: null,
    secureRtmp: null,
    outside: { place: null, mediaUrl: null, rtmpUrl: null, rtmpsUrl: null },
    checksSignals: process.argv[3] !== 'unchecked',
    innerPlaces: true,
    diskReserveBytes: 0,
    nodeId: 'bench',
    nodeSecret: 'x'.repeat(40),
  },
  pino({ level: 'silent' }),
);
process.on('message', (state) => {
  void node.applyDesired(state as DesiredState).then(() => process.send!({ type: 'applied' }));
});
process.once('disconnect', () => void node.stop().then(() => process.exit(0)));
process.send!({ type: 'listening', playbackPort: node.playbackPort, rtmpPort: node.rtmpPort });
