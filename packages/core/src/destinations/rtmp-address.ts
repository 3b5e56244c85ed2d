import { type Result, refuse, succeed } from '../result.js';

/** Where a destination takes the programme in. `streamName` is a secret: it is the key. */
export interface RtmpAddress {
  readonly scheme: 'rtmp';
  readonly host: string;
  readonly port: number;
  readonly application: string;
  readonly streamName: string;
}

export const RTMP_DEFAULT_PORT = 1935;
const MAX_LENGTH = 1024;

export type AddressRefusal = {
  readonly code:
    | 'empty'
    | 'too-long'
    | 'has-spaces'
    | 'no-scheme'
    | 'secure-not-yet'
    | 'wrong-scheme'
    | 'no-host'
    | 'bad-port'
    | 'no-application'
    | 'no-stream-name'
    | 'has-credentials';
};

/**
 * Takes apart an RTMP address pasted whole: `rtmp://host[:port]/application[/instance]/streamName[?query]`.
 * The stream name is what follows the last slash; a query belongs to it.
 */
export function parseRtmpAddress(pasted: string): Result<RtmpAddress, AddressRefusal> {
  const text = pasted.trim();
  if (text === '') return refuse({ code: 'empty' });
  if (text.length > MAX_LENGTH) return refuse({ code: 'too-long' });
  if (/\s/.test(text)) return refuse({ code: 'has-spaces' });
  const scheme = /^([a-z][a-z0-9+.-]*):\/\//i.exec(text)?.[1]?.toLowerCase();
  if (!scheme) return refuse({ code: 'no-scheme' });
  if (scheme === 'rtmps') return refuse({ code: 'secure-not-yet' });
  if (scheme !== 'rtmp') return refuse({ code: 'wrong-scheme' });

  const [authority, ...path] = text.slice('rtmp://'.length).split('/');
  if (authority!.includes('@')) return refuse({ code: 'has-credentials' });
  const match = /^(\[[0-9a-f:.]+\]|[^:[\]]*)(?::(.*))?$/i.exec(authority!);
  const host = match?.[1]?.toLowerCase() ?? '';
  if (!/^(\[[0-9a-f:.]+\]|[a-z0-9]([a-z0-9.-]*[a-z0-9])?)$/.test(host)) return refuse({ code: 'no-host' });
  const port = match![2] === undefined ? RTMP_DEFAULT_PORT : Number(match![2] || NaN);
  if (!Number.isInteger(port) || port < 1 || port > 65_535) return refuse({ code: 'bad-port' });

  const [beforeQuery, ...query] = path.join('/').split('?');
  const pieces = beforeQuery!.split('/').filter(Boolean);
  if (pieces.length === 0) return refuse({ code: 'no-application' });
  if (pieces.length === 1) return refuse({ code: 'no-stream-name' });
  const streamName = [pieces.at(-1)!, ...query].join('?');
  return succeed({ scheme: 'rtmp', host, port, application: pieces.slice(0, -1).join('/'), streamName });
}

/** The whole address, key included: for the process that sends, and for nobody's eyes. */
export const formatRtmpAddress = (a: RtmpAddress): string =>
  `${a.scheme}://${a.host}:${a.port}/${a.application}/${a.streamName}`;
