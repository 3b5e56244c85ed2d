import { Injectable } from '@nestjs/common';
import type { Request } from 'express';
import { publicUrlOf } from '../platform/public-url.js';
import type { ServerConfig } from '../platform/config.js';
import { Clock } from '../platform/clock.js';
import { Database } from '../platform/database.js';
import { WebsiteSightings } from '../websites/website-sightings.js';
import { PublicEventsService } from './public-events.service.js';

/** Notices that a house's page or player has been put on its website: once, by the host that leads to it. */
@Injectable()
export class SiteSightings {
  /** Houses for which it is known; asked of the database once. */
  readonly #seen = new Set<string>();

  constructor(
    private readonly events: PublicEventsService,
    private readonly database: Database,
    private readonly clock: Clock,
    private readonly websites: WebsiteSightings,
  ) {}

  /** A page was asked for. Whatever goes wrong here, the page is answered all the same. */
  async note(slug: string, request: Request, config: ServerConfig, isEmbed: boolean): Promise<void> {
    const { referer } = request.headers;
    if (!referer || !URL.canParse(referer)) return;
    const { host } = new URL(referer);
    if (!host || host === request.headers.host || host === new URL(publicUrlOf(config, request)).host) return;
    const { house, address } = await this.events.find(slug);
    if (isEmbed)
      await this.websites.saw(
        house.id,
        address.kind === 'clip' ? 'event' : address.kind,
        address.targetId,
        host.slice(0, 255),
      );
    if (this.#seen.has(house.id)) return;
    await this.database.installation.query(
      'UPDATE houses SET site_seen_at = ?, site_host = ? WHERE id = ? AND site_seen_at IS NULL',
      [new Date(this.clock.nowMs()), host.slice(0, 255), house.id],
    );
    this.#seen.add(house.id);
  }
}
