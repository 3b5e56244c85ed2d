import { randomBytes } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { LessThan } from 'typeorm';
import { askPairing, makeUserCode, PAIRING, type PairingAnswer } from '@heliphon/core/pairing/device-grant';
import type { DeviceAuthorization } from '@heliphon/contracts/boxes';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { newId, randomText, sha256Hex } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { PairingEntity } from '../tables/box.entity.js';

const SECRET_BITS = 160;
/** Boxes that show a code at once, in the whole installation: more would only help anyone who guesses. */
const MOST_WAITING = 500;
/** Two boxes with one code: not before the Last Judgement, but the database decides. */
const TRIES = 5;

export type TokenAnswer =
  | { readonly answer: 'granted'; readonly token: string }
  | { readonly answer: Exclude<PairingAnswer, 'granted'> };

/** The box's side of pairing: a code to show, and a token once somebody has entered it. */
@Injectable()
export class PairingsService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  /** @throws ProblemError 429 while too many boxes are waiting */
  async begin(model: string, baseUrl: string): Promise<DeviceAuthorization> {
    const manager = this.database.installation;
    const nowMs = this.clock.nowMs();
    await manager.delete(PairingEntity, { expiresAtMs: LessThan(nowMs) });
    if ((await manager.count(PairingEntity)) >= MOST_WAITING)
      throw new ProblemError(429, 'too-many-tries', { seconds: 60 }, { retryAfterSeconds: 60 });
    const deviceCode = randomText(SECRET_BITS);
    const userCode = await this.#insert(deviceCode, model, nowMs);
    const page = `${baseUrl}/sources?pair`;
    return {
      device_code: deviceCode,
      user_code: userCode,
      verification_uri: page,
      verification_uri_complete: `${page}=${userCode}`,
      expires_in: PAIRING.lifeMs / 1000,
      interval: PAIRING.intervalMs / 1000,
    };
  }

  async #insert(deviceCode: string, model: string, nowMs: number): Promise<string> {
    for (let left = TRIES; ; left -= 1) {
      const userCode = makeUserCode(randomBytes(64));
      try {
        await this.database.installation.insert(PairingEntity, {
          id: newId(),
          deviceCodeSha256Hex: sha256Hex(deviceCode),
          userCode,
          model,
          state: 'waiting',
          boxId: null,
          expiresAtMs: nowMs + PAIRING.lifeMs,
          lastAskedAtMs: null,
          intervalMs: PAIRING.intervalMs,
        });
        return userCode;
      } catch (error) {
        if (left === 0) throw error;
      }
    }
  }

  /** Answers a box that asks for its token; given out once. */
  async ask(deviceCode: string): Promise<TokenAnswer> {
    return this.database.installation.transaction(async (manager) => {
      const row = await manager.findOne(PairingEntity, {
        where: { deviceCodeSha256Hex: sha256Hex(deviceCode) },
        lock: { mode: 'pessimistic_write' },
      });
      if (!row) return { answer: 'expired_token' };
      const { answer, pairing } = askPairing(row, this.clock.nowMs());
      await manager.save(Object.assign(row, pairing));
      if (answer !== 'granted') return { answer };
      const token = randomText(SECRET_BITS);
      // Not an edit: its version stays.
      await manager.query('UPDATE boxes SET token_sha256_hex = ? WHERE id = ?', [
        sha256Hex(token),
        row.boxId,
      ]);
      return { answer, token };
    });
  }
}
