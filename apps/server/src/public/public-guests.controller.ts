import { Controller, Headers, HttpCode, Injectable, Param, Post, Req } from '@nestjs/common';
import type { Request } from 'express';
import { OPENING_RULE } from '@heliphon/core/access/token-bucket';
import type { GuestView } from '@heliphon/contracts/send-tokens';
import { openGuestLinkSchema } from '@heliphon/contracts/send-tokens.schema';
import { isOver } from '../schedule/event-clash.js';
import { EventEntity } from '../tables/event.entity.js';
import { inheritLook } from '@heliphon/core/appearance/look';
import { levelsOfEvent, saidOf } from '../inherited/levels-of.js';
import { resolveLook } from '@heliphon/core/appearance/palette';
import { publicHouse } from '../house/public-house.js';
import { LiveFigures } from '../live/live-figures.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { MediaNodes } from '../nodes/media-nodes.js';
import { Clock } from '../platform/clock.js';
import { Database, systemContext } from '../platform/database.js';
import { HouseEntity } from '../platform/entities.js';
import { sha256Hex } from '../platform/ids.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { SendTokenEntity } from '../tables/send-token.entity.js';
import { SourceEntity } from '../tables/source.entity.js';

/** Opens guests' links: the first browser that does is the one that may send, and may come back. */
@Injectable()
export class PublicGuestsService {
  constructor(
    private readonly database: Database,
    private readonly figures: LiveFigures,
    private readonly clock: Clock,
    private readonly nodes: MediaNodes,
  ) {}

  /**
   * @param device - the browser's own secret, which it then shows to the media node.
   * @throws ProblemError 404 for an unknown link, 410 after its event or once it was withdrawn, 409 in a second browser.
   */
  async open(link: string, device: string, requestHost: string): Promise<GuestView> {
    const manager = this.database.installation;
    const line = await manager.findOneBy(SendTokenEntity, { linkSha256Hex: sha256Hex(link) });
    if (!line?.eventId) throw notFound('link');
    const event = await manager.findOneByOrFail(EventEntity, { id: line.eventId });
    if (line.withdrawnAtMs !== null) throw new ProblemError(410, 'guest-link-withdrawn');
    if (isOver(event)) throw new ProblemError(410, 'guest-link-over', { title: event.title });
    if (line.tokenSha256Hex === null) await this.#claim(line, device);
    else if (line.tokenSha256Hex !== sha256Hex(device)) throw new ProblemError(409, 'guest-link-elsewhere');
    const house = await manager.findOneByOrFail(HouseEntity, { id: event.houseId });
    const scope = this.database.house(systemContext(event.houseId, 'system'));
    const look = inheritLook(saidOf(await levelsOfEvent(scope, event), 'look')).value;
    const source = await manager.findOneByOrFail(SourceEntity, { id: line.sourceId });
    return {
      serverNowMs: this.clock.nowMs(),
      name: line.name,
      house: publicHouse(house),
      look: resolveLook(look),
      event: {
        slug: event.slug,
        title: event.title,
        state: event.state,
        startsAtMs: event.startsAtMs,
        zone: event.zone,
      },
      points: this.nodes.ways(source.nodeId, requestHost),
      isShown:
        event.state === 'air' &&
        event.sourceId === line.sourceId &&
        (this.figures.programmeOf(event)?.signal.present ?? false),
    };
  }

  /** The second to come, however closely, finds it taken. */
  async #claim({ houseId, id }: SendTokenEntity, device: string): Promise<void> {
    await this.database.transaction(systemContext(houseId, 'system'), async (scope) => {
      const line = await scope.lock(SendTokenEntity, { id }, 'line');
      if (line.tokenSha256Hex !== null) throw new ProblemError(409, 'guest-link-elsewhere');
      line.tokenSha256Hex = sha256Hex(device);
      line.claimedAtMs = this.clock.nowMs();
      await scope.save(line);
      const after = { lineId: id, name: line.name };
      await scope.happened({
        subjectKind: 'source',
        subjectId: line.sourceId,
        kind: 'guest-link-opened',
        after,
      });
    });
  }
}

/** What a guest's page asks for, again and again while it is open. */
@Controller('api/public/guests/:link')
export class PublicGuestsController {
  readonly #opening: Limiter;

  constructor(
    private readonly guests: PublicGuestsService,
    buckets: Buckets,
  ) {
    this.#opening = new Limiter(buckets, 'guest links', OPENING_RULE);
  }

  @Post('open')
  @HttpCode(200)
  @Needs('public')
  async open(
    @Param('link') link: string,
    @Checked(openGuestLinkSchema) { device }: { device: string },
    @Headers('host') host: string,
    @Req() request: Request,
  ): Promise<GuestView> {
    await this.#opening.require(request.ip ?? '', 'too-many-tries');
    return this.guests.open(link, device, host);
  }
}
