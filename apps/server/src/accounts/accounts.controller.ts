import { Controller, Get, HttpCode, Param, ParseUUIDPipe, Patch, Post } from '@nestjs/common';
import type {
  AccountUses,
  AccountView,
  BeginLink,
  ChooseOutlet,
  ConsentAddress,
  FinishLink,
  OutletsQuery,
  OutletView,
  PlatformView,
  Unlink,
} from '@heliphon/contracts/accounts';
import {
  beginLinkSchema,
  chooseOutletSchema,
  finishLinkSchema,
  outletsQuerySchema,
  unlinkSchema,
} from '@heliphon/contracts/accounts.schema';
import type { Page } from '@heliphon/contracts/problem';
import { Ctx } from '../platform/access.js';
import type { Context, PageWish } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Filter, Id, Paging } from '../platform/parameters.js';
import { AccountsService } from './accounts.service.js';
import { LinkingService } from './linking.service.js';
import { UnlinkingService } from './unlinking.service.js';

/** Accounts at platforms of others. */
@Controller('api/accounts')
export class AccountsController {
  constructor(
    private readonly accounts: AccountsService,
    private readonly linking: LinkingService,
    private readonly unlinking: UnlinkingService,
  ) {}

  @Get()
  @Needs('destinations.read')
  list(@Ctx() ctx: Context, @Paging() page: PageWish): Promise<Page<AccountView>> {
    return this.accounts.list(ctx, page);
  }

  @Get('platforms')
  @Needs('destinations.read')
  platforms(): { items: readonly PlatformView[] } {
    return { items: this.accounts.platforms() };
  }

  @Post('consents')
  @Needs('destinations.edit')
  begin(@Ctx() ctx: Context, @Checked(beginLinkSchema) wish: BeginLink): Promise<ConsentAddress> {
    return this.linking.begin(ctx, wish);
  }

  @Post()
  @Needs('destinations.edit')
  async finish(@Ctx() ctx: Context, @Checked(finishLinkSchema) wish: FinishLink): Promise<{ id: string }> {
    return { id: await this.linking.finish(ctx, wish) };
  }

  @Get(':id/outlets')
  @Needs('destinations.read')
  outlets(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Paging() page: PageWish,
    @Filter(outletsQuerySchema) { named = '' }: OutletsQuery,
  ): Promise<Page<OutletView>> {
    return this.accounts.outlets(ctx, id, named, page);
  }

  @Post(':id/look')
  @HttpCode(200)
  @Needs('destinations.edit')
  look(@Ctx() ctx: Context, @Id() id: string): Promise<AccountView> {
    return this.accounts.look(ctx, id);
  }

  @Patch(':id/outlets/:outletId')
  @Needs('destinations.edit')
  choose(
    @Ctx() ctx: Context,
    @Id() id: string,
    @Param('outletId', ParseUUIDPipe) outletId: string,
    @Checked(chooseOutletSchema) wish: ChooseOutlet,
  ): Promise<OutletView> {
    return this.accounts.choose(ctx, id, outletId, wish);
  }

  @Get(':id/uses')
  @Needs('destinations.read')
  uses(@Ctx() ctx: Context, @Id() id: string): Promise<AccountUses> {
    return this.unlinking.uses(ctx, id);
  }

  @Post(':id/unlink')
  @HttpCode(204)
  @Needs('destinations.edit')
  unlink(@Ctx() ctx: Context, @Id() id: string, @Checked(unlinkSchema) wish: Unlink): Promise<void> {
    return this.unlinking.unlink(ctx, id, wish);
  }
}
