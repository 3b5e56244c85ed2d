import { Injectable } from '@nestjs/common';
import type { ShownLevel } from '@heliphon/contracts/websites';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { newId } from '../platform/ids.js';

const HOUR_MS = 3_600_000;
const MOST_REMEMBERED = 10_000;
/** Anybody can claim to be a website: no house has to read more of them than this. */
const MOST_OF_HOUSE = 500;

/** Notices on which websites embeds are opened: by the host alone, each once an hour. */
@Injectable()
export class WebsiteSightings {
  readonly #noted = new Map<string, number>();

  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  async saw(houseId: string, level: ShownLevel, subjectId: string, host: string): Promise<void> {
    const key = `${subjectId} ${host}`;
    const nowMs = this.clock.nowMs();
    if (nowMs - (this.#noted.get(key) ?? -Infinity) < HOUR_MS) return;
    if (this.#noted.size >= MOST_REMEMBERED) this.#noted.clear();
    this.#noted.set(key, nowMs);
    const manager = this.database.installation;
    const known: { count: string }[] = await manager.query(
      'SELECT COUNT(*) count FROM websites WHERE house_id = ?',
      [houseId],
    );
    const isFull = Number(known[0]!.count) >= MOST_OF_HOUSE;
    const seenAt = new Date(nowMs);
    if (isFull)
      await manager.query(
        'UPDATE websites SET seen_at = ? WHERE house_id = ? AND subject_id = ? AND host = ?',
        [seenAt, houseId, subjectId, host],
      );
    else
      await manager.query(
        `INSERT INTO websites (id, house_id, level, subject_id, host, seen_at) VALUES (?, ?, ?, ?, ?, ?)
          ON DUPLICATE KEY UPDATE seen_at = VALUES(seen_at)`,
        [newId(), houseId, level, subjectId, host, seenAt],
      );
  }
}
