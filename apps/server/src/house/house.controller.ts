import { Controller, Delete, Get, HttpCode, Patch, StreamableFile } from '@nestjs/common';
import type { FirstServiceView } from '@heliphon/contracts/first-service';
import type { DeleteHouse, EditHouse, HouseView } from '@heliphon/contracts/house';
import { deleteHouseSchema, editHouseSchema } from '@heliphon/contracts/house.schema';
import { Posters } from '../files/posters.js';
import { FileFolders } from '../files/file-folders.js';
import { Ctx } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { KnownVersion } from '../platform/parameters.js';
import { type Context, Database } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { FirstService } from './first-service.js';
import { exportHouse } from './export-house.js';
import { HouseDeletion } from './house-deletion.js';
import { HouseService } from './house.service.js';

@Controller('api/house')
export class HouseController {
  constructor(
    private readonly house: HouseService,
    private readonly first: FirstService,
    private readonly deletion: HouseDeletion,
    private readonly database: Database,
    private readonly posters: Posters,
    private readonly folders: FileFolders,
  ) {}

  @Get()
  @Needs('house.read')
  get(@Ctx() ctx: Context): Promise<HouseView> {
    return this.house.get(ctx);
  }

  /** For those who can do all of it; it names who was invited. */
  @Get('first-service')
  @Needs('people.edit')
  firstService(@Ctx() ctx: Context): Promise<FirstServiceView> {
    return this.first.get(ctx);
  }

  @Patch()
  @Needs('house.edit')
  edit(
    @Ctx() ctx: Context,
    @KnownVersion() version: number,
    @Checked(editHouseSchema) change: EditHouse,
  ): Promise<HouseView> {
    return this.house.edit(ctx, version, change);
  }

  @Get('export')
  @Needs('house.edit')
  export(@Ctx() ctx: Context): StreamableFile {
    const zip = exportHouse(this.database.installation, ctx.houseId, this.posters.folder, this.folders);
    return new StreamableFile(zip, {
      type: 'application/zip',
      disposition: 'attachment; filename="house.zip"',
    });
  }

  @Delete()
  @HttpCode(204)
  @Needs('house.edit')
  delete(@Ctx() ctx: Context, @Checked(deleteHouseSchema) wish: DeleteHouse): Promise<void> {
    return this.deletion.delete(ctx, wish);
  }
}
