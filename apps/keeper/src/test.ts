import { execFileSync } from 'node:child_process';
import { failureLines } from './test-failures.js';
import { breakOff, type Outcome, type Room, ROOMS, runRoom } from './test-rooms.js';
import { shareOfTests } from './test-share.js';
import { type RoomTime, timesTable } from './test-times.js';
import { judge, MOST_UNSTEADY, secondChances } from './test-verdict.js';

/** `./heliphon test [--times] [room…]`: everything, or the rooms named. The last line counts. */
export async function test(parameters: readonly string[]): Promise<void> {
  const options = parameters.filter((parameter) => parameter !== '--times');
  const unknown = options.find((option) => !(ROOMS as readonly string[]).includes(option));
  if (unknown) throw new Error(`There is no room ${unknown}; there are ${ROOMS.join(', ')}.`);
  const rooms = options.length > 0 ? (options as readonly Room[]) : ROOMS;
  process.once('SIGINT', breakOff).once('SIGTERM', breakOff);
  process.env.HELIPHON_SEED ??= String(seedOfTree());
  console.log(`What is drawn by lot comes from HELIPHON_SEED=${process.env.HELIPHON_SEED}.`);

  const beganAtMs = Date.now();
  const outcomes: Outcome[] = [];
  const times: RoomTime[] = [];
  const enter = async (room: Room, ...again: Parameters<typeof runRoom>[1][]): Promise<Outcome> => {
    const startsAtMs = Date.now();
    const outcome = await runRoom(room, ...again);
    const seconds = (Date.now() - startsAtMs) / 1000;
    const startSeconds = outcome.startedAtMs === undefined ? 0 : (outcome.startedAtMs - startsAtMs) / 1000;
    times.push({ room, seconds, startSeconds });
    const { passed, failures } = outcome;
    console.log(`\n${room}: ${passed} passed, ${failures.length} failed in ${seconds.toFixed(0)} s\n`);
    return outcome;
  };
  for (const room of rooms) outcomes.push(await enter(room));

  const first = outcomes.flatMap(({ failures }) => failures);
  const second: Outcome[] = [];
  for (const [room, failures] of secondChances(first)) {
    console.log(`What failed in ${room} is run once more, alone.\n`);
    second.push(await enter(room as Room, failures));
  }
  const verdict = judge(
    first,
    second.flatMap(({ failures }) => failures),
  );

  if (parameters.includes('--times')) {
    const files = outcomes.flatMap((outcome) => outcome.files ?? []);
    console.log(`${timesTable(times, files, (Date.now() - beganAtMs) / 1000)}\n`);
  }
  const { failed, unsteady } = verdict;
  if (unsteady.length > 0)
    console.log(`Unsteady, failed once and passed once:\n${failureLines('~', unsteady)}\n`);
  if (failed.length > 0) console.log(`${failureLines('✕', failed)}\n`);
  console.log(`Tests are ${await shareOfTests()} % of the code.`);
  if (unsteady.length > MOST_UNSTEADY)
    console.log(`${unsteady.length} tests are unsteady; more than ${MOST_UNSTEADY} fail the run.`);
  const passedAtFirst = outcomes.reduce((sum, { passed }) => sum + passed, 0);
  const recovered = unsteady.filter((failure) => first.includes(failure)).length;
  console.log(`${passedAtFirst + recovered} passed, ${failed.length} failed`);
  process.exit(verdict.passes ? 0 : 1);
}

/** The same tree draws the same lots: what was proved is what is handed in. */
function seedOfTree(): number {
  const tree = execFileSync('git', ['rev-parse', 'HEAD^{tree}'], { encoding: 'utf8' });
  return Number.parseInt(tree.slice(0, 7), 16);
}
