import { Controller, Get, Patch } from '@nestjs/common';
import type { OwnLetters } from '@heliphon/contracts/people';
import { ownLettersSchema } from '@heliphon/contracts/people.schema';
import { Ctx } from '../platform/access.js';
import { type Context, Database } from '../platform/database.js';
import { MembershipEntity } from '../platform/entities.js';
import { Checked } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';

/** Which letters somebody wants of a house. */
@Controller('api/own/letters')
export class OwnLettersController {
  constructor(private readonly database: Database) {}

  @Get()
  @Needs('own-session')
  async read(@Ctx() ctx: Context): Promise<OwnLetters> {
    const row = await this.database.house(ctx).findOne(MembershipEntity, { personId: ctx.by });
    return { morning: row?.morningLetter ?? false };
  }

  @Patch()
  @Needs('own-session')
  async choose(@Ctx() ctx: Context, @Checked(ownLettersSchema) wish: OwnLetters): Promise<OwnLetters> {
    await this.database.transaction(ctx, async (scope) => {
      const row = await scope.lock(MembershipEntity, { personId: ctx.by }, 'person');
      await scope.save(Object.assign(row, { morningLetter: wish.morning }));
    });
    return wish;
  }
}
