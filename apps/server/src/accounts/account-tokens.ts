import { Injectable } from '@nestjs/common';
import { IsNull, LessThan } from 'typeorm';
import { type Result, refuse, succeed } from '@heliphon/core/result';
import type { Answer, ConnectorRefusal, Grant } from '../connectors/connector.js';
import { Connectors } from '../connectors/connectors.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { AccountEntity, ConsentAskEntity } from '../tables/account.entity.js';

const EVERY_MS = 30_000;
/** Refreshed so long before its end, so that nobody ever asks with one that has run out. */
const AHEAD_MS = 10 * 60_000;
/** Longer than a platform may take. */
const CLAIM_MS = 20_000;
const LOOKS_AGAIN_MS = 200;
const AT_ONCE = 50;

type Named = Pick<AccountEntity, 'houseId' | 'id'>;
const placeOf = (
  { houseId, id }: Named,
  column: 'sealed_access_token' | 'sealed_refresh_token',
): SealPlace => ({
  houseId,
  table: 'accounts',
  column,
  id,
});

/**
 * Keeps the tokens of linked accounts fresh. A refresh token is good once: so one server alone asks with it, by a claim on
 * the account's row.
 */
@Injectable()
export class AccountTokens extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Tokens wait';

  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly connectors: Connectors,
    private readonly clock: Clock,
  ) {
    super();
  }

  async work(): Promise<void> {
    const due = await this.database.installation.find(AccountEntity, {
      where: { endedAtMs: IsNull(), accessEndsAtMs: LessThan(this.clock.nowMs() + AHEAD_MS) },
      order: { accessEndsAtMs: 'ASC' },
      take: AT_ONCE,
    });
    for (const account of due) await this.#refresh(account);
    await this.database.installation.delete(ConsentAskEntity, { expiresAtMs: LessThan(this.clock.nowMs()) });
  }

  /** What is to be written down of a grant. */
  sealed(named: Named, { accessToken, accessEndsAtMs, refreshToken }: Grant) {
    return {
      sealedAccessToken: this.secrets.seal(accessToken, placeOf(named, 'sealed_access_token')),
      sealedRefreshToken: this.secrets.seal(refreshToken, placeOf(named, 'sealed_refresh_token')),
      accessEndsAtMs,
    };
  }

  /** Takes a consent back over there; a platform that does not answer keeps nobody from being let go of here. */
  async revoke(account: AccountEntity): Promise<void> {
    if (account.endedAtMs === null)
      await this.connectors.get(account.platform)?.revoke(this.#refreshToken(account));
  }

  #refreshToken(account: AccountEntity): string {
    return this.secrets.open(account.sealedRefreshToken, placeOf(account, 'sealed_refresh_token'));
  }

  /** Asks a platform with an account's token; once more with a new one where it does not take the one we have. */
  async ask<T>(account: AccountEntity, question: (accessToken: string) => Answer<T>): Answer<T> {
    const token = await this.#fresh(account);
    if (!token.ok) return token;
    const answer = await question(token.value);
    if (answer.ok || answer.error.code !== 'token-expired') return answer;
    const renewed = await this.#refresh(account);
    return renewed.ok ? question(renewed.value) : renewed;
  }

  async #fresh(account: AccountEntity): Promise<Result<string, ConnectorRefusal>> {
    if (account.endedAtMs !== null) return refuse({ code: 'consent-ended' });
    const isGood = account.accessEndsAtMs > this.clock.nowMs();
    return isGood ? succeed(this.#accessToken(account)) : this.#refresh(account);
  }

  #accessToken(account: AccountEntity): string {
    return this.secrets.open(account.sealedAccessToken, placeOf(account, 'sealed_access_token'));
  }

  async #refresh(account: AccountEntity): Promise<Result<string, ConnectorRefusal>> {
    const connector = this.connectors.get(account.platform);
    if (!connector) return refuse({ code: 'out-of-order' });
    if (!(await this.#claim(account))) return this.#awaited(account);
    const answer = await connector.refresh(this.#refreshToken(account));
    if (answer.ok) {
      await this.#keep(account, { ...this.sealed(account, answer.value), claimedUntilMs: null });
      return succeed(answer.value.accessToken);
    }
    if (answer.error.code === 'consent-ended') await this.#end(account);
    else await this.#keep(account, { claimedUntilMs: null });
    return answer;
  }

  /** Succeeds only while the tokens are the ones we read, so two servers never use the same one. */
  async #claim({ id, sealedRefreshToken }: AccountEntity): Promise<boolean> {
    const nowMs = this.clock.nowMs();
    const { affected } = await this.database.installation
      .createQueryBuilder()
      .update(AccountEntity)
      .set({ claimedUntilMs: nowMs + CLAIM_MS })
      .where('id = :id AND sealed_refresh_token = :sealedRefreshToken', { id, sealedRefreshToken })
      .andWhere('ended_at IS NULL AND (claimed_until IS NULL OR claimed_until < :now)', {
        now: new Date(nowMs),
      })
      .execute();
    return affected === 1;
  }

  /** Another server is refreshing it: its token is ours as well. */
  async #awaited({ id, sealedRefreshToken }: AccountEntity): Promise<Result<string, ConnectorRefusal>> {
    const until = performance.now() + CLAIM_MS;
    for (;;) {
      const account = await this.database.installation.findOneBy(AccountEntity, { id });
      if (!account || account.endedAtMs !== null) return refuse({ code: 'consent-ended' });
      if (account.sealedRefreshToken !== sealedRefreshToken) return succeed(this.#accessToken(account));
      const isGivenUp = (account.claimedUntilMs ?? 0) < this.clock.nowMs();
      if (isGivenUp || performance.now() > until) return refuse({ code: 'out-of-order' });
      await new Promise((resolve) => setTimeout(resolve, LOOKS_AGAIN_MS));
    }
  }

  /** Nothing is written over the tokens of an account that has been linked again meanwhile. */
  async #keep({ id, sealedRefreshToken }: AccountEntity, change: Partial<AccountEntity>): Promise<void> {
    await this.database.installation.update(AccountEntity, { id, sealedRefreshToken }, change);
  }

  async #end({ houseId, id, name, sealedRefreshToken }: AccountEntity): Promise<void> {
    await this.database.transaction(systemContext(houseId, 'system'), async (scope) => {
      const account = await scope.lock(AccountEntity, { id }, 'account');
      if (account.sealedRefreshToken !== sealedRefreshToken) return;
      await scope.save(Object.assign(account, { endedAtMs: this.clock.nowMs(), claimedUntilMs: null }));
      await scope.happened({
        subjectKind: 'account',
        subjectId: id,
        kind: 'account-ended',
        before: { name },
      });
    });
  }
}
