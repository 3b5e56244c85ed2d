import { bench } from './bench.js';
import { demo, start } from './demo.js';
import { backup, restore } from './backup.js';
import { house } from './house.js';
import { doctor } from './doctor.js';
import { addNode, forgetNode, node } from './nodes.js';
import { test } from './test.js';

const HELP = `Heliphon

  ./heliphon demo [--fresh]          a whole house with an event on air, until Ctrl-C
  ./heliphon start                   the production start
  ./heliphon house NAME EMAIL ZONE   a new house, and the link for its owner
  ./heliphon add-node NAME           a media node elsewhere, and what to set there
  ./heliphon node                    that media node, on its own machine
  ./heliphon forget-node NAME [OTHER]  removes one; OTHER takes its recordings
  ./heliphon backup [FOLDER]         database and posters, while everything runs
  ./heliphon restore FOLDER          restores a backup
  ./heliphon test [--times] [room…]  the whole test run: static, core, server, media, journeys, faults
  ./heliphon bench NAME              one measured comparison
  ./heliphon doctor                  what is missing or wrong`;

const COMMANDS: Readonly<Record<string, (options: readonly string[]) => Promise<void>>> = {
  demo,
  start,
  house,
  'add-node': addNode,
  'forget-node': forgetNode,
  node,
  backup,
  restore,
  test,
  bench,
  doctor,
};

const [name = 'help', ...options] = process.argv.slice(2);
const command = COMMANDS[name];
if (!command) {
  console.log(HELP);
  process.exitCode = name === 'help' ? 0 : 1;
} else {
  try {
    await command(options);
  } catch (error) {
    console.error(error instanceof Error ? error.message : error);
    process.exit(1);
  }
}
