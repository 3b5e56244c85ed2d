import {
  Controller,
  Get,
  HttpCode,
  Inject,
  Post,
  Req,
  Res,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import type { Request, Response } from 'express';
import { IMPORT_LIMITS, type ImportView } from '@heliphon/contracts/calendar-import';
import { publicUrlOf } from '../platform/public-url.js';
import { Ctx } from '../platform/access.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import type { Context } from '../platform/database.js';
import { Needs } from '../platform/need.js';
import { ProblemError } from '../platform/problems.js';
import { CalendarImportService } from './calendar-import.service.js';
import { CalendarsService } from './calendars.service.js';

const UPLOAD = { limits: { fileSize: IMPORT_LIMITS.bytes, files: 1 } };
type Upload = { readonly buffer: Buffer } | undefined;

/** The house's plan as a calendar file, out and in. */
@Controller('api/calendar')
export class HouseCalendarController {
  constructor(
    private readonly calendars: CalendarsService,
    private readonly imports: CalendarImportService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get()
  @Needs('events.read')
  async save(
    @Ctx() ctx: Context,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<string> {
    const text = await this.calendars.planOf(ctx.houseId, publicUrlOf(this.config, request));
    response
      .type('text/calendar; charset=utf-8')
      .set('Content-Disposition', 'attachment; filename="plan.ics"');
    return text;
  }

  @Post('preview')
  @HttpCode(200)
  @Needs('events.edit')
  @UseInterceptors(FileInterceptor('calendar', UPLOAD))
  preview(@Ctx() ctx: Context, @UploadedFile() file: Upload): Promise<ImportView> {
    return this.imports.preview(ctx, textOf(file));
  }

  @Post('import')
  @HttpCode(200)
  @Needs('events.edit')
  @UseInterceptors(FileInterceptor('calendar', UPLOAD))
  carryOut(@Ctx() ctx: Context, @UploadedFile() file: Upload): Promise<ImportView> {
    return this.imports.carryOut(ctx, textOf(file));
  }
}

function textOf(file: Upload): string {
  if (!file) throw new ProblemError(422, 'calendar-unreadable');
  return file.buffer.toString('utf8');
}
