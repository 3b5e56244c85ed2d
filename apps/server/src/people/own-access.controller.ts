import { Controller, Delete, Get, HttpCode, Post, Req } from '@nestjs/common';
import { CODE_RULE } from '@heliphon/core/access/token-bucket';
import type {
  MadeToken,
  MakeToken,
  SecondFactorOffer,
  SessionEntry,
  TokenEntry,
} from '@heliphon/contracts/people';
import { codeSchema, makeTokenSchema } from '@heliphon/contracts/people.schema';
import type { Page } from '@heliphon/contracts/problem';
import { type HeliphonRequest } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { Checked } from '../platform/joi-pipe.js';
import { Credentials } from './credentials.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { SecondFactor } from './second-factor.js';

/** What somebody does about their own access. Only from a session: a token must not make another. */
@Controller('api/own')
export class OwnAccessController {
  readonly #codes: Limiter;

  constructor(
    private readonly credentials: Credentials,
    private readonly secondFactor: SecondFactor,
    buckets: Buckets,
  ) {
    this.#codes = new Limiter(buckets, 'codes', CODE_RULE);
  }

  @Get('sessions')
  @Needs('own-session')
  async sessions(@Req() { signedIn }: HeliphonRequest): Promise<Page<SessionEntry>> {
    return { items: await this.credentials.sessionsOf(signedIn!), next: null };
  }

  @Delete('sessions/:id')
  @HttpCode(204)
  @Needs('own-session')
  endSession(@Req() { signedIn }: HeliphonRequest, @Id() id: string): Promise<void> {
    return this.credentials.end(signedIn!, 'session', id);
  }

  @Get('tokens')
  @Needs('own-session')
  async tokens(@Req() { signedIn }: HeliphonRequest): Promise<Page<TokenEntry>> {
    return { items: await this.credentials.tokensOf(signedIn!), next: null };
  }

  @Post('tokens')
  @Needs('own-session')
  makeToken(
    @Req() { signedIn }: HeliphonRequest,
    @Checked(makeTokenSchema) wish: MakeToken,
  ): Promise<MadeToken> {
    return this.credentials.makeToken(signedIn!, wish);
  }

  @Delete('tokens/:id')
  @HttpCode(204)
  @Needs('own-session')
  endToken(@Req() { signedIn }: HeliphonRequest, @Id() id: string): Promise<void> {
    return this.credentials.end(signedIn!, 'token', id);
  }

  @Post('second-factor')
  @HttpCode(200)
  @Needs('own-session')
  offer(@Req() { signedIn }: HeliphonRequest): Promise<SecondFactorOffer> {
    return this.secondFactor.offer(signedIn!.personId);
  }

  @Post('second-factor/confirm')
  @HttpCode(200)
  @Needs('own-session')
  async confirm(
    @Req() { signedIn }: HeliphonRequest,
    @Checked(codeSchema) { code }: { code: string },
  ): Promise<{ recoveryCodes: string[] }> {
    await this.#codes.require(signedIn!.personId, 'too-many-tries');
    return { recoveryCodes: await this.secondFactor.confirm(signedIn!.personId, code) };
  }

  @Post('second-factor/remove')
  @HttpCode(204)
  @Needs('own-session')
  async remove(
    @Req() { signedIn }: HeliphonRequest,
    @Checked(codeSchema) { code }: { code: string },
  ): Promise<void> {
    await this.#codes.require(signedIn!.personId, 'too-many-tries');
    return this.secondFactor.remove(signedIn!.personId, code);
  }
}
