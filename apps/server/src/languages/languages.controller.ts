import { Controller, Delete, Get, HttpCode, Param, Post, Put, Res } from '@nestjs/common';
import type { Response } from 'express';
import type { SpokenLanguage } from '@heliphon/core/languages/words';
import type { LanguagesView, LanguageView, TriedLanguage } from '@heliphon/contracts/languages';
import { languageFileSchema, languageTagSchema } from '@heliphon/contracts/languages.schema';
import { Ctx } from '../platform/access.js';
import type { Context } from '../platform/database.js';
import { Checked, JoiPipe } from '../platform/joi-pipe.js';
import { Needs } from '../platform/need.js';
import { Id } from '../platform/parameters.js';
import { LanguagesService } from './languages.service.js';

const Tag = (): ParameterDecorator => Param('tag', new JoiPipe(languageTagSchema));

@Controller('api/languages')
export class LanguagesController {
  constructor(private readonly languages: LanguagesService) {}

  @Get()
  @Needs('house.read')
  list(@Ctx() ctx: Context): Promise<LanguagesView> {
    return this.languages.list(ctx);
  }

  @Post('try')
  @HttpCode(200)
  @Needs('house.edit')
  tryOut(@Checked(languageFileSchema) file: object): TriedLanguage {
    return this.languages.tryOut(file);
  }

  @Put()
  @Needs('house.edit')
  keep(@Ctx() ctx: Context, @Checked(languageFileSchema) file: object): Promise<LanguageView> {
    return this.languages.keep(ctx, file);
  }

  @Get('files/:tag')
  @Needs('house.read')
  async file(@Ctx() ctx: Context, @Tag() tag: string, @Res() response: Response): Promise<void> {
    const file = await this.languages.file(ctx, tag);
    response
      .type('application/json')
      .attachment(`${tag}.language.json`)
      .send(JSON.stringify(file, null, 2));
  }

  /** As pages speak it, to see it before it is chosen. */
  @Get('spoken/:tag')
  @Needs('house.read')
  spoken(@Ctx() ctx: Context, @Tag() tag: string): Promise<SpokenLanguage> {
    return this.languages.spoken(ctx, tag);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('house.edit')
  remove(@Ctx() ctx: Context, @Id() id: string): Promise<void> {
    return this.languages.remove(ctx, id);
  }
}
