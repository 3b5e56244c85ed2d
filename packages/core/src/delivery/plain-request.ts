/** A request for media as every player sends it: nothing but a line and headers. */
export interface PlainRequest {
  readonly method: 'GET' | 'HEAD';
  /** Path and query, as sent. */
  readonly target: string;
  readonly range: string | undefined;
  readonly acceptEncoding: string;
  readonly userAgent: string;
}

const REQUEST_LINE = /^(GET|HEAD) (\/[\x21-\x7e]*) HTTP\/1\.1$/;
const HEADER_LINE = /^([A-Za-z0-9-]+):[ \t]*([\x20-\x7e\t]*)$/;
const END = '\r\n\r\n';
/** Headers that change how the answer is framed, or what may be answered at all. */
const NOT_PLAIN = new Set([
  'content-length',
  'transfer-encoding',
  'expect',
  'upgrade',
  'te',
  'trailer',
  'http2-settings',
]);

type PlainHeaders = Pick<PlainRequest, 'range' | 'acceptEncoding' | 'userAgent'>;

/** Header blocks that were read before: a player sends the same one thousands of times. */
export type KnownHeaders = Map<string, PlainHeaders | null>;
const MOST_KNOWN = 1000;

/**
 * Reads the head of a plain request (RFC 9112, 2–3), or `null` for everything that is not exactly one: a head that is
 * cut short or followed by more, a body, another version, folded lines, a connection that is to close. Strict on
 * purpose: whatever is not understood here is for a whole HTTP server to judge.
 * @param head - the bytes that came, as Latin-1 text.
 */
export function readPlainRequest(head: string, known: KnownHeaders = new Map()): PlainRequest | null {
  if (head.indexOf(END) !== head.length - END.length) return null;
  const lineEnd = head.indexOf('\r\n');
  const request = REQUEST_LINE.exec(head.slice(0, lineEnd));
  if (!request) return null;
  const block = head.slice(lineEnd + 2, -2);
  let headers = known.get(block);
  if (headers === undefined) {
    headers = readHeaders(block.split('\r\n').slice(0, -1));
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(block, headers);
  }
  return headers && { method: request[1] as 'GET' | 'HEAD', target: request[2]!, ...headers };
}

function readHeaders(lines: readonly string[]): PlainHeaders | null {
  let hosts = 0;
  let range: string | undefined;
  let acceptEncoding = '';
  let userAgent = '';
  for (const line of lines) {
    const header = HEADER_LINE.exec(line);
    if (!header) return null;
    const name = header[1]!.toLowerCase();
    const value = header[2]!;
    if (NOT_PLAIN.has(name) || name.startsWith('if-')) return null;
    if (name === 'connection' && value.trim().toLowerCase() !== 'keep-alive') return null;
    if (name === 'host') hosts += 1;
    if (name === 'range') range = value.trim();
    if (name === 'accept-encoding') acceptEncoding = value;
    if (name === 'user-agent') userAgent = value;
  }
  return hosts === 1 ? { range, acceptEncoding, userAgent } : null;
}
