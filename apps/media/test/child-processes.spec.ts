import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { type Child, ChildProcesses, outputOf } from '../src/processes/child-processes.js';

let children: ChildProcesses;
beforeEach(() => {
  children = new ChildProcesses();
});
afterEach(() => children.stop());

const run = (script: string, more: { signal?: AbortSignal; timeoutMs?: number } = {}): Child =>
  children.start({ purpose: 'frame', command: process.execPath, args: ['-e', script], ...more });
const running = (): number => children.facts().reduce((sum, facts) => sum + facts.running, 0);

describe('a process of the node', () => {
  test('tells how it ended, and its last words', async () => {
    expect(await run('').ended).toEqual({ type: 'ended', lastWords: '' });
    expect(await run('console.error("no such film"); process.exitCode = 3').ended).toEqual({
      type: 'failed',
      code: 3,
      lastWords: 'no such film\n',
    });
  });

  test('that cannot be started fails, and harms nobody', async () => {
    const child = children.start({ purpose: 'frame', command: '/nowhere/ffmpeg', args: [] });
    child.stdin.write('a picture');
    expect(await child.ended).toMatchObject({ type: 'failed', code: null });
  });

  test('is killed by its signal, also one that was given before, and by its time limit', async () => {
    const abort = new AbortController();
    const waiting = run('setInterval(() => 0, 1000)', { signal: abort.signal });
    abort.abort();
    const late = run('setInterval(() => 0, 1000)', { signal: abort.signal });
    const slow = run('setInterval(() => 0, 1000)', { timeoutMs: 50 });
    for (const child of [waiting, late, slow]) expect(await child.ended).toEqual({ type: 'killed' });
  });

  test('gives what it makes of what it is given in one piece; nothing where it failed', async () => {
    const echo = 'process.stdin.pipe(process.stdout)';
    expect(String(await outputOf(run(echo), Buffer.from('a keyframe')))).toBe('a keyframe');
    expect(await outputOf(run('process.exitCode = 1'), Buffer.from('a keyframe'))).toBeNull();
  });

  test('counts until it is gone, with the processor time it takes; work that can wait finds no room beside too many', async () => {
    const busy = run('for (;;);');
    expect(running()).toBe(1);
    while (busy.processorSeconds === 0) await new Promise(setImmediate);
    expect(children.facts().find(({ purpose }) => purpose === 'frame')!.processorSeconds).toBeGreaterThan(0);
    const more: Child[] = [];
    while (children.hasRoomFor('frame')) more.push(run('setInterval(() => 0, 1000)'));
    expect(more.length).toBeGreaterThan(0);
    busy.kill();
    await busy.ended;
    expect(children.hasRoomFor('frame')).toBe(true);
  });

  test('ends with the node, and none is started after that', async () => {
    const child = run('setInterval(() => 0, 1000)');
    await children.stop();
    expect([await child.ended, await run('setInterval(() => 0, 1000)').ended]).toEqual([
      { type: 'killed' },
      { type: 'killed' },
    ]);
    expect(running()).toBe(0);
  });
});
