import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { openLinked } from './support/linked.js';
import { ownFolder, tied } from './support/children.js';
import { coresOf, makeFilm, median, NodeRig, option, pause, sendFilm, untilQuiet } from './support/rig.js';

// Processor time of one programme that goes to forty places (one takes the connection and reads nothing, another refuses
// its key) against forty bare `ffmpeg -c copy` from a file to the same places (the yardstick). The others must not
// notice: their longest silence beside those two, against without them; and beside ten postings at the platforms.

const PLACES = 40;
const WARM_UP_MS = 12_000;
const TROUBLES = ['stalled', 'refused'];
/** With two places in forty in trouble, the work of the rest may not cost more than this of the yardstick. */
const BUDGET_RATIO = 1.2;
/** A viewer of a platform does not notice what its own buffer covers. */
const BUDGET_SILENCE_MS = 500;

interface Measured {
  readonly cores: number;
  readonly longestSilenceMs: number;
  readonly postings: number;
}

async function ask<T>(child: ChildProcess, question?: string): Promise<T> {
  const answer = once(child, 'message');
  if (question) child.send(question);
  const [message] = (await answer) as [T];
  return message;
}

/** Runs some senders to a receiver of its own, and measures them once all has settled. */
async function measure(
  seconds: number,
  begin: (addresses: readonly string[]) => Promise<{ pids: readonly number[]; end: () => Promise<void> }>,
  hasTrouble: boolean,
  /** How many of the ten postings have the picture. */
  livePostings: () => number = () => 0,
): Promise<Measured> {
  const receiver = tied(fork('dist/bench/receiver.js'));
  const { port } = await ask<{ port: number }>(receiver);
  const troubles = hasTrouble ? TROUBLES : [];
  const addresses = Array.from(
    { length: PLACES },
    (_, index) => `rtmp://127.0.0.1:${port}/live/${troubles[index] ?? index}`,
  );
  await untilQuiet();
  const senders = await begin(addresses);
  await pause(WARM_UP_MS);
  await ask(receiver, 'reset');
  const cores = await coresOf(senders.pids, seconds);
  const silences = await ask<number[]>(receiver, 'how long');
  const postings = livePostings();
  await senders.end();
  receiver.disconnect();
  const expected = PLACES - troubles.length;
  if (silences.length !== expected) throw new Error(`${silences.length} of ${expected} places were reached`);
  return { cores, longestSilenceMs: Math.max(...silences), postings };
}

/** @param more - where it goes beside that */
const ours =
  (folder: string, film: string, more: readonly string[] = []) =>
  async (addresses: readonly string[]): Promise<{ pids: readonly number[]; end: () => Promise<void> }> => {
    const rig = await NodeRig.start(join(folder, 'node'), 1, { places: [...addresses, ...more] });
    const sender = sendFilm(film, rig.rtmpAddress(0));
    return {
      pids: [rig.process.pid!],
      end: async () => {
        sender.kill('SIGKILL');
        rig.stop();
        await once(rig.process, 'exit');
        await rm(join(folder, 'node'), { recursive: true, force: true });
      },
    };
  };

const bare =
  (film: string) =>
  async (addresses: readonly string[]): Promise<{ pids: readonly number[]; end: () => Promise<void> }> => {
    const senders = addresses.map((address) => sendFilm(film, address));
    return {
      pids: senders.map((sender) => sender.pid!),
      end: async () => {
        const gone = senders.map((sender) => once(sender, 'exit'));
        for (const sender of senders) sender.kill('SIGKILL');
        await Promise.all(gone);
      },
    };
  };

const seconds = option('seconds', 30);
const ratios: number[] = [];
const silencesMs: number[] = [];
for (let run = 0; run < option('runs', 3); run += 1) {
  const folder = ownFolder();
  const film = join(folder, 'film.flv');
  makeFilm(film);
  const whole = await measure(seconds, ours(folder, film), false);
  const stalled = await measure(seconds, ours(folder, film), true);
  const linked = await openLinked(folder);
  const beside = await measure(seconds, ours(folder, film, linked.addresses), true, linked.live);
  await linked.close();
  const yardstick = await measure(seconds, bare(film), false);
  console.log(
    `run ${run + 1}: ours ${whole.cores.toFixed(2)} cores (two in trouble ${stalled.cores.toFixed(2)}, ${beside.postings} postings beside ${beside.cores.toFixed(2)}), bare ${yardstick.cores.toFixed(2)}; longest silence ${whole.longestSilenceMs.toFixed(0)} ms (two in trouble ${stalled.longestSilenceMs.toFixed(0)}, postings beside ${beside.longestSilenceMs.toFixed(0)}), bare ${yardstick.longestSilenceMs.toFixed(0)}`,
  );
  ratios.push(stalled.cores / yardstick.cores);
  silencesMs.push(Math.max(stalled.longestSilenceMs, beside.longestSilenceMs));
  if (beside.postings < 10) throw new Error(`Only ${beside.postings} of 10 postings have the picture`);
}
const ratio = median(ratios);
const silenceMs = median(silencesMs);
const passes = ratio <= BUDGET_RATIO && silenceMs <= BUDGET_SILENCE_MS;
console.log(
  `destinations ratio=${ratio.toFixed(2)} silence_beside_trouble_ms=${silenceMs.toFixed(0)} ${passes ? 'PASS' : 'FAIL'}`,
);
process.exit(passes ? 0 : 1);
