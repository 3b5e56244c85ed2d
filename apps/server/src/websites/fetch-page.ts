import { type IncomingMessage, request as plain } from 'node:http';
import { request as secure } from 'node:https';
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib';
import { outside, outsideFault, type OutsideFault } from '../platform/outside.js';

const WITHIN_MS = 5000;
const MOST_BYTES = 3_000_000;
const MOST_REDIRECTS = 5;
const ASKED_AS = {
  accept: 'text/html,application/xhtml+xml',
  'accept-encoding': 'gzip, deflate, br',
  'user-agent': 'Heliphon (looks whether an embed shows)',
} as const;

export interface FetchedPage {
  /** Where it was found in the end. */
  readonly address: string;
  /** Its `Content-Security-Policy`. */
  readonly policy: string;
  readonly html: string;
}

/** Why there is no page. */
export type FetchFault = OutsideFault | 'too-large' | 'too-many-redirects' | 'no-page' | `status-${number}`;

class Refused extends Error {
  constructor(readonly fault: FetchFault) {
    super(fault);
  }
}

/**
 * Fetches a page of a website as a stranger would: no cookies, never from an inner address, each redirect looked at by
 * itself, five seconds and three megabytes for all of it.
 * @param mayBeInner - where somebody tries it out on one machine
 */
export async function fetchPage(address: string, mayBeInner: boolean): Promise<FetchedPage | FetchFault> {
  const signal = AbortSignal.timeout(WITHIN_MS);
  try {
    let url = new URL(address);
    for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects += 1) {
      const response = await ask(url, mayBeInner, signal);
      const next = redirectOf(response, url);
      if (!next) return await read(response, url, signal);
      response.destroy();
      url = next;
    }
    return 'too-many-redirects';
  } catch (error) {
    if (error instanceof Refused) return error.fault;
    return signal.aborted ? 'too-slow' : outsideFault(error as NodeJS.ErrnoException);
  }
}

function ask(url: URL, mayBeInner: boolean, signal: AbortSignal): Promise<IncomingMessage> {
  const request = url.protocol === 'https:' ? secure : plain;
  return new Promise((answer, refuse) => {
    const sent = request(url, { headers: ASKED_AS, signal, ...outside(url, mayBeInner) });
    sent.once('response', answer);
    sent.once('error', refuse);
    sent.end();
  });
}

function redirectOf({ statusCode = 0, headers }: IncomingMessage, from: URL): URL | null {
  const { location } = headers;
  if (statusCode < 300 || statusCode >= 400 || !location || !URL.canParse(location, from)) return null;
  const next = new URL(location, from);
  if (next.protocol !== 'http:' && next.protocol !== 'https:') throw new Refused('no-page');
  return next;
}

async function read(response: IncomingMessage, url: URL, signal: AbortSignal): Promise<FetchedPage> {
  const { statusCode = 0, headers } = response;
  const refused = (fault: FetchFault): Refused => {
    response.destroy();
    return new Refused(fault);
  };
  if (statusCode !== 200) throw refused(`status-${statusCode}`);
  const type = headers['content-type'] ?? '';
  if (!/^(text\/html|application\/xhtml\+xml)\b/i.test(type)) throw refused('no-page');
  const chunks: Uint8Array[] = [];
  let sizeBytes = 0;
  // As it is unpacked: a small answer can unpack to any size.
  for await (const chunk of unpacked(response, signal)) {
    const bytes = chunk as Uint8Array;
    sizeBytes += bytes.byteLength;
    if (sizeBytes > MOST_BYTES) throw refused('too-large');
    chunks.push(bytes);
  }
  const policy = headers['content-security-policy'];
  return {
    address: url.href,
    policy: Array.isArray(policy) ? policy.join(', ') : (policy ?? ''),
    html: decoderFor(type).decode(Buffer.concat(chunks)),
  };
}

function unpacked(response: IncomingMessage, signal: AbortSignal): NodeJS.ReadableStream {
  const unpack = {
    gzip: createGunzip,
    deflate: createInflate,
    br: createBrotliDecompress,
  }[response.headers['content-encoding'] ?? ''];
  if (!unpack) return response;
  const unpacking = unpack();
  response.once('error', (error) => unpacking.destroy(error));
  signal.addEventListener('abort', () => unpacking.destroy(signal.reason as Error), { once: true });
  return response.pipe(unpacking);
}

/** Addresses are ASCII in nearly every charset: what is not known is read as UTF-8. */
function decoderFor(type: string): TextDecoder {
  const charset = /charset="?([\w-]+)/i.exec(type)?.[1];
  try {
    return new TextDecoder(charset);
  } catch {
    return new TextDecoder();
  }
}
