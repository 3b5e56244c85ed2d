import { type Result, refuse, succeed } from '../result.js';

/** Where a destination takes the programme in. `streamName` is a secret: it is the key. */
export interface RtmpAddress {
  readonly scheme: RtmpScheme;
  readonly host: string;
  readonly port: number;
  readonly application: string;
  readonly streamName: string;
  /** Name and password, for receivers that ask for them. */
  readonly login: { readonly user: string; readonly password: string } | null;
}

export const RTMP_SCHEMES = ['rtmp', 'rtmps'] as const;
export type RtmpScheme = (typeof RTMP_SCHEMES)[number];
/** Where nothing else is said: RTMP's own port, and HTTPS's for RTMP over TLS. */
export const RTMP_DEFAULT_PORTS: Readonly<Record<RtmpScheme, number>> = { rtmp: 1935, rtmps: 443 };
const MAX_LENGTH = 1024;

export type AddressRefusal = {
  readonly code:
    | 'empty'
    | 'too-long'
    | 'has-spaces'
    | 'no-scheme'
    | 'wrong-scheme'
    | 'no-host'
    | 'bad-port'
    | 'no-application'
    | 'no-stream-name'
    | 'bad-login';
};

/**
 * Takes apart an RTMP address pasted whole: `rtmp[s]://[user:password@]host[:port]/application[/instance]/streamName[?query]`.
 * The stream name is what follows the last slash; a query belongs to it.
 */
export function parseRtmpAddress(pasted: string): Result<RtmpAddress, AddressRefusal> {
  const text = pasted.trim();
  if (text === '') return refuse({ code: 'empty' });
  if (text.length > MAX_LENGTH) return refuse({ code: 'too-long' });
  if (/\s/.test(text)) return refuse({ code: 'has-spaces' });
  const named = /^([a-z][a-z0-9+.-]*):\/\//i.exec(text)?.[1]?.toLowerCase();
  if (!named) return refuse({ code: 'no-scheme' });
  const scheme = RTMP_SCHEMES.find((known) => known === named);
  if (!scheme) return refuse({ code: 'wrong-scheme' });

  const [authority, ...path] = text.slice(`${scheme}://`.length).split('/');
  const at = authority!.lastIndexOf('@');
  const login = at < 0 ? null : parseLogin(authority!.slice(0, at));
  if (login === 'bad') return refuse({ code: 'bad-login' });
  const match = /^(\[[0-9a-f:.]+\]|[^:[\]]*)(?::(.*))?$/i.exec(authority!.slice(at + 1));
  const host = match?.[1]?.toLowerCase() ?? '';
  if (!/^(\[[0-9a-f:.]+\]|[a-z0-9]([a-z0-9.-]*[a-z0-9])?)$/.test(host)) return refuse({ code: 'no-host' });
  const port = match![2] === undefined ? RTMP_DEFAULT_PORTS[scheme] : Number(match![2] || NaN);
  if (!Number.isInteger(port) || port < 1 || port > 65_535) return refuse({ code: 'bad-port' });

  const [beforeQuery, ...query] = path.join('/').split('?');
  const pieces = beforeQuery!.split('/').filter(Boolean);
  if (pieces.length === 0) return refuse({ code: 'no-application' });
  if (pieces.length === 1) return refuse({ code: 'no-stream-name' });
  const streamName = [pieces.at(-1)!, ...query].join('?');
  const application = pieces.slice(0, -1).join('/');
  return succeed({ scheme, host, port, application, streamName, login });
}

/** The whole address, key included: for the process that sends, and for nobody's eyes. */
export const formatRtmpAddress = (a: RtmpAddress): string => {
  const login = a.login ? `${a.login.user}:${a.login.password}@` : '';
  return `${a.scheme}://${login}${a.host}:${a.port}/${a.application}/${a.streamName}`;
};

/** What may stand in a login inside an address: no slash, no question mark, no space; a name without a colon. */
export const isLoginPart = (text: string): boolean => /^[^\s/?#]{1,200}$/.test(text);

function parseLogin(text: string): { user: string; password: string } | 'bad' {
  const colon = text.indexOf(':');
  const [user, password] = [text.slice(0, colon), text.slice(colon + 1)];
  return colon > 0 && isLoginPart(user) && isLoginPart(password) ? { user, password } : 'bad';
}
