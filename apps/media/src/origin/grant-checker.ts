import { createHmac } from 'node:crypto';
import {
  checkGrant,
  type Grant,
  type GrantClass,
  type GrantRefusal,
  type Signer,
} from '@heliphon/core/access/grant';
import { type GrantTurns, isTurned, NO_TURNS } from '@heliphon/core/access/guarded-grant';
import type { DesiredState } from '@heliphon/core/control/desired-state';
import { refuse as refused, type Result, succeed } from '@heliphon/core/result';
import type { Clock } from '../clock.js';
import type { ProgrammeIdentity } from '../programme/programme-ports.js';

const MAX_VERIFIED = 10_000;

/** Checks grants by the keys of the desired state; asks nobody. */
export class GrantChecker {
  #keys = new Map<string, Buffer>();
  #validFrom = new Map<string, number>();
  #binned: ReadonlySet<string> = new Set();
  #guardedReplays: ReadonlySet<string> = new Set();
  #turns: Readonly<Record<string, GrantTurns>> = {};
  /** Grants that were found good, until the desired state changes; players show the same one thousands of times. */
  readonly #verified = new Map<string, Grant>();

  constructor(private readonly clock: Clock) {}

  setDesired(state: DesiredState): void {
    this.#verified.clear();
    this.#binned = new Set(state.binnedRecordings);
    this.#guardedReplays = new Set(state.guardedReplays);
    this.#turns = state.grantTurns;
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
    const nowMs = this.clock.nowMs();
    const key = `${subjectId} ${text}`;
    const known = this.#verified.get(key);
    if (known && nowMs < known.expiresAtMs) return succeed(known);
    const validFromMs = (name: GrantClass): number => this.#validFrom.get(`${subjectId} ${name}`) ?? 0;
    const checked = checkGrant(subjectId, text, this.#sign, nowMs, validFromMs);
    if (checked.ok && checked.value.class !== 'desk' && this.#binned.has(subjectId))
      return refused({ code: 'withdrawn' });
    if (checked.ok) {
      if (this.#verified.size >= MAX_VERIFIED) this.#verified.clear();
      this.#verified.set(key, checked.value);
    }
    return checked;
  }

  /**
   * Whether a good grant still opens a programme: fewer may watch since it was given, or only some may see the replay.
   * @param isOver - there is a replay
   */
  opens(grant: Grant, { programmeId, houseId }: ProgrammeIdentity, isOver: boolean): boolean {
    if (grant.class === 'public' && isOver && this.#guardedReplays.has(programmeId)) return false;
    return !isTurned(grant, this.#turns[houseId] ?? NO_TURNS, this.clock.nowMs());
  }

  readonly #sign: Signer = (keyId, text) => {
    const key = this.#keys.get(keyId);
    return key && createHmac('sha256', key).update(text).digest('base64url');
  };
}
