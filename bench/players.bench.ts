import { once } from 'node:events';
import { chromium } from '@playwright/test';
import { CHROMIUM } from '../tests/chromium.js';
import { ownFolder } from './support/children.js';
import { startLens } from './support/lens.js';
import { isInstalled, PROGRAMS } from './support/programs.js';
import { NodeRig, pause, untilQuiet } from './support/rig.js';
import { isShakaThere, type Watched, watchPage } from './support/watched.js';

// The encoder is cut for 5, 30 and 300 s while players of all kinds play the live programme: each has to go over to the
// slate and back by itself. mpv, VLC and shaka-player take part where they are installed (docs/playback.md).

const CUTS_SECONDS = [5, 30, 300] as const;
const SETTLE_MS = 15_000;
/** Players that know nothing of parts are behind by as much as this. */
const BEHIND_MS = 25_000;
const MOST_STILL_MS = 5000;

const folder = ownFolder();
await untilQuiet();
const rig = await NodeRig.start(folder, 1, { hasSlate: true });
let lens = startLens(rig.rtmpAddress(0), folder);
const browser = await chromium.launch(CHROMIUM);

async function startPlayers(): Promise<ReadonlyMap<string, Watched>> {
  const address = rig.liveAddress(0);
  const inPage = async (play: 'playOurs' | 'playPlain' | 'playShaka'): Promise<Watched> =>
    watchPage(await browser.newPage(), play, address);
  const players = new Map([
    ['ours', await inPage('playOurs')],
    ['hls.js', await inPage('playPlain')],
  ]);
  if (isShakaThere) players.set('shaka-player', await inPage('playShaka'));
  for (const [name, watch] of Object.entries(PROGRAMS))
    if (isInstalled(name)) players.set(name, await watch(address, folder));
  return players;
}

let passes = true;
try {
  await pause(8000);
  const players = await startPlayers();
  await pause(SETTLE_MS);
  for (const seconds of CUTS_SECONDS) {
    for (const player of players.values()) await player.stillMs();
    const sawSlate = new Set<string>();
    const look = async (forMs: number): Promise<void> => {
      for (const untilMs = Date.now() + forMs; Date.now() < untilMs;)
        for (const [name, player] of players) if (!(await player.showsLens())) sawSlate.add(name);
    };
    await lens.stop();
    await look(seconds * 1000);
    lens = startLens(rig.rtmpAddress(0), folder);
    await look(BEHIND_MS);
    for (const [name, player] of players) {
      const stillMs = await player.stillMs();
      const isBack = await player.showsLens();
      const isGood = isBack && sawSlate.has(name) && stillMs <= MOST_STILL_MS;
      passes &&= isGood;
      console.log(
        `players cut_s=${seconds} player=${name} longest_still_ms=${Math.round(stillMs)} ` +
          `slate=${sawSlate.has(name) ? 'seen' : 'missed'} back=${isBack ? 'yes' : 'no'} ${isGood ? 'PASS' : 'FAIL'}`,
      );
    }
  }
} finally {
  await browser.close();
  await lens.stop();
  rig.stop();
  await once(rig.process, 'exit');
}
process.exit(passes ? 0 : 1);
