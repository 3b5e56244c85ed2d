import { Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import type { MoveOrder, OrderView, WriteOrder } from '@heliphon/contracts/order';
import { moveOrderSchema, writeOrderSchema } from '@heliphon/contracts/order.schema';
import { Ctx } from '../platform/access.js';
import type { Context } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id, KnownVersion } from '../platform/parameters.js';
import { OrderService } from './order.service.js';

/** Order sheets of events and series. */
@Controller('api')
export class OrderController {
  constructor(private readonly order: OrderService) {}

  @Get('events/:id/order')
  @Needs('events.read')
  ofEvent(@Ctx() ctx: Context, @Id() id: string): Promise<OrderView> {
    return this.order.ofEvent(ctx, id);
  }

  @Put('events/:id/order')
  @Needs('events.edit')
  writeForEvent(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(writeOrderSchema) wish: WriteOrder,
  ): Promise<OrderView> {
    return this.order.writeForEvent(ctx, id, version, wish);
  }

  @Delete('events/:id/order')
  @HttpCode(200)
  @Needs('events.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<OrderView> {
    return this.order.remove(ctx, id);
  }

  @Post('events/:id/order/present')
  @HttpCode(200)
  @Needs('events.move')
  move(@Ctx() ctx: Context, @Id() id: string, @Checked(moveOrderSchema) wish: MoveOrder): Promise<OrderView> {
    return this.order.move(ctx, id, wish);
  }

  @Get('series/:id/order')
  @Needs('events.read')
  ofSeries(@Ctx() ctx: Context, @Id() id: string): Promise<OrderView> {
    return this.order.ofSeries(ctx, id);
  }

  @Put('series/:id/order')
  @Needs('events.edit')
  writeForSeries(
    @Ctx() ctx: Context,
    @Id() id: string,
    @KnownVersion() version: number,
    @Checked(writeOrderSchema) wish: WriteOrder,
  ): Promise<OrderView> {
    return this.order.writeForSeries(ctx, id, version, wish);
  }
}
