import { viewOf } from '../bytes.js';
import type { SourceRefusalReason } from '../control/observations.js';

/**
 * How a browser sends what it records, over a connection that may break: everything is numbered, kept until the node
 * has it, and sent again after a break, so that nothing recorded is lost. Text messages are JSON; pieces are binary,
 * four bytes of number (big endian) and what was recorded.
 */
export type CameraItem =
  /** A recorder begins; what it makes is in this container (RFC 6381 media type). */
  | { readonly kind: 'begin'; readonly mimeType: string }
  | { readonly kind: 'piece'; readonly bytes: Uint8Array }
  /** The sender has stopped on purpose. */
  | { readonly kind: 'end' };

export const CAMERA_PATH = '/send/v1';

/** What a browser says. */
export type ToNode =
  | { readonly type: 'send'; readonly token: string; readonly sessionId: string; readonly device: string }
  | { readonly type: 'measure'; readonly token: string }
  | { readonly type: 'begin'; readonly seq: number; readonly mimeType: string }
  | { readonly type: 'end'; readonly seq: number };

/** What the node says. `nextSeq`: everything before it has come. */
export type ToCamera =
  | { readonly type: 'ready'; readonly nextSeq: number }
  | { readonly type: 'got'; readonly nextSeq: number }
  | { readonly type: 'refused'; readonly reason: SourceRefusalReason }
  | { readonly type: 'received'; readonly atMs: number; readonly receivedBytes: number };

export const CAMERA_LIMITS = {
  /** One piece; a tenth of a second of a very good picture is a fifth of it. */
  pieceBytes: 2_000_000,
  /** What a browser keeps while its network is away: three minutes of a good picture. */
  keptBytes: 64_000_000,
  /** So long a node waits for a browser that has gone without a word. */
  awayMs: 60_000,
} as const;

export interface KeptItem {
  readonly seq: number;
  readonly item: CameraItem;
}

/** What a browser has recorded and the node has not confirmed yet. */
export interface CameraBacklog {
  readonly nextSeq: number;
  readonly kept: readonly KeptItem[];
  readonly keptBytes: number;
}

export const EMPTY_BACKLOG: CameraBacklog = { nextSeq: 0, kept: [], keptBytes: 0 };

const sizeOf = (item: CameraItem): number => (item.kind === 'piece' ? item.bytes.byteLength : 0);

/** Numbers an item and keeps it; `'full'` when the network has been away for too long to keep more. */
export function keepItem(backlog: CameraBacklog, item: CameraItem): CameraBacklog | 'full' {
  const keptBytes = backlog.keptBytes + sizeOf(item);
  if (keptBytes > CAMERA_LIMITS.keptBytes) return 'full';
  const { nextSeq, kept } = backlog;
  return { nextSeq: nextSeq + 1, kept: [...kept, { seq: nextSeq, item }], keptBytes };
}

/** Lets go of what the node has. */
export function confirm(backlog: CameraBacklog, nextSeq: number): CameraBacklog {
  const kept = backlog.kept.filter(({ seq }) => seq >= nextSeq);
  if (kept.length === backlog.kept.length) return backlog;
  return { ...backlog, kept, keptBytes: kept.reduce((sum, { item }) => sum + sizeOf(item), 0) };
}

/**
 * Whether the node has forgotten what it had: it was restarted, or waited too long. What it asks for next is gone
 * here, so that nothing but another recording can go on.
 */
export const isForgotten = ({ kept, nextSeq: ours }: CameraBacklog, nextSeq: number): boolean =>
  nextSeq < (kept[0]?.seq ?? ours);

export function writePiece(seq: number, bytes: Uint8Array): Uint8Array<ArrayBuffer> {
  const message = new Uint8Array(4 + bytes.byteLength);
  viewOf(message).setUint32(0, seq);
  message.set(bytes, 4);
  return message;
}

/** @returns `null` for a message that is too short or too long to be a piece. */
export function readPiece(message: Uint8Array): { seq: number; bytes: Uint8Array } | null {
  if (message.byteLength <= 4 || message.byteLength > 4 + CAMERA_LIMITS.pieceBytes) return null;
  return { seq: viewOf(message).getUint32(0), bytes: message.subarray(4) };
}

/** What a number is to the node, which has everything before `nextSeq`: a gap can only be a fault of the sender. */
export const orderOf = (nextSeq: number, seq: number): 'next' | 'known' | 'gap' =>
  seq === nextSeq ? 'next' : seq < nextSeq ? 'known' : 'gap';

/** Containers that recorders make and the node can read, best first: picture H.264, so that nothing is re-encoded. */
export const CAMERA_TYPES = [
  'video/webm;codecs=h264,opus',
  'video/x-matroska;codecs=avc1,opus',
  'video/mp4;codecs=avc1.42E01F,mp4a.40.2',
  'video/mp4;codecs=avc1,mp4a.40.2',
] as const;

export type CameraContainer = 'matroska' | 'mp4';

/** @returns `null` for a type whose picture is not H.264 or whose container cannot be read as it comes. */
export function containerOf(mimeType: string): CameraContainer | null {
  const [container, codecs = ''] = mimeType.toLowerCase().split(';codecs=');
  if (!/\b(?:h264|avc1)/.test(codecs)) return null;
  if (container === 'video/webm' || container === 'video/x-matroska') return 'matroska';
  return container === 'video/mp4' ? 'mp4' : null;
}
