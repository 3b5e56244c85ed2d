import { Controller, Delete, Get, Headers, HttpCode, Patch, StreamableFile } from '@nestjs/common';
import type { DeleteHouse, EditHouse, HouseView } from '@heliphon/contracts/house';
import { deleteHouseSchema, editHouseSchema } from '@heliphon/contracts/house.schema';
import { Posters } from '../events/posters.js';
import { FileFolders } from '../files/file-folders.js';
import { Ctx } from '../platform/access.js';
import { Needs } from '../platform/need.js';
import { type Context, Database } from '../platform/database.js';
import { Checked } from '../platform/joi-pipe.js';
import { ifMatch } from '../platform/query.js';
import { exportHouse } from './export-house.js';
import { HouseService } from './house.service.js';

@Controller('api/house')
export class HouseController {
  constructor(
    private readonly house: HouseService,
    private readonly database: Database,
    private readonly posters: Posters,
    private readonly folders: FileFolders,
  ) {}

  @Get()
  @Needs('house.read')
  get(@Ctx() ctx: Context): Promise<HouseView> {
    return this.house.get(ctx);
  }

  @Patch()
  @Needs('house.edit')
  edit(
    @Ctx() ctx: Context,
    @Headers('if-match') version: string | undefined,
    @Checked(editHouseSchema) change: EditHouse,
  ): Promise<HouseView> {
    return this.house.edit(ctx, ifMatch(version), change);
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
    return this.house.delete(ctx, wish);
  }
}
