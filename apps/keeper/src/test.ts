import { execFileSync } from 'node:child_process';
import { type Failure, failureLines } from './test-failures.js';
import { breakOff } from './test-ground.js';
import { type Outcome, type Room, ROOMS, runRoom } from './test-rooms.js';
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
  console.log(`What is random comes from HELIPHON_SEED=${process.env.HELIPHON_SEED}.`);

  const beganAtMs = Date.now();
  const first: Entered[] = [];
  for (const room of rooms) first.push(await enter(room));
  const failures = first.flatMap((entered) => entered.failures);
  const second: Entered[] = [];
  for (const [room, again] of secondChances(failures)) {
    console.log(`What failed in ${room} is run once more, alone.\n`);
    second.push(await enter(room as Room, again));
  }
  if (parameters.includes('--times')) {
    const files = first.flatMap((entered) => entered.files ?? []);
    console.log(`${timesTable([...first, ...second], files, (Date.now() - beganAtMs) / 1000)}\n`);
  }

  const { failed, unsteady, passes } = judge(
    failures,
    second.flatMap((entered) => entered.failures),
  );
  if (unsteady.length > 0)
    console.log(`Unsteady, failed once and passed once:\n${failureLines('~', unsteady)}\n`);
  if (failed.length > 0) console.log(`${failureLines('✕', failed)}\n`);
  console.log(`Tests are ${await shareOfTests()} % of the code.`);
  if (unsteady.length > MOST_UNSTEADY)
    console.log(`${unsteady.length} tests are unsteady; more than ${MOST_UNSTEADY} fail the run.`);
  const passedAtOnce = first.reduce((sum, { passed }) => sum + passed, 0);
  const passedThen = unsteady.filter((failure) => failures.includes(failure)).length;
  console.log(`${passedAtOnce + passedThen} passed, ${failed.length} failed`);
  process.exit(passes ? 0 : 1);
}

type Entered = Outcome & RoomTime;

/** Runs a room, and tells what came of it. @param again - what failed there before, where it is for that alone */
async function enter(room: Room, again: readonly Failure[] = []): Promise<Entered> {
  const startsAtMs = Date.now();
  const outcome = await runRoom(room, again);
  const seconds = (Date.now() - startsAtMs) / 1000;
  const startSeconds = outcome.startedAtMs === undefined ? 0 : (outcome.startedAtMs - startsAtMs) / 1000;
  const { passed, failures } = outcome;
  console.log(`\n${room}: ${passed} passed, ${failures.length} failed in ${seconds.toFixed(0)} s\n`);
  return { ...outcome, room, seconds, startSeconds };
}

/** The same tree draws the same lots: what was proved is what is handed in. */
function seedOfTree(): number {
  const tree = execFileSync('git', ['rev-parse', 'HEAD^{tree}'], { encoding: 'utf8' });
  return Number.parseInt(tree.slice(0, 7), 16);
}
