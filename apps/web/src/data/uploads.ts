import { useSyncExternalStore } from 'react';
import { DetailedError, Upload } from 'tus-js-client';
import { refusalBefore } from '@heliphon/core/files/file-kinds';
import { UPLOAD_CHUNK_BYTES, UPLOADS_PATH } from '@heliphon/contracts/files';
import type { Problem } from '@heliphon/contracts/problem';
import { ApiError, OfflineError } from './api.js';
import { refreshTopic } from './cache.js';
import { randomId } from './random-id.js';

/** A file on its way to the house. It goes on while one looks at other rooms. */
export interface Sending {
  readonly id: string;
  readonly name: string;
  readonly sizeBytes: number;
  readonly sentBytes: number;
  /** `trying`: the way is broken, and we try again by ourselves. */
  readonly state: 'sending' | 'trying' | 'failed';
  readonly error: unknown;
}

const RETRY_AFTER_MS = [500, 1000, 2000, 4000, ...Array.from({ length: 200 }, () => 5000)];
/** Refused for good: asking again would change nothing. */
const isFinal = (status: number): boolean =>
  status >= 400 && status < 500 && ![408, 409, 423, 429].includes(status);

let sendings: readonly Sending[] = [];
const uploads = new Map<string, Upload>();
const listeners = new Set<() => void>();

function tell(next: readonly Sending[]): void {
  sendings = next;
  for (const listener of listeners) listener();
}
const change = (id: string, what: Partial<Sending>): void =>
  tell(sendings.map((sending) => (sending.id === id ? { ...sending, ...what } : sending)));
const drop = (id: string): void => {
  uploads.delete(id);
  tell(sendings.filter((sending) => sending.id !== id));
};

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** What is on its way now. */
export const useSendings = (): readonly Sending[] => useSyncExternalStore(subscribe, () => sendings);

/** Sends files; one that was cut off before, even in an earlier visit, goes on where it was. */
export function sendFiles(files: Iterable<File>): void {
  for (const file of files) {
    const id = randomId();
    const sending = { id, name: file.name, sizeBytes: file.size, sentBytes: 0, error: null };
    const refusal = refusalBefore(file.name, file.size);
    if (refusal) {
      const error = new ApiError(413, problem(413, refusal.code, { most: refusal.mostBytes }));
      tell([...sendings, { ...sending, state: 'failed', error }]);
      continue;
    }
    tell([...sendings, { ...sending, state: 'sending' }]);
    void begin(id, file);
  }
}

async function begin(id: string, file: File): Promise<void> {
  const upload = new Upload(file, {
    endpoint: UPLOADS_PATH,
    chunkSize: UPLOAD_CHUNK_BYTES,
    retryDelays: RETRY_AFTER_MS,
    removeFingerprintOnSuccess: true,
    metadata: { filename: file.name },
    onProgress: (sentBytes) => change(id, { sentBytes, state: 'sending' }),
    onShouldRetry: (error) => {
      if (isFinal(statusOf(error))) return false;
      change(id, { state: 'trying' });
      return true;
    },
    onError: (error) => change(id, { state: 'failed', error: problemOf(error) }),
    onSuccess: () => {
      drop(id);
      refreshTopic('files');
    },
  });
  uploads.set(id, upload);
  const [earlier] = await upload.findPreviousUploads();
  if (earlier) upload.resumeFromPreviousUpload(earlier);
  upload.start();
}

/** Tries again from where it was. */
export function sendOn(id: string): void {
  change(id, { state: 'sending', error: null });
  uploads.get(id)?.start();
}

/** Calls it off; what has come is thrown away. */
export function callOff(id: string): void {
  void uploads
    .get(id)
    ?.abort(true)
    .catch(() => undefined); // the server lets go of it by itself in time
  drop(id);
}

const problem = (status: number, code: string, params: Problem['params'] = {}): Problem => ({
  type: 'about:blank',
  status,
  title: 'Not taken',
  code,
  params,
});

const statusOf = (error: unknown): number =>
  error instanceof DetailedError ? (error.originalResponse?.getStatus() ?? 0) : 0;

function problemOf(error: unknown): Error {
  const status = statusOf(error);
  if (status === 0) return new OfflineError(UPLOADS_PATH);
  const body = error instanceof DetailedError ? (error.originalResponse?.getBody() ?? '') : '';
  try {
    return new ApiError(status, JSON.parse(body) as Problem);
  } catch {
    return new ApiError(status, problem(status, status === 413 ? 'too-large' : 'fault'));
  }
}

/** Closing the page would cut it off. */
window.addEventListener('beforeunload', (event) => {
  if (sendings.some(({ state }) => state !== 'failed')) event.preventDefault();
});
