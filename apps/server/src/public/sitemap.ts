import { Injectable } from '@nestjs/common';
import { IsNull } from 'typeorm';
import { escaped } from '@heliphon/core/delivery/embed-code';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { ChannelEntity } from '../tables/channel.entity.js';
import { EventEntity } from '../tables/event.entity.js';
import { listedOnly } from './listed-only.js';

const KEPT_MS = 3_600_000;
/** Of one house; the protocol allows fifty thousand in all. */
const MOST_EVENTS = 500;
const MOST = 50_000;

/** What search engines are told of: pages that anybody may come across (sitemaps.org 0.9). Made once an hour. */
@Injectable()
export class Sitemap {
  #made: { readonly atMs: number; readonly paths: Promise<readonly string[]> } | null = null;

  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  async text(publicUrl: string): Promise<string> {
    const nowMs = this.clock.nowMs();
    if (!this.#made || nowMs - this.#made.atMs > KEPT_MS) this.#made = { atMs: nowMs, paths: this.#paths() };
    const urls = (await this.#made.paths).map((path) => `<url><loc>${escaped(publicUrl + path)}</loc></url>`);
    return [
      '<?xml version="1.0" encoding="UTF-8"?>',
      '<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">',
      ...urls,
      '</urlset>',
    ].join('\n');
  }

  async #paths(): Promise<readonly string[]> {
    const houses = await this.database.installation.find(HouseEntity, { select: { id: true } });
    const paths: string[] = [];
    for (const { id } of houses) {
      if (paths.length >= MOST) break;
      paths.push(...(await this.#pathsOf(id)));
    }
    return paths.slice(0, MOST);
  }

  async #pathsOf(houseId: string): Promise<string[]> {
    const scope = this.database.house(systemContext(houseId, 'system'));
    const isListed = await listedOnly(scope);
    const [channels, events] = await Promise.all([
      scope.find(ChannelEntity),
      scope.find(EventEntity, {
        where: { isDraft: false, rehearsalOf: IsNull() },
        order: { startsAtMs: 'DESC' },
        take: MOST_EVENTS,
      }),
    ]);
    return [
      ...channels.map(({ slug }) => `/channel/${slug}`),
      ...events
        .filter((event) => isListed(event, event.state === 'kept' ? 'replay' : 'live'))
        .map(({ slug }) => `/watch/${slug}`),
    ];
  }
}
