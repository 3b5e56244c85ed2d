import type { Clock } from '../platform/clock.js';
import type { Database } from '../platform/database.js';

const DAY_MS = 24 * 3_600_000;
/** Undoing a look may want the one before back for so long. */
const KEPT_MS = 90 * DAY_MS;
const LOOK_TABLES = ['houses', 'channels', 'series', 'events'] as const;

/**
 * Lets go of rows that no look has named for a long time.
 * @param paths - where a look names one, as JSON path
 */
export async function letGoOfUnused(
  database: Database,
  clock: Clock,
  table: 'logos' | 'ground_pictures',
  paths: readonly string[],
): Promise<void> {
  const named = LOOK_TABLES.flatMap((from) =>
    paths.map(
      (path) =>
        `SELECT JSON_VALUE(look, '${path}') FROM ${from} WHERE JSON_VALUE(look, '${path}') IS NOT NULL`,
    ),
  );
  await database.installation.query(
    `DELETE FROM ${table} WHERE created_at < ? AND id NOT IN (${named.join(' UNION ')})`,
    [new Date(clock.nowMs() - KEPT_MS)],
  );
}
