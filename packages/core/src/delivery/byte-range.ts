/** A stretch of a file, both ends included. */
export interface ByteRange {
  readonly first: number;
  readonly last: number;
}

/**
 * Reads a `Range` header for a file of `sizeBytes` (RFC 9110, 14.1.2). One range of bytes is honoured; what is
 * malformed, of another unit or of several ranges is ignored (`null`), as the standard allows.
 */
export function parseByteRange(
  header: string | undefined,
  sizeBytes: number,
): ByteRange | null | 'unsatisfiable' {
  const match = /^bytes=(\d*)-(\d*)$/.exec(header ?? '');
  if (!match || (match[1] === '' && match[2] === '')) return null;
  const [, from, to] = match as unknown as [string, string, string];
  if (from === '') {
    const suffixBytes = Number(to);
    if (suffixBytes === 0) return 'unsatisfiable';
    return sizeBytes === 0
      ? 'unsatisfiable'
      : { first: Math.max(0, sizeBytes - suffixBytes), last: sizeBytes - 1 };
  }
  const first = Number(from);
  const last = to === '' ? sizeBytes - 1 : Math.min(Number(to), sizeBytes - 1);
  if (to !== '' && Number(to) < first) return null;
  return first >= sizeBytes ? 'unsatisfiable' : { first, last };
}
