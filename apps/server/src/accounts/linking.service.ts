import { randomBytes } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { BeginLink, ConsentAddress, FinishLink } from '@heliphon/contracts/accounts';
import type { Result } from '@heliphon/core/result';
import type {
  AccountThere,
  Connector,
  ConnectorRefusal,
  ConsentAsk,
  Grant,
  OutletThere,
} from '../connectors/connector.js';
import { Connectors } from '../connectors/connectors.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { newId, sha256Hex } from '../platform/ids.js';
import { ProblemError, notFound } from '../platform/problems.js';
import { ownUrl } from '../platform/public-url.js';
import { type SealPlace, Secrets } from '../platform/secrets.js';
import { AccountEntity, ConsentAskEntity } from '../tables/account.entity.js';
import { AccountTokens } from './account-tokens.js';
import { keepOutlets } from './outlet-rows.js';

/** Long enough to find a password. */
const ASK_LASTS_MS = 30 * 60_000;

const askPlace = (houseId: string, id: string): SealPlace => ({
  houseId,
  table: 'consent_asks',
  column: 'sealed_verifier',
  id,
});

/** What a platform told of a new consent. */
interface Linked {
  readonly grant: Grant;
  readonly account: AccountThere;
  readonly outlets: readonly OutletThere[];
}

/** Links accounts: sends a browser to a platform's consent, and takes up what it comes back with. */
@Injectable()
export class LinkingService {
  constructor(
    private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly connectors: Connectors,
    private readonly tokens: AccountTokens,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  async begin(ctx: Context, { platform, accountId }: BeginLink): Promise<ConsentAddress> {
    const connector = this.#connector(platform);
    const id = newId();
    const [state, verifier] = [secret(), secret()];
    await this.database.transaction(ctx, async (scope) => {
      if (accountId) await scope.get(AccountEntity, accountId, 'account');
      await scope.add(ConsentAskEntity, {
        id,
        personId: ctx.by,
        platform,
        accountId: accountId ?? null,
        stateSha256Hex: sha256Hex(state),
        sealedVerifier: this.secrets.seal(verifier, askPlace(ctx.houseId, id)),
        expiresAtMs: this.clock.nowMs() + ASK_LASTS_MS,
      });
    });
    const ask = { state, verifier, redirectAddress: this.#redirectAddress(platform) };
    return { address: await connector.consentAddress(ask) };
  }

  /** @returns the account's id. @throws ProblemError in words where nothing was linked */
  async finish(ctx: Context, { platform, answer }: FinishLink): Promise<string> {
    const connector = this.#connector(platform);
    const redirectAddress = this.#redirectAddress(platform);
    const back = new URL(`${redirectAddress}?${answer.replace(/^\?/, '')}`);
    const state = back.searchParams.get('state') ?? '';
    const asked = await this.#takeAsk(ctx, platform, state);
    const verifier = this.secrets.open(asked.sealedVerifier, askPlace(ctx.houseId, asked.id));
    const linked = await this.#exchange(connector, back, { state, verifier, redirectAddress });
    try {
      return await this.database.transaction(ctx, (scope) =>
        this.#keep(scope, platform, asked.accountId, linked),
      );
    } catch (error) {
      // What nobody uses here is not left open over there.
      const isUsed = { platform, idThere: linked.account.id };
      if (!(await this.database.installation.existsBy(AccountEntity, isUsed)))
        await connector.revoke(linked.grant.refreshToken);
      throw error;
    }
  }

  #connector(platform: string): Connector {
    const connector = this.connectors.get(platform);
    if (!connector) throw notFound('platform');
    return connector;
  }

  #redirectAddress(platform: string): string {
    return `${ownUrl(this.config)}/linked/${platform}`;
  }

  /** Each is answered once, by the person and in the house that it was asked for. */
  #takeAsk(ctx: Context, platform: string, state: string): Promise<ConsentAskEntity> {
    return this.database.transaction(ctx, async (scope) => {
      const where = { stateSha256Hex: sha256Hex(state), personId: ctx.by, platform };
      const ask = await scope.findOne(ConsentAskEntity, where);
      if (!ask || ask.expiresAtMs < this.clock.nowMs()) throw new ProblemError(409, 'link-not-asked');
      await scope.remove(ConsentAskEntity, { id: ask.id });
      return ask;
    });
  }

  async #exchange(connector: Connector, back: URL, ask: ConsentAsk): Promise<Linked> {
    const { name } = connector.facts;
    const grant = given(await connector.exchange(back, ask), name);
    const account = given(await connector.account(grant.accessToken), name);
    const outlets = given(await connector.outlets(grant.accessToken), name);
    return { grant, account, outlets };
  }

  async #keep(
    scope: HouseScope,
    platform: string,
    expectedId: string | null,
    { grant, account, outlets }: Linked,
  ): Promise<string> {
    const known = await scope.findOne(AccountEntity, { platform, idThere: account.id });
    if (expectedId && known?.id !== expectedId) {
      const expected = await scope.get(AccountEntity, expectedId, 'account');
      throw new ProblemError(409, 'link-other-account', { linked: expected.name, given: account.name });
    }
    const named = { houseId: scope.ctx.houseId, id: known?.id ?? newId() };
    const facts = {
      name: account.name,
      audience: account.audience,
      consentEndsAtMs: account.consentEndsAtMs,
      endedAtMs: null,
      claimedUntilMs: null,
      lookedAtMs: this.clock.nowMs(),
      ...this.tokens.sealed(named, grant),
    };
    if (known) await scope.save(Object.assign(known, facts));
    else await scope.add(AccountEntity, { id: named.id, platform, idThere: account.id, ...facts });
    await keepOutlets(scope, named.id, outlets);
    await scope.happened({
      subjectKind: 'account',
      subjectId: named.id,
      kind: known ? 'account-linked-again' : 'account-linked',
      after: { name: account.name, platform },
    });
    return named.id;
  }
}

function given<T>(answer: Result<T, ConnectorRefusal>, platform: string): T {
  if (answer.ok) return answer.value;
  if (answer.error.code === 'consent-ended') throw new ProblemError(409, 'link-denied', { platform });
  throw new ProblemError(503, 'platform-away', { platform });
}

const secret = (): string => randomBytes(32).toString('base64url');
