import type { TrackSelection } from '@heliphon/core/packaging/playlist';
import type { PlaylistWish } from './playlist-texts.js';

/** What the address of a programme's file says. */
export interface ProgrammeAddress {
  readonly programmeId: string;
  readonly grantText: string;
  readonly selection: TrackSelection;
  /** Names a smaller picture; `null` for the original. */
  readonly rendition: string | null;
  readonly file: string;
  readonly query: URLSearchParams;
}

const PROGRAMME_PATH =
  /^\/p\/([0-9a-f-]{36})\/([\w.-]{20,200})\/(?:(sound\/)|r\/(\d{3,4}p)\/)?([\w.-]{1,40})$/;
const NO_QUERY = new URLSearchParams();

/** @param target - path and query of a request; `null` where it names no file of a programme. */
export function readAddress(target: string): ProgrammeAddress | null {
  const [path, search = ''] = target.split('?', 2) as [string, string?];
  const match = PROGRAMME_PATH.exec(path);
  if (!match) return null;
  const [, programmeId, grantText, sound, rendition = null, file] = match as unknown as [
    string,
    string,
    string,
    string | undefined,
    string | undefined,
    string,
  ];
  const query = search === '' ? NO_QUERY : new URLSearchParams(search);
  return { programmeId, grantText, selection: sound ? 'sound' : 'whole', rendition, file, query };
}

/** Kind and number of a part, segment, header or small picture; empty for any other name. */
export function readFileName(file: string): { kind?: string | undefined; number?: number } {
  const [, kind, digits] = /^(part|seg|init|picture)-(\d{1,9})\.(?:m4s|mp4|jpg)$/.exec(file) ?? [];
  return { kind, number: Number(digits) };
}

/** Reads the delivery directives of a playlist request (RFC 8216bis, 6.2.5). */
export function readWish(query: URLSearchParams): PlaylistWish | 'malformed' {
  const isDelta = ['YES', 'v2'].includes(query.get('_HLS_skip') ?? '');
  const sequence = query.get('_HLS_msn');
  const part = query.get('_HLS_part');
  if (sequence === null) return part === null ? { position: null, isDelta } : 'malformed';
  if (!/^\d{1,9}$/.test(sequence) || (part !== null && !/^\d{1,6}$/.test(part))) return 'malformed';
  return { position: { sequence: Number(sequence), part: part === null ? null : Number(part) }, isDelta };
}
