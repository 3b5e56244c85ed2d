import { Inject, Injectable } from '@nestjs/common';
import { In, IsNull, LessThan, Not } from 'typeorm';
import { can } from '@heliphon/core/access/capabilities';
import { PostOffice } from '../letters/post-office.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database, type HouseScope, systemContext } from '../platform/database.js';
import { HouseEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { ProblemError } from '../platform/problems.js';
import { ownUrl } from '../platform/public-url.js';
import { RepeatedWork } from '../platform/repeated-work.js';
import { WebsiteEntity } from '../tables/website.entity.js';
import { goneLetter } from './gone-letter-text.js';
import { placed } from '../inherited/said-document.js';
import { rowOf, WebsitesService } from './websites.service.js';

const EVERY_MS = 60_000;
const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** By night, when nobody waits for either of us: in the house's own hours. */
const NIGHT = { fromHour: 2, toHour: 5 } as const;
/** A website that is away for a moment is looked at again before anybody is written to. */
const AGAIN_MS = 20 * 60_000;
const AT_ONCE = 20;

/** Looks every night at the pages that once showed something of ours, and writes when it has gone. */
@Injectable()
export class WebsiteWatch extends RepeatedWork {
  protected readonly everyMs = EVERY_MS;
  protected readonly fault = 'Websites are not looked at';

  constructor(
    private readonly database: Database,
    private readonly websites: WebsitesService,
    private readonly post: PostOffice,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {
    super();
  }

  async work(): Promise<void> {
    const nowMs = this.clock.nowMs();
    const manager = this.database.installation;
    const watched = { address: Not(IsNull()), toldGoneAtMs: IsNull() };
    const due = await manager.find(WebsiteEntity, {
      where: [
        { ...watched, goneSinceMs: IsNull(), checkedAtMs: LessThan(nowMs - DAY_MS + HOUR_MS) },
        { ...watched, goneSinceMs: Not(IsNull()), checkedAtMs: LessThan(nowMs - AGAIN_MS) },
      ],
      order: { checkedAtMs: 'ASC' },
      take: AT_ONCE * 5,
    });
    const zones = await this.#zonesOf(due);
    const now = due.filter((row) => row.goneSinceMs !== null || isNight(nowMs, zones.get(row.houseId)!));
    await this.eachOf(now.slice(0, AT_ONCE), (row) => this.#look(row));
  }

  async #zonesOf(rows: readonly WebsiteEntity[]): Promise<ReadonlyMap<string, string>> {
    const id = In([...new Set(rows.map(({ houseId }) => houseId))]);
    const houses = await this.database.installation.find(HouseEntity, {
      where: { id },
      select: { id: true, zone: true },
    });
    return new Map(houses.map((house) => [house.id, house.zone]));
  }

  async #look(website: WebsiteEntity): Promise<void> {
    const { houseId, level, subjectId, finding: before } = website;
    const ctx = systemContext(houseId, 'system');
    const scope = this.database.house(ctx);
    const row = await rowOf(scope, level, subjectId).catch((error: unknown) => {
      if (error instanceof ProblemError) return null;
      throw error;
    });
    // Deleted meanwhile, with everything that stood on its page.
    if (!row) return scope.remove(WebsiteEntity, { id: website.id });
    const finding = await this.websites.look(scope, row, website.address!, ownUrl(this.config));
    const checkedAtMs = this.clock.nowMs();
    const wasThere = before?.kind === 'shows' || website.goneSinceMs !== null;
    const isGone = wasThere && finding.kind !== 'shows';
    const { goneSinceMs } = website;
    // What it showed last is kept until it is certain that it has gone.
    if (isGone && goneSinceMs === null) {
      await scope.save(Object.assign(website, { checkedAtMs, goneSinceMs: checkedAtMs }));
      return;
    }
    const toldGoneAtMs = isGone ? checkedAtMs : null;
    await scope.save(
      Object.assign(website, {
        finding,
        checkedAtMs,
        goneSinceMs: isGone ? goneSinceMs : null,
        toldGoneAtMs,
      }),
    );
    if (isGone) await this.#write(scope, website, (await placed(scope, row)).name);
  }

  async #write(scope: HouseScope, { level, subjectId, address }: WebsiteEntity, what: string): Promise<void> {
    await this.database.inHouse(scope.ctx, async (inside, manager) => {
      const house = await inside.ownHouse();
      const members = await inside.find(MembershipEntity, {});
      const ids = members.filter(({ roles }) => can(roles, 'events.edit')).map(({ personId }) => personId);
      for (const { name, email } of await manager.findBy(PersonEntity, { id: In(ids) })) {
        const link = `${ownUrl(this.config)}/websites/${level}/${subjectId}`;
        const facts = { name, what, houseName: house.name, address: address!, link };
        await this.post.write(manager, email, goneLetter(facts));
      }
    });
  }
}

function isNight(atMs: number, zone: string): boolean {
  const hour = Number(
    new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: 'numeric', hourCycle: 'h23' }).format(atMs),
  );
  return hour >= NIGHT.fromHour && hour < NIGHT.toHour;
}
