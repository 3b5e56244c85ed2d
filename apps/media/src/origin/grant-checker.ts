import { createHmac } from 'node:crypto';
import {
  checkGrant,
  type Grant,
  type GrantClass,
  type GrantRefusal,
  type Signer,
} from '@heliphon/core/access/grant';
import type { DesiredState } from '@heliphon/core/control/desired-state';
import type { Result } from '@heliphon/core/result';
import type { Clock } from '../clock.js';

/** Checks grants by the keys of the desired state; asks nobody. */
export class GrantChecker {
  #keys = new Map<string, Buffer>();
  #validFrom = new Map<string, number>();

  constructor(private readonly clock: Clock) {}

  setDesired(state: DesiredState): void {
    this.#keys = new Map(
      state.grantKeys.map(({ keyId, secretBase64 }) => [keyId, Buffer.from(secretBase64, 'base64')]),
    );
    this.#validFrom = new Map([
      ...state.sources.map((s): [string, number] => [`${s.sourceId} source`, s.grantsValidFromMs]),
      ...state.programmes.flatMap((p) =>
        Object.entries(p.grantsValidFromMs).map(([name, fromMs]): [string, number] => [
          `${p.programmeId} ${name}`,
          fromMs,
        ]),
      ),
    ]);
  }

  check(subjectId: string, text: string): Result<Grant, GrantRefusal> {
    const validFromMs = (name: GrantClass): number => this.#validFrom.get(`${subjectId} ${name}`) ?? 0;
    return checkGrant(subjectId, text, this.#sign, this.clock.nowMs(), validFromMs);
  }

  readonly #sign: Signer = (keyId, text) => {
    const key = this.#keys.get(keyId);
    return key && createHmac('sha256', key).update(text).digest('base64url');
  };
}
