import { Controller, Delete, Get, HttpCode, Inject, Post, Req, Res } from '@nestjs/common';
import { verify } from '@node-rs/argon2';
import { serialize } from 'cookie';
import type { Response } from 'express';
import { In } from 'typeorm';
import { CAPABILITY_ROLES, can, type Capability } from '@heliphon/core/access/capabilities';
import { CODE_RULE } from '@heliphon/core/access/token-bucket';
import type { SessionView, SignIn } from '@heliphon/contracts/house';
import { signInSchema, switchHouseSchema } from '@heliphon/contracts/people.schema';
import { type HeliphonRequest } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { Clock } from '../platform/clock.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { HouseEntity, MembershipEntity, PersonEntity } from '../platform/entities.js';
import { Checked } from '../platform/joi-pipe.js';
import { notFound, ProblemError } from '../platform/problems.js';
import { Credentials, SESSION_LIFE_MS } from './credentials.js';
import type { SignedIn } from '../platform/signed-in.js';
import { deviceWords } from './device-words.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { SignInLimits } from './sign-in-limits.js';
import { SecondFactor } from './second-factor.js';

/** Verified where nobody has the address, so that the time taken does not tell who has an account. */
const NOBODYS_HASH =
  '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$2TJnMOVi7Qb3LOJmEVtHqB5pDIfLNiPzJ8zQ+cFh0mM';

@Controller('api/session')
export class SessionController {
  readonly #tries: SignInLimits;
  readonly #codes: Limiter;

  constructor(
    private readonly database: Database,
    private readonly credentials: Credentials,
    private readonly secondFactor: SecondFactor,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: ServerConfig,
    buckets: Buckets,
  ) {
    this.#tries = new SignInLimits(buckets);
    this.#codes = new Limiter(buckets, 'sign-in codes', CODE_RULE);
  }

  @Post()
  @HttpCode(200)
  @Needs('public')
  async signIn(
    @Checked(signInSchema) { email, password, code }: SignIn,
    @Req() request: HeliphonRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SessionView> {
    const wrong = await this.#tries.begin(email, request.ip ?? '');
    const manager = this.database.installation;
    const person = await manager.findOneBy(PersonEntity, { email });
    const isRight = await verify(person?.passwordHash ?? NOBODYS_HASH, password).catch(() => false);
    const [membership] =
      person && isRight ? await manager.findBy(MembershipEntity, { personId: person.id }) : [];
    if (!person || !membership) throw new ProblemError(401, 'wrong-sign-in');
    if (person.totpSinceMs !== null) {
      if (code === undefined) throw new ProblemError(401, 'second-factor-needed');
      await this.#codes.require(person.id, 'too-many-tries');
      if (!(await this.secondFactor.check(person, code))) throw new ProblemError(401, 'second-factor-wrong');
    }
    await wrong.wasRight();
    await this.#codes.forget(person.id);
    return this.#begin(person, membership, request, response);
  }

  /** Goes on in another house of the same person. */
  @Post('house')
  @HttpCode(200)
  @Needs('own-session')
  async switchHouse(
    @Checked(switchHouseSchema) { houseId }: { houseId: string },
    @Req() request: HeliphonRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SessionView> {
    const { personId, credentialId } = request.signedIn!;
    const manager = this.database.installation;
    const membership = await manager.findOneBy(MembershipEntity, { personId, houseId });
    if (!membership) throw notFound('house');
    const person = await manager.findOneByOrFail(PersonEntity, { id: personId });
    await this.credentials.revoke(credentialId);
    return this.#begin(person, membership, request, response);
  }

  @Get()
  @Needs('signed-in')
  show(@Req() request: HeliphonRequest): Promise<SessionView> {
    return this.#view(request.signedIn!);
  }

  @Delete()
  @HttpCode(204)
  @Needs('signed-in')
  async signOut(
    @Req() request: HeliphonRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    await this.credentials.revoke(request.signedIn!.credentialId);
    response.setHeader('Set-Cookie', this.#cookie('', 0));
  }

  async #begin(
    person: PersonEntity,
    { houseId, roles }: MembershipEntity,
    request: HeliphonRequest,
    response: Response,
  ): Promise<SessionView> {
    const device = deviceWords(request.headers['user-agent'] ?? '');
    const secret = await this.credentials.issue('session', person.id, houseId, 'Browser', { device });
    response.setHeader('Set-Cookie', this.#cookie(secret, SESSION_LIFE_MS / 1000));
    return this.#view({
      kind: 'session',
      credentialId: '',
      personId: person.id,
      personName: person.name,
      email: person.email,
      houseId,
      roles,
      scopes: null,
    });
  }

  #cookie(value: string, maxAge: number): string {
    const secure = this.config.publicUrl?.startsWith('https:') ?? false;
    return serialize(this.credentials.cookieName, value, {
      httpOnly: true,
      sameSite: 'lax',
      path: '/',
      secure,
      maxAge,
    });
  }

  async #view(signedIn: SignedIn): Promise<SessionView> {
    const manager = this.database.installation;
    const { personId, houseId } = signedIn;
    const [house, person, memberships] = await Promise.all([
      manager.findOneByOrFail(HouseEntity, { id: houseId }),
      manager.findOneByOrFail(PersonEntity, { id: personId }),
      manager.findBy(MembershipEntity, { personId }),
    ]);
    const houses = await manager.findBy(HouseEntity, { id: In(memberships.map((m) => m.houseId)) });
    const capabilities = (Object.keys(CAPABILITY_ROLES) as Capability[]).filter((name) =>
      can(signedIn.roles, name),
    );
    return {
      person: { id: signedIn.personId, name: signedIn.personName, email: signedIn.email },
      house: { id: house.id, name: house.name, zone: house.zone },
      houses: houses.map(({ id, name }) => ({ id, name })),
      hasSecondFactor: person.totpSinceMs !== null,
      roles: signedIn.roles,
      capabilities,
      serverNowMs: this.clock.nowMs(),
    };
  }
}
