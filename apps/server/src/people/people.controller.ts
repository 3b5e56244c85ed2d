import { Controller, Delete, Get, HttpCode, Inject, Param, Patch, Post, Req } from '@nestjs/common';
import { INVITING_RULE } from '@heliphon/core/access/token-bucket';
import type {
  AcceptInvitation,
  EditPerson,
  InvitationView,
  InvitePerson,
  OpenedInvitation,
  PersonView,
} from '@heliphon/contracts/people';
import {
  acceptInvitationSchema,
  editPersonSchema,
  forgottenSchema,
  invitePersonSchema,
} from '@heliphon/contracts/people.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx, type HeliphonRequest } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import type { Context } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { InvitationsService } from './invitations.service.js';
import { Buckets, Limiter } from '../platform/shared/limits.js';
import { PeopleService } from './people.service.js';
import { letterUrlOf } from '../platform/public-url.js';

@Controller('api')
export class PeopleController {
  readonly #letters: Limiter;

  constructor(
    private readonly people: PeopleService,
    private readonly invitations: InvitationsService,
    @Inject(CONFIG) private readonly config: ServerConfig,
    buckets: Buckets,
  ) {
    this.#letters = new Limiter(buckets, 'letters', INVITING_RULE);
  }

  @Get('people')
  @Needs('people.read')
  async list(@Ctx() ctx: Context): Promise<Page<PersonView>> {
    return { items: await this.people.list(ctx), next: null };
  }

  @Patch('people/:id')
  @Needs('people.edit')
  edit(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Checked(editPersonSchema) { roles }: EditPerson,
  ): Promise<PersonView> {
    return this.people.setRoles(ctx, id, roles);
  }

  @Delete('people/:id')
  @HttpCode(204)
  @Needs('people.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.people.remove(ctx, id);
  }

  @Get('invitations')
  @Needs('people.edit')
  async pending(@Ctx() ctx: Context): Promise<Page<InvitationView>> {
    return { items: await this.invitations.pending(ctx), next: null };
  }

  @Post('invitations')
  @HttpCode(204)
  @Needs('people.edit')
  async invite(
    @Ctx() ctx: Context,
    @Checked(invitePersonSchema) wish: InvitePerson,
    @Req() request: HeliphonRequest,
  ): Promise<void> {
    await this.#letters.require(`invite ${ctx.houseId}`, 'too-many-letters');
    await this.invitations.invite(ctx, wish, letterUrlOf(this.config, request));
  }

  @Delete('invitations/:id')
  @HttpCode(204)
  @Needs('people.edit')
  withdraw(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.invitations.withdraw(ctx, id);
  }

  /** Always the same answer: it does not tell who has an account. */
  @Post('password/forgotten')
  @HttpCode(204)
  @Needs('public')
  async forgotten(
    @Checked(forgottenSchema) { email }: { email: string },
    @Req() request: HeliphonRequest,
  ): Promise<void> {
    await this.#letters.require(`forgotten ${request.ip}`, 'too-many-letters');
    return this.invitations.forgotten(email, letterUrlOf(this.config, request));
  }

  @Get('welcome/:secret')
  @Needs('public')
  open(@Param('secret') secret: string): Promise<OpenedInvitation> {
    return this.invitations.open(secret);
  }

  @Post('welcome/:secret')
  @HttpCode(204)
  @Needs('public')
  accept(
    @Param('secret') secret: string,
    @Checked(acceptInvitationSchema) wish: AcceptInvitation,
  ): Promise<void> {
    return this.invitations.accept(secret, wish);
  }
}
