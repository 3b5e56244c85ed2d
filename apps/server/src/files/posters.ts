import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import sharp from 'sharp';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { newId } from '../platform/ids.js';
import { PICTURE_FORMATS } from '../platform/pictures.js';
import { refusedField } from '../platform/problems.js';

const MAX_PIXELS = 50_000_000;
/** Smaller than this, and people would see a blur. */
const MIN_WIDTH_PX = 320;
export const POSTER_WIDTHS_PX = [1280, 640] as const;

/** Checks pictures that people upload, and keeps them in the sizes that pages need. */
@Injectable()
export class Posters {
  constructor(@Inject(CONFIG) private readonly config: ServerConfig) {}

  get folder(): string {
    return join(this.config.dataFolder, 'posters');
  }

  /**
   * @param id - of the file that it is a poster of.
   * @returns the poster's id. @throws ProblemError 422 when the file is no picture, or none that can be used.
   */
  async keep(file: Buffer | undefined, id = newId()): Promise<string> {
    if (!file || file.byteLength === 0) throw refusedField('poster', 'poster-missing');
    const picture = sharp(file, { limitInputPixels: MAX_PIXELS, failOn: 'error' });
    const facts = await picture.metadata().catch(() => null);
    if (!facts || !PICTURE_FORMATS.has(facts.format)) throw refusedField('poster', 'poster-no-picture');
    if (facts.width < MIN_WIDTH_PX) {
      throw refusedField('poster', 'poster-too-small', { width: facts.width, least: MIN_WIDTH_PX });
    }
    const folder = join(this.folder, id);
    try {
      const sizes = await Promise.all(
        POSTER_WIDTHS_PX.map(async (width) => {
          const resized = picture
            .clone()
            .rotate()
            .resize({ width, height: (width * 9) / 16, fit: 'cover' });
          return { width, jpeg: await resized.jpeg({ quality: 82, progressive: true }).toBuffer() };
        }),
      );
      await mkdir(folder, { recursive: true });
      await Promise.all(sizes.map(({ width, jpeg }) => writeFile(join(folder, `${width}.jpg`), jpeg)));
    } catch {
      throw refusedField('poster', 'poster-no-picture');
    }
    return id;
  }
}
