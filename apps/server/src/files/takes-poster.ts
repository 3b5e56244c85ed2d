import { applyDecorators, HttpCode, Post, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { type Need, Needs } from '../platform/need.js';

const MAX_BYTES = 15_000_000;
/** One picture of that size, and nothing else. */
const ONE_PICTURE = { limits: { fileSize: MAX_BYTES, files: 1, fields: 0 } } as const;

/** What the handler gets as `@UploadedFile()`. */
export interface UploadedPoster {
  readonly buffer: Buffer;
  readonly originalname: string;
}

/** The route that takes a picture as the poster of a row (RFC 7578, in the part `poster`): `@TakesPoster('events.edit')`. */
export const TakesPoster = (need: Need): MethodDecorator =>
  applyDecorators(
    Post(':id/poster'),
    HttpCode(200),
    Needs(need),
    UseInterceptors(FileInterceptor('poster', ONE_PICTURE)),
  );
