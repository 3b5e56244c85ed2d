import type { SrtCounts } from '@heliphon/core/ingest/srt-report';
import { type SrtCaller, SrtLibrary, type SrtListenerSettings } from './srt-library.js';

/** What a listener's process tells the node; the stream itself goes out by its standard output. */
export type SrtListenerNews =
  | { readonly type: 'called'; readonly address: string }
  | { readonly type: 'wrong-passphrase'; readonly address: string }
  | { readonly type: 'counted'; readonly counts: SrtCounts };

const LOOK_EVERY_MS = 60;
const READ_EVERY_MS = 8;
const COUNT_EVERY_MS = 1000;

/**
 * A process of its own that listens on one port of SRT, hands on what the caller sends, and ends when the caller hangs up.
 * Its settings, the passphrase among them, come as its first message: they stand on no command line.
 */
process.once('message', (settings: SrtListenerSettings) => {
  const library = SrtLibrary.open();
  const listener = library.listen(settings);
  let caller: SrtCaller | null = null;
  let isFull = false;
  process.stdout.on('drain', () => (isFull = false));
  process.stdout.on('error', () => process.exit(0));

  setInterval(() => {
    const next = library.accept(listener);
    if (!next) return;
    if (!next.isSecured) tell({ type: 'wrong-passphrase', address: next.address });
    if (!next.isSecured || caller) return library.close(next.socket);
    caller = next;
    tell({ type: 'called', address: next.address });
  }, LOOK_EVERY_MS);

  setInterval(() => {
    while (caller && !isFull) {
      const message = library.receive(caller.socket);
      if (message === null) return;
      // The node listens again: each caller is a connection of its own.
      if (message === 'gone') return process.exit(0);
      isFull = !process.stdout.write(message);
    }
  }, READ_EVERY_MS);

  setInterval(() => {
    if (caller) tell({ type: 'counted', counts: library.counts(caller.socket) });
  }, COUNT_EVERY_MS);
});
process.once('disconnect', () => process.exit(0));

const tell = (news: SrtListenerNews): void => void process.send?.(news);
