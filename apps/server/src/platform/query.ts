import type { PageWish } from './database.js';
import { ProblemError, refusedField } from './problems.js';

const PAGE = { usual: 50, most: 200 } as const;

/** The first and the last instant that the database can hold. */
const FIRST_INSTANT_MS = Date.UTC(1000, 0, 1);
const LAST_INSTANT_MS = Date.UTC(9999, 11, 31);

/** An instant in a query: UTC ms, or ISO 8601; `otherwise` where there is none. */
export function instantQuery(name: string, value: string | undefined, otherwise = LAST_INSTANT_MS): number {
  if (value === undefined) return otherwise;
  const ms = /^-?\d+$/.test(value) ? Number(value) : Date.parse(value);
  // What is no number is in no range.
  if (!(ms >= FIRST_INSTANT_MS && ms <= LAST_INSTANT_MS)) throw refusedField(name, 'not-an-instant');
  return ms;
}

function limitQuery(value: unknown): number {
  if (value === undefined) return PAGE.usual;
  const limit = Number(value);
  if (!Number.isInteger(limit) || limit < 1 || limit > PAGE.most)
    throw refusedField('limit', 'limit-wrong', { most: PAGE.most });
  return limit;
}

/** `?after=` and `?limit=` of a list. */
export function pageQuery(after: unknown, limit: unknown): PageWish {
  if (after !== undefined && typeof after !== 'string') throw refusedField('after', 'not-a-cursor');
  return { after: after ?? null, limit: limitQuery(limit) };
}

export function countQuery(name: string, value: string | undefined): number {
  const count = Number(value ?? 0);
  if (!Number.isSafeInteger(count) || count < 0) throw refusedField(name, 'not-a-count');
  return count;
}

/** The version that an edit knows, from `If-Match`: `3`, `"3"`. */
export function ifMatch(header: string | undefined): number {
  if (header === undefined) throw new ProblemError(428, 'version-needed');
  const version = Number(header.replace(/^"|"$/g, ''));
  if (!Number.isInteger(version)) throw new ProblemError(412, 'changed-meanwhile');
  return version;
}
