import { Injectable } from '@nestjs/common';
import { Like } from 'typeorm';
import type { AccountView, ChooseOutlet, OutletView, PlatformView } from '@heliphon/contracts/accounts';
import type { Page } from '@heliphon/contracts/problem';
import { Connectors } from '../connectors/connectors.js';
import { type Context, Database, type HouseScope, type PageWish } from '../platform/database.js';
import { ProblemError } from '../platform/problems.js';
import { addOutletPlace, removeOutletPlace } from '../destinations/place-rows.js';
import { AccountEntity, OutletEntity } from '../tables/account.entity.js';
import { AccountTokens } from './account-tokens.js';
import { AccountLooks } from './account-looks.js';

/** Linked accounts, and which of their outlets a house uses. */
@Injectable()
export class AccountsService {
  constructor(
    private readonly database: Database,
    private readonly connectors: Connectors,
    private readonly tokens: AccountTokens,
    private readonly looks: AccountLooks,
  ) {}

  platforms(): readonly PlatformView[] {
    return this.connectors.all.map(({ kind, facts }) => ({ kind, name: facts.name }));
  }

  async list(ctx: Context, wish: PageWish): Promise<Page<AccountView>> {
    return this.database.snapshotOf(ctx, async (scope) => {
      const { rows, next } = await scope.page(AccountEntity, { by: 'name' }, wish);
      return { items: await Promise.all(rows.map((row) => this.#view(scope, row))), next };
    });
  }

  /** @param named - a part of its name; empty for all */
  async outlets(ctx: Context, accountId: string, named: string, wish: PageWish): Promise<Page<OutletView>> {
    const scope = this.database.house(ctx);
    await scope.get(AccountEntity, accountId, 'account');
    const part = `%${named.replace(/[\\%_]/g, '\\$&')}%`;
    const where = { accountId, isThere: true, ...(named ? { name: Like(part) } : {}) };
    const { rows, next } = await scope.page(OutletEntity, { by: 'name', where }, wish);
    return { items: rows.map(outletView), next };
  }

  /** A chosen outlet is a place that events can go to. @throws ProblemError 409 while an event goes there */
  async choose(
    ctx: Context,
    accountId: string,
    outletId: string,
    { isChosen }: ChooseOutlet,
  ): Promise<OutletView> {
    return this.database.transaction(ctx, async (scope) => {
      const outlet = await scope.lock(OutletEntity, { id: outletId, accountId }, 'outlet');
      if (outlet.isChosen === isChosen) return outletView(outlet);
      const saved = await scope.save(Object.assign(outlet, { isChosen }));
      const { platform } = await scope.get(AccountEntity, accountId, 'account');
      if (isChosen) await addOutletPlace(scope, outlet, this.connectors.nameOf(platform));
      else await removeOutletPlace(scope, outletId);
      await scope.happened({
        subjectKind: 'account',
        subjectId: accountId,
        kind: isChosen ? 'outlet-chosen' : 'outlet-let-go',
        after: { name: outlet.name },
      });
      return outletView(saved);
    });
  }

  /** Asks the platform again what is there. @throws ProblemError in words where it does not say */
  async look(ctx: Context, id: string): Promise<AccountView> {
    const account = await this.database.house(ctx).get(AccountEntity, id, 'account');
    const platform = this.connectors.nameOf(account.platform);
    const looked = await this.looks.look(account);
    if (!looked.ok && looked.error.code === 'consent-ended')
      throw new ProblemError(409, 'account-ended', { name: account.name, platform });
    if (!looked.ok) throw new ProblemError(503, 'platform-away', { platform });
    return this.#one(this.database.house(ctx), id);
  }

  async #one(scope: HouseScope, id: string): Promise<AccountView> {
    return this.#view(scope, await scope.get(AccountEntity, id, 'account'));
  }

  async #view(
    scope: HouseScope,
    { id, platform, name, audience, consentEndsAtMs, endedAtMs }: AccountEntity,
  ): Promise<AccountView> {
    const chosen = await scope.find(OutletEntity, {
      where: { accountId: id, isChosen: true },
      order: { name: 'ASC', id: 'ASC' },
    });
    return {
      id,
      platform,
      platformName: this.connectors.get(platform)?.facts.name ?? null,
      name,
      audience,
      consentEndsAtMs,
      endedAtMs,
      outletCount: await scope.count(OutletEntity, { accountId: id, isThere: true }),
      chosen: chosen.map(outletView),
    };
  }
}

const outletView = ({ id, name, kind, isChosen, hasLetIn, isThere }: OutletEntity): OutletView => ({
  id,
  name,
  kind,
  isChosen,
  hasLetIn,
  isThere,
});
