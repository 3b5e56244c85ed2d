import { Inject, Injectable } from '@nestjs/common';
import { type EntityManager, In, IsNull, LessThan } from 'typeorm';
import { can } from '@heliphon/core/access/capabilities';
import { outletTrouble } from '@heliphon/core/connectors/outlet-trouble';
import { ACCOUNTS_BEFORE_MS, type Check } from '@heliphon/core/readiness/readiness';
import { Connectors } from '../connectors/connectors.js';
import { PostOffice } from '../letters/post-office.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database, type HouseScope, systemContext } from '../platform/database.js';
import { HouseEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { ownUrl } from '../platform/public-url.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { AccountEntity } from '../tables/account.entity.js';
import { DestinationEntity } from '../tables/destination.entity.js';
import { EventDestinationEntity, EventEntity } from '../tables/event.entity.js';
import { accountLetter, type AwaitedEvent } from './account-letter-text.js';
import { outletFacts } from './outlet-facts.js';

const EVERY_MS = 60_000;
const MOST_EVENTS = 500;
/** In a letter the next ones are enough. */
const MOST_NAMED = 5;
const TOLD_LENGTH = 200;

interface AccountTrouble {
  readonly details: readonly Check['detail'][];
  readonly events: readonly AwaitedEvent[];
}

/** Writes to those who may link accounts when one will be missed by an event of the next days. */
@Injectable()
export class AccountLetters extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Letters about accounts wait';

  constructor(
    private readonly database: Database,
    private readonly connectors: Connectors,
    private readonly post: PostOffice,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {
    super();
  }

  async work(): Promise<void> {
    const rows = await this.database.installation.find(AccountEntity, {
      select: { id: true, houseId: true },
    });
    await this.eachOf(new Set(rows.map(({ houseId }) => houseId)), (houseId) => this.#tellHouse(houseId));
  }

  async #tellHouse(houseId: string): Promise<void> {
    await this.database.inHouse(systemContext(houseId, 'system'), async (scope, manager) => {
      const troubles = await this.#troubles(scope);
      for (const account of await scope.find(AccountEntity, {})) {
        const trouble = troubles.get(account.id);
        const told = trouble ? keyOf(trouble) : null;
        if (told === account.toldTrouble) continue;
        // One server at a time; another may have written it meanwhile.
        const row = await scope.lock(AccountEntity, { id: account.id }, 'account');
        if (row.toldTrouble === told) continue;
        await manager.update(AccountEntity, { id: row.id }, { toldTrouble: told });
        if (trouble) await this.#write(scope, manager, trouble);
      }
    });
  }

  /** What is wrong with accounts that the events of the next days need, by the accounts' ids. */
  async #troubles(scope: HouseScope): Promise<ReadonlyMap<string, AccountTrouble>> {
    const events = await scope.find(EventEntity, {
      where: {
        state: In(['planned', 'doors', 'air']),
        startsAtMs: LessThan(this.clock.nowMs() + ACCOUNTS_BEFORE_MS),
        rehearsalOf: IsNull(),
        isDraft: false,
      },
      order: { startsAtMs: 'ASC' },
      take: MOST_EVENTS,
    });
    const links = await scope.find(EventDestinationEntity, {
      where: { eventId: In(events.map(({ id }) => id)) },
    });
    const places = await scope.find(DestinationEntity, {
      where: { id: In(links.map(({ destinationId }) => destinationId)) },
    });
    const outlets = await outletFacts(scope, this.connectors, events, links, places);
    const troubles = new Map<string, { details: Check['detail'][]; events: AwaitedEvent[] }>();
    for (const event of events)
      for (const { accountId, accountName, platform, platformName, name, ...standing } of outlets.get(
        event.id,
      ) ?? []) {
        const kind = outletTrouble(standing, event.hardStopAtMs);
        if (!kind) continue;
        const trouble = troubles.get(accountId) ?? { details: [], events: [] };
        troubles.set(accountId, trouble);
        const detail = { kind, name, accountId, accountName, platform, platformName, count: 1 };
        if (!trouble.details.some((known) => wordsOf(known) === wordsOf(detail)))
          trouble.details.push(detail);
        if (!trouble.events.includes(event)) trouble.events.push(event);
      }
    return troubles;
  }

  async #write(
    scope: HouseScope,
    manager: EntityManager,
    { details, events }: AccountTrouble,
  ): Promise<void> {
    const house = await manager.findOneByOrFail(HouseEntity, { id: scope.ctx.houseId });
    const members = await scope.find(MembershipEntity, {});
    const ids = members
      .filter(({ roles }) => can(roles, 'destinations.edit'))
      .map(({ personId }) => personId);
    for (const { name, email } of await manager.findBy(PersonEntity, { id: In(ids) })) {
      const facts = {
        name,
        houseName: house.name,
        zone: house.zone,
        troubles: details,
        events: events.slice(0, MOST_NAMED),
        link: `${ownUrl(this.config)}/places`,
      };
      await this.post.write(manager, email, accountLetter(facts));
    }
  }
}

/** A consent belongs to the account, whatever the outlet. */
const wordsOf = ({ kind, name }: Check['detail']): string =>
  String(kind).startsWith('consent') ? String(kind) : `${kind} ${name}`;

/** Another trouble is another letter; the next event with the same is not. */
const keyOf = ({ details }: AccountTrouble): string =>
  details.map(wordsOf).toSorted().join(', ').slice(0, TOLD_LENGTH);
