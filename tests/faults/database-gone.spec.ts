import { readdirSync, readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Browser, Page } from '@playwright/test';
import { openBrowser, openConsole, openViewer, seesMore, until } from './installation.js';

let browser: Browser;
let desk: Page;
let viewer: Page;

/** The database that serves this installation: the one whose parent is the keeper, as the server's is. */
function databasePid(): number {
  const parentOf = (pid: number): number =>
    Number(/^PPid:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0);
  const keeper = Number(process.env.HELIPHON_TEST_KEEPER);
  const found = readdirSync('/proc')
    .map(Number)
    .filter(Boolean)
    .find((pid) => {
      try {
        return readFileSync(`/proc/${pid}/comm`, 'utf8').trim() === 'mariadbd' && parentOf(pid) === keeper;
      } catch {
        return false;
      }
    });
  if (!found) throw new Error('The installation’s database is not to be found');
  return found;
}

beforeAll(async () => {
  browser = await openBrowser();
  desk = await openConsole(browser);
  await desk
    .getByRole('link', { name: /Bell-ringers/ })
    .last()
    .click();
  await desk.getByLabel('Title').waitFor();
  viewer = await openViewer(browser);
});
afterAll(() => browser.close());

test('the database stands still for a while: the console says so, nothing on air moves, what is typed is kept and saved', async () => {
  const pid = databasePid();
  process.kill(pid, 'SIGSTOP');
  try {
    await desk.getByLabel('Title').fill('Bells without a memory');
    await until(() => desk.getByText(/database is not responding/).isVisible(), 'the notice');
    await seesMore(viewer, 15);
    expect(await desk.getByLabel('Title').inputValue()).toBe('Bells without a memory');
  } finally {
    process.kill(pid, 'SIGCONT');
  }
  await until(() => desk.getByText('saved', { exact: true }).isVisible(), 'it to be saved');
  await until(() => desk.getByText(/database is not responding/).isHidden(), 'the notice to go');
  await desk.reload();
  await until(
    async () => (await desk.getByLabel('Title').inputValue()) === 'Bells without a memory',
    'the title',
  );
});
