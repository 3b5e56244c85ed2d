import { X509Certificate } from 'node:crypto';
import { execFile } from 'node:child_process';
import { access, constants, readFile, statfs } from 'node:fs/promises';
import { connect } from 'node:net';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { doesAnswer } from './database.js';
import { DATABASE_URL_FILE } from './mariadb.js';
import { isFree } from './ports.js';
import { readSettings, type Settings } from './settings.js';

const run = promisify(execFile);
const GIGABYTE = 1e9;
const DAY_MS = 24 * 3_600_000;
const REACH_MS = 3000;
/** A certificate that runs out within this should have been renewed already. */
const RENEW_BEFORE_MS = 14 * DAY_MS;

/** What was found: all right, worth a look, or in the way; with the remedy in its sentence. */
interface Finding {
  readonly mark: '✓' | '–' | '▲';
  readonly sentence: string;
}

const good = (sentence: string): Finding => ({ mark: '✓', sentence });
const advice = (sentence: string): Finding => ({ mark: '–', sentence });
const wrong = (sentence: string): Finding => ({ mark: '▲', sentence });

/** `./heliphon doctor`: each thing that is missing or wrong, with its remedy. Exits with 1 when something is in the way. */
export async function doctor(): Promise<void> {
  const settings = readSettings(process.env);
  const isRunning = await answers(`http://${settings.bind}:${settings.port}/api/health`);
  const findings = [
    good(`Node.js ${process.versions.node}`),
    await program('mariadbd', '--version', 'mariadb-server', 'wrong'),
    await program('ffmpeg', '-version', 'ffmpeg', 'wrong'),
    await program(
      'chromium-headless-shell',
      '--version',
      'chromium-headless-shell',
      'advice',
      'only ./heliphon test needs it',
    ),
    await program('nginx', '-v', 'nginx-light', 'advice', 'only tests and a public installation need it'),
    isRunning ? good('Heliphon is running and responding.') : advice('Heliphon is not running.'),
    ...(isRunning ? [] : await portFindings(settings)),
    await folder(settings.dataFolder),
    await space(settings.dataFolder),
    await secretKey(settings.dataFolder),
    await database(settings.dataFolder, isRunning),
    address('HELIPHON_PUBLIC_URL', 'it appears in pages and emails', ['https:', 'http:']),
    address('HELIPHON_MEDIA_URL', 'players fetch the picture from it', ['https:', 'http:']),
    address('HELIPHON_RTMP_URL', 'it is shown to encoders', ['rtmp:']),
    await certificate(),
    await mail(),
    await authorities(),
  ];
  for (const { mark, sentence } of findings) console.log(`${mark} ${sentence}`);
  process.exitCode = findings.some(({ mark }) => mark === '▲') ? 1 : 0;
}

async function program(
  name: string,
  flag: string,
  debianPackage: string,
  severity: 'wrong' | 'advice',
  why = '',
): Promise<Finding> {
  try {
    const { stdout, stderr } = await run(name, [flag]);
    return good((stdout || stderr).split('\n')[0]!.slice(0, 70));
  } catch {
    const sentence = `${name} is missing${why && `; ${why}`}. Install it: apt-get install ${debianPackage}`;
    return severity === 'wrong' ? wrong(sentence) : advice(sentence);
  }
}

async function portFindings({ bind, port, mediaPort, rtmpPort }: Settings): Promise<Finding[]> {
  const wanted = { HELIPHON_PORT: port, HELIPHON_MEDIA_PORT: mediaPort, HELIPHON_RTMP_PORT: rtmpPort };
  return Promise.all(
    Object.entries(wanted).map(async ([setting, number]) =>
      (await isFree(number, bind))
        ? good(`Port ${number} is free.`)
        : wrong(`Port ${number} is taken. End what uses it, or choose another with ${setting}.`),
    ),
  );
}

async function folder(path: string): Promise<Finding> {
  const ok = await access(path, constants.W_OK).then(
    () => true,
    (error: NodeJS.ErrnoException) => error.code === 'ENOENT',
  );
  return ok
    ? good(`Data is kept in ${path}.`)
    : wrong(`${path} cannot be written. Give it to the user that Heliphon runs as, or set HELIPHON_DATA.`);
}

async function space(path: string): Promise<Finding> {
  const disk = await statfs(path).catch(() => statfs('.'));
  const free = Math.floor((disk.bavail * disk.bsize) / GIGABYTE);
  const sentence = `${free} GB are free for recordings; an hour takes about 1 GB.`;
  return free >= 5
    ? good(sentence)
    : wrong(`${sentence} Empty the bin in the archive, or give it a larger disk.`);
}

async function secretKey(dataFolder: string): Promise<Finding> {
  const path = process.env.HELIPHON_SECRET_FILE ?? join(dataFolder, 'secret.key');
  const key = await readFile(path).catch(() => null);
  if (!key) return advice(`${path} does not exist yet; it is created at the first start.`);
  if (key.byteLength !== 32) return wrong(`${path} must be 32 bytes long. Restore it from your copy.`);
  return good(`The key file is in place. Keep a copy of it, separate from your backups.`);
}

async function database(dataFolder: string, isRunning: boolean): Promise<Finding> {
  const set = process.env.HELIPHON_DATABASE_URL;
  if (set) {
    return (await doesAnswer(set))
      ? good('The database at HELIPHON_DATABASE_URL is responding.')
      : wrong(
          'The database at HELIPHON_DATABASE_URL is not responding. Check its address, user and password.',
        );
  }
  if (!isRunning) return good('The database starts with Heliphon.');
  const url = await readFile(join(dataFolder, DATABASE_URL_FILE), 'utf8').catch(() => '');
  return (await doesAnswer(url))
    ? good('The database is responding.')
    : wrong(
        `The database is not responding. See its log in ${join(dataFolder, 'logs')}, then restart Heliphon.`,
      );
}

function address(name: string, why: string, schemes: readonly string[]): Finding {
  const value = process.env[name];
  if (!value)
    return advice(`${name} is not set (${why}): the request's own host is used, right on one machine only.`);
  if (!URL.canParse(value) || !schemes.includes(new URL(value).protocol))
    return wrong(
      `${name} is ${value}; it must begin with ${schemes.map((scheme) => `${scheme}//`).join(' or ')}.`,
    );
  return good(`${name} is ${value}.`);
}

async function certificate(): Promise<Finding> {
  const path = process.env.HELIPHON_TLS_CERTIFICATE;
  if (!path)
    return advice('Encoders can only use plain RTMP; HELIPHON_RTMPS_PORT with a certificate adds RTMPS.');
  try {
    const { validTo, subjectAltName } = new X509Certificate(await readFile(path));
    const leftMs = Date.parse(validTo) - Date.now();
    const words = `The certificate for ${subjectAltName ?? 'no name'} is valid until ${validTo}.`;
    if (leftMs < 0) return wrong(`${words} It has expired, so encoders are being turned away. Renew it.`);
    return leftMs < RENEW_BEFORE_MS ? wrong(`${words} Renew it now.`) : good(words);
  } catch {
    return wrong(
      `The certificate ${path} cannot be read. Check HELIPHON_TLS_CERTIFICATE and the file's permissions.`,
    );
  }
}

async function mail(): Promise<Finding> {
  const url = process.env.HELIPHON_SMTP_URL;
  if (!url)
    return advice('HELIPHON_SMTP_URL is not set: invitations and password emails are not being sent.');
  const { hostname, port, protocol } = new URL(url);
  const ok = await reaches(hostname, Number(port || (protocol === 'smtps:' ? 465 : 587)));
  return ok
    ? good(`The mail server ${hostname} is responding.`)
    : wrong(`The mail server ${hostname} is not responding. Check HELIPHON_SMTP_URL.`);
}

async function authorities(): Promise<Finding> {
  const path = '/etc/ssl/certs/ca-certificates.crt';
  return (await access(path).then(
    () => true,
    () => false,
  ))
    ? good('Secure places (rtmps) can be verified.')
    : advice('Secure places (rtmps) cannot be verified. Install: apt-get install ca-certificates');
}

function reaches(host: string, port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect({ host, port, timeout: REACH_MS });
    const finish = (ok: boolean): void => {
      socket.destroy();
      resolve(ok);
    };
    socket.once('connect', () => finish(true));
    socket.once('timeout', () => finish(false));
    socket.once('error', () => finish(false));
  });
}

const answers = (url: string): Promise<boolean> =>
  fetch(url, { signal: AbortSignal.timeout(REACH_MS) }).then(
    ({ ok }) => ok,
    () => false,
  );
