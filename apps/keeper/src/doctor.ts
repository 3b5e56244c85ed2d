import { execFile } from 'node:child_process';
import { statfs } from 'node:fs/promises';
import { promisify } from 'node:util';
import { isFree } from './ports.js';
import { readSettings } from './settings.js';

const run = promisify(execFile);
const GIGABYTE = 1e9;

interface Finding {
  readonly ok: boolean;
  readonly sentence: string;
}

/** `./heliphon doctor`: what is missing or wrong, and what to do. Exits with 1 when something is. */
export async function doctor(): Promise<void> {
  const settings = readSettings(process.env);
  const { bind, port, mediaPort, rtmpPort } = settings;
  const findings = [
    await program('mariadbd', '--version', 'mariadb-server'),
    await program('ffmpeg', '-version', 'ffmpeg'),
    await program('chromium', '--version', 'chromium'),
    await portFinding(port, bind, 'HELIPHON_PORT'),
    await portFinding(mediaPort, bind, 'HELIPHON_MEDIA_PORT'),
    await portFinding(rtmpPort, bind, 'HELIPHON_RTMP_PORT'),
    await space(settings.dataFolder),
  ];
  for (const { ok, sentence } of findings) console.log(`${ok ? '✓' : '▲'} ${sentence}`);
  process.exitCode = findings.every((finding) => finding.ok) ? 0 : 1;
}

async function program(name: string, flag: string, debianPackage: string): Promise<Finding> {
  try {
    const { stdout } = await run(name, [flag]);
    return { ok: true, sentence: stdout.split('\n')[0]!.slice(0, 70) };
  } catch {
    return { ok: false, sentence: `${name} is missing. Install it: apt-get install ${debianPackage}` };
  }
}

async function portFinding(port: number, host: string, setting: string): Promise<Finding> {
  const ok = await isFree(port, host);
  return {
    ok,
    sentence: ok
      ? `Port ${port} is free.`
      : `Port ${port} is taken. Is Heliphon running? Else choose another with ${setting}.`,
  };
}

async function space(folder: string): Promise<Finding> {
  const disk = await statfs(folder).catch(() => statfs('.'));
  const free = Math.floor((disk.bavail * disk.bsize) / GIGABYTE);
  return {
    ok: free >= 5,
    sentence: `${free} GB are free for recordings${free >= 5 ? '.' : '; an hour takes about 1 GB.'}`,
  };
}
