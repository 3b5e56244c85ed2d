import { Inject, Injectable } from '@nestjs/common';
import { type EntityManager, In } from 'typeorm';
import { inheritWatchRules } from '@heliphon/core/access/watch-rules';
import type { BucketRule } from '@heliphon/core/access/token-bucket';
import { judgePage } from '@heliphon/core/websites/judge-page';
import type { ShownLevel, WebsiteFinding, WebsitesView, WebsiteView } from '@heliphon/contracts/websites';
import { readForeign } from '../foreign/read-foreign.js';
import { saidOf } from '../inherited/levels-of.js';
import { placed, readLevel } from '../inherited/said-document.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Clock } from '../platform/clock.js';
import { type Context, Database, type HouseScope } from '../platform/database.js';
import { AddressEntity, HouseEntity } from '../platform/entities.js';
import { newId } from '../platform/ids.js';
import { ProblemError } from '../platform/problems.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { EventEntity } from '../tables/event.entity.js';
import { WebsiteEntity } from '../tables/website.entity.js';
import { fetchPage } from './fetch-page.js';

/** Pages of others that one house may have looked at. */
const CHECKING_RULE: BucketRule = { burst: 20, everyMs: 10_000 };
const MOST_LISTED = 200;
const VIEWERS_BACK_MS = 90 * 24 * 3_600_000;

type Row = Exclude<Awaited<ReturnType<typeof readLevel>>, HouseEntity>;

/** On which websites something of a house stands, and whether it shows there. */
@Injectable()
export class WebsitesService {
  readonly #checking: Limiter;

  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
    buckets: Buckets,
  ) {
    this.#checking = new Limiter(buckets, 'website checks', CHECKING_RULE);
  }

  async list(ctx: Context, level: ShownLevel, id: string): Promise<WebsitesView> {
    const scope = this.database.house(ctx);
    return this.#view(scope, level, await rowOf(scope, level, id));
  }

  /** Looks whether a page shows it, and keeps the page in view from then on. */
  async check(
    ctx: Context,
    level: ShownLevel,
    id: string,
    address: string,
    publicUrl: string,
  ): Promise<WebsitesView> {
    const scope = this.database.house(ctx);
    const row = await rowOf(scope, level, id);
    await this.#checking.require(ctx.houseId, 'website-checks-too-many');
    const finding = await this.look(scope, row, address, publicUrl);
    await this.#keep(scope, level, id, address, finding);
    return this.#view(scope, level, row);
  }

  /** It is looked at no more; an embed that is opened there brings it back. */
  async forget(ctx: Context, level: ShownLevel, id: string, websiteId: string): Promise<WebsitesView> {
    const scope = this.database.house(ctx);
    const row = await rowOf(scope, level, id);
    await scope.remove(WebsiteEntity, { id: websiteId, subjectId: id });
    return this.#view(scope, level, row);
  }

  /** What a page of a website has of it. */
  async look(scope: HouseScope, row: Row, address: string, publicUrl: string): Promise<WebsiteFinding> {
    const fetched = await fetchPage(address, this.config.innerWebsites);
    if (typeof fetched === 'string') return { kind: 'unread', why: fetched };
    try {
      const { levels } = await placed(scope, row);
      return judgePage({
        page: await readForeign({ kind: 'page', text: fetched.html }),
        pageAddress: fetched.address,
        policy: fetched.policy,
        origin: new URL(publicUrl).origin,
        slugs: await this.#slugsOf(row),
        sites: inheritWatchRules(saidOf(levels, 'watching')).value.sites,
      });
    } catch (error) {
      if (error instanceof ProblemError) return { kind: 'unread', why: 'too-large' };
      throw error;
    }
  }

  async #keep(
    scope: HouseScope,
    level: ShownLevel,
    subjectId: string,
    address: string,
    finding: WebsiteFinding,
  ): Promise<void> {
    const { host } = new URL(address);
    const seen = { address, finding, checkedAtMs: this.clock.nowMs(), goneSinceMs: null, toldGoneAtMs: null };
    const known = await scope.findOne(WebsiteEntity, { subjectId, host });
    if (known) await scope.save(Object.assign(known, seen));
    else await scope.add(WebsiteEntity, { id: newId(), level, subjectId, host, seenAtMs: null, ...seen });
  }

  async #view(scope: HouseScope, level: ShownLevel, row: Row): Promise<WebsitesView> {
    const { name, levels } = await placed(scope, row);
    const [websites, viewers] = await Promise.all([
      scope.find(WebsiteEntity, {
        where: { subjectId: row.id },
        order: { seenAtMs: 'DESC', id: 'ASC' },
        take: MOST_LISTED,
      }),
      this.#viewersAt(this.database.installation, level, row),
    ]);
    return {
      id: row.id,
      level,
      name,
      slug: row.slug,
      sites: inheritWatchRules(saidOf(levels, 'watching')).value.sites,
      websites: websites.map((website) => view(website, viewers.get(website.host) ?? 0)),
    };
  }

  /** How many watched at each website at once, at most. */
  async #viewersAt(
    manager: EntityManager,
    level: ShownLevel,
    { houseId, id }: Row,
  ): Promise<ReadonlyMap<string, number>> {
    const column = { event: 'id', series: 'series_id', channel: 'channel_id' }[level];
    const rows: { place: string; most: number }[] = await manager.query(
      `SELECT place, MAX(most) most FROM event_viewers
        WHERE house_id = ? AND place LIKE 'site %' AND event_id IN
          (SELECT id FROM events WHERE house_id = ? AND ${column} = ? AND starts_at > ?)
        GROUP BY place`,
      [houseId, houseId, id, new Date(this.clock.nowMs() - VIEWERS_BACK_MS)],
    );
    return new Map(rows.map(({ place, most }) => [place.slice('site '.length), most]));
  }

  /** Addresses that show it: its own, those it once had, and of an event also those of its series and channel. */
  async #slugsOf(row: Row): Promise<ReadonlySet<string>> {
    const above = row instanceof EventEntity ? [row.seriesId, row.channelId] : [];
    const targets = [row.id, ...above].filter((id) => id !== null);
    const addresses = await this.database.installation.findBy(AddressEntity, {
      houseId: row.houseId,
      targetId: In(targets),
    });
    return new Set(addresses.map(({ slug }) => slug));
  }
}

export const rowOf = async (scope: HouseScope, level: ShownLevel, id: string): Promise<Row> =>
  (await readLevel(scope, level, id)) as Row;

const view = (
  { id, host, address, finding, checkedAtMs, seenAtMs }: WebsiteEntity,
  mostViewers: number,
): WebsiteView => ({ id, host, address, finding, checkedAtMs, seenAtMs, mostViewers });
