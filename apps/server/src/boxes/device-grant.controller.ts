import { Controller, HttpCode, Inject, Post, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { PAIRING_RULE } from '@heliphon/core/access/token-bucket';
import type { DeviceAuthorization } from '@heliphon/contracts/boxes';
import { DEVICE_GRANT, deviceAuthorizationSchema, deviceTokenSchema } from '@heliphon/contracts/boxes.schema';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { publicUrlOf } from '../platform/public-url.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { PairingsService } from './pairings.service.js';

/** The two ends that an encoder box speaks to (RFC 8628): forms in, JSON out, errors as RFC 6749, 5.2 has them. */
@Controller('api/device')
export class DeviceGrantController {
  readonly #beginning: Limiter;

  constructor(
    private readonly pairings: PairingsService,
    @Inject(CONFIG) private readonly config: ServerConfig,
    buckets: Buckets,
  ) {
    this.#beginning = new Limiter(buckets, 'pairings', PAIRING_RULE);
  }

  @Post('authorize')
  @HttpCode(200)
  @Needs('public')
  async begin(
    @Checked(deviceAuthorizationSchema) wish: { client_id: string },
    @Req() request: Request,
  ): Promise<DeviceAuthorization> {
    await this.#beginning.require(request.ip ?? '', 'too-many-tries');
    return this.pairings.begin(wish.client_id, publicUrlOf(this.config, request));
  }

  @Post('token')
  @Needs('public')
  async token(
    @Checked(deviceTokenSchema) wish: { grant_type: string; device_code: string },
    @Res() response: Response,
  ): Promise<void> {
    response.set('Cache-Control', 'no-store');
    if (wish.grant_type !== DEVICE_GRANT)
      return void response.status(400).json({ error: 'unsupported_grant_type' });
    const answer = await this.pairings.ask(wish.device_code);
    if (answer.answer !== 'granted') return void response.status(400).json({ error: answer.answer });
    response.status(200).json({ access_token: answer.token, token_type: 'Bearer' });
  }
}
