import { Injectable } from '@nestjs/common';
import sharp from 'sharp';
import { GROUND_PICTURE_LIMITS, spotsOf } from '@heliphon/core/appearance/ground-picture';
import type { KeptGround } from '@heliphon/contracts/look';
import { Clock } from '../platform/clock.js';
import { type Context, Database } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { PICTURE_FORMATS } from '../platform/pictures.js';
import { notFound, refusedField } from '../platform/problems.js';
import { GroundPictureEntity } from '../tables/ground-picture.entity.js';
import { letGoOfUnused } from './kept-for-looks.js';

const { leastPx, fittedPx, pixels } = GROUND_PICTURE_LIMITS;
/** Where its extremes are looked for: letters are no smaller there. */
const LOOKED_AT_PX = 512;

/** Takes pictures for behind pages, fits them, and hands them to pages. */
@Injectable()
export class GroundPicturesService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  /** @throws ProblemError 422 with what is wrong with it */
  async keep(ctx: Context, file: Buffer | undefined): Promise<KeptGround> {
    if (!file || file.byteLength === 0) throw refusedField('picture', 'ground-missing');
    // Its head alone: how large it is comes before it is opened.
    const facts = await sharp(file, { limitInputPixels: false })
      .metadata()
      .catch(() => null);
    if (!facts || !PICTURE_FORMATS.has(facts.format)) throw refusedField('picture', 'ground-no-picture');
    const { width, height } = facts;
    if (width * height > pixels) throw refusedField('picture', 'ground-too-many-pixels', { width, height });
    if (Math.min(width, height) < leastPx)
      throw refusedField('picture', 'ground-too-small', { least: leastPx });
    const size = { width: fittedPx, height: fittedPx };
    const bytes = await sharp(file, { limitInputPixels: pixels, failOn: 'error' })
      .rotate()
      .resize({ ...size, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb')
      .jpeg({ quality: 82, mozjpeg: true })
      .toBuffer()
      .catch(() => null);
    if (!bytes) throw refusedField('picture', 'ground-no-picture');
    const looked = await sharp(bytes)
      .resize({ width: LOOKED_AT_PX, withoutEnlargement: true })
      .raw()
      .toBuffer({ resolveWithObject: true });
    const spots = spotsOf(looked.data, looked.info.width, looked.info.height);
    const row = { id: newId(), bytes, spots, createdAtMs: this.clock.nowMs() };
    await this.database.house(ctx).addAll(GroundPictureEntity, [row]);
    return { id: row.id, spots };
  }

  /** @returns a JPEG. @throws ProblemError 404 */
  async read(id: string): Promise<Buffer> {
    const row = await this.database.installation.findOneBy(GroundPictureEntity, { id });
    if (!row) throw notFound('picture');
    return row.bytes;
  }

  /** Lets go of those that no look has shown for a long time. */
  tidy(): Promise<void> {
    return letGoOfUnused(this.database, this.clock, 'ground_pictures', ['$.picture.id']);
  }
}
