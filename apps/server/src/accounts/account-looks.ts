import { Injectable } from '@nestjs/common';
import { IsNull, LessThan } from 'typeorm';
import { refuse, type Result, succeed } from '@heliphon/core/result';
import type { ConnectorRefusal } from '../connectors/connector.js';
import { Connectors } from '../connectors/connectors.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { AccountEntity } from '../tables/account.entity.js';
import { AccountTokens } from './account-tokens.js';
import { keepOutlets } from './outlet-rows.js';

const EVERY_MS = 30_000;
/** What people change over there is known here after so long. */
const LOOKED_EVERY_MS = 3 * 3_600_000;
const AT_ONCE = 20;

/** Asks platforms what they have: pages are renamed, groups let us in, consents are narrowed. */
@Injectable()
export class AccountLooks extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Accounts wait';

  constructor(
    private readonly database: Database,
    private readonly connectors: Connectors,
    private readonly tokens: AccountTokens,
    private readonly clock: Clock,
  ) {
    super();
  }

  async work(): Promise<void> {
    const dueMs = this.clock.nowMs() - LOOKED_EVERY_MS;
    const due = await this.database.installation.find(AccountEntity, {
      where: [
        { endedAtMs: IsNull(), lookedAtMs: IsNull() },
        { endedAtMs: IsNull(), lookedAtMs: LessThan(dueMs) },
      ],
      take: AT_ONCE,
    });
    await this.eachOf(due, async (account) => (await this.#claim(account)) && this.look(account));
  }

  /** What the platform says is written down. */
  async look(account: AccountEntity): Promise<Result<null, ConnectorRefusal>> {
    const connector = this.connectors.get(account.platform);
    if (!connector) return refuse({ code: 'out-of-order' });
    const own = await this.tokens.ask(account, (token) => connector.account(token));
    if (!own.ok) return own;
    const outlets = await this.tokens.ask(account, (token) => connector.outlets(token));
    if (!outlets.ok) return outlets;
    const { name, audience, consentEndsAtMs } = own.value;
    await this.database.transaction(systemContext(account.houseId, 'system'), async (scope) => {
      const row = await scope.lock(AccountEntity, { id: account.id }, 'account');
      // Linked again, or looked at, since: what is known by now is newer.
      if (row.lookedAtMs !== account.lookedAtMs) return;
      const lookedAtMs = this.clock.nowMs();
      await scope.save(Object.assign(row, { name, audience, consentEndsAtMs, lookedAtMs }));
      await keepOutlets(scope, account.id, outlets.value);
    });
    return succeed(null);
  }

  /** One server alone; where the platform does not answer, it is asked again after the usual pause. */
  async #claim(account: AccountEntity): Promise<boolean> {
    const { id, lookedAtMs } = account;
    const claim = { lookedAtMs: this.clock.nowMs() };
    const { affected } = await this.database.installation.update(
      AccountEntity,
      { id, lookedAtMs: lookedAtMs ?? IsNull() },
      claim,
    );
    Object.assign(account, claim);
    return affected === 1;
  }
}
