import type { ToCamera, ToNode } from '@heliphon/core/ingest/camera-protocol';
import { MEASURING_MS, steadyUploadBps, type UploadSample } from '@heliphon/core/ladder/upload-measure';

export const MEASURE_FAULTS = ['unreachable', 'refused', 'too-little'] as const;
export class MeasureError extends Error {
  override readonly name = 'MeasureError';
  constructor(readonly code: (typeof MEASURE_FAULTS)[number]) {
    super(code);
  }
}

const CHUNK_BYTES = 32_768;
/** Little waits in the browser: what the connection takes is what is measured. */
const MOST_WAITING_BYTES = 1_000_000;
const FILL_EVERY_MS = 10;

/**
 * Uploads noise to the media node for some seconds, and computes what the connection keeps up.
 * @param onProgress - per cent, and the rate so far where one is known.
 * @throws MeasureError; `AbortError` when it was stopped
 */
export function measureUpload(
  access: { readonly address: string; readonly token: string },
  onProgress: (percent: number, uploadBps: number | null) => void,
  signal: AbortSignal,
): Promise<number> {
  return new Promise((resolve, reject) => {
    const socket = new WebSocket(access.address);
    const samples: UploadSample[] = [];
    // Noise: nothing on the way can make it smaller.
    const chunk = crypto.getRandomValues(new Uint8Array(CHUNK_BYTES));
    const filling = window.setInterval(() => {
      while (samples.length > 0 && socket.bufferedAmount < MOST_WAITING_BYTES) socket.send(chunk);
    }, FILL_EVERY_MS);
    const end = (settle: () => void): void => {
      window.clearInterval(filling);
      signal.removeEventListener('abort', stop);
      socket.close();
      settle();
    };
    const stop = (): void => end(() => reject(new DOMException('Stopped', 'AbortError')));
    signal.addEventListener('abort', stop);
    socket.addEventListener('open', () => {
      const hello: ToNode = { type: 'measure', token: access.token };
      socket.send(JSON.stringify(hello));
    });
    socket.addEventListener('message', ({ data }) => {
      const message = JSON.parse(String(data)) as ToCamera;
      if (message.type === 'refused') return end(() => reject(new MeasureError('refused')));
      if (message.type !== 'received') return;
      samples.push(message);
      const sinceMs = message.atMs - samples[0]!.atMs;
      const steady = steadyUploadBps(samples);
      onProgress(Math.min(100, Math.round((sinceMs / MEASURING_MS) * 100)), steady);
      if (sinceMs < MEASURING_MS) return;
      end(() => (steady === null ? reject(new MeasureError('too-little')) : resolve(steady)));
    });
    socket.addEventListener('close', () =>
      end(() => reject(new MeasureError(samples.length > 0 ? 'too-little' : 'unreachable'))),
    );
  });
}
