import { Injectable } from '@nestjs/common';
import sharp from 'sharp';
import type { KeptLogo } from '@heliphon/contracts/look';
import { LOGO_LIMITS } from '@heliphon/core/appearance/look';
import { Clock } from '../platform/clock.js';
import { type Context, Database } from '../platform/database.js';
import { newId } from '../platform/ids.js';
import { PICTURE_FORMATS } from '../platform/pictures.js';
import { notFound, refusedField } from '../platform/problems.js';
import { LogoEntity } from '../tables/logo.entity.js';
import { letGoOfUnused } from './kept-for-looks.js';
import { cleanSvg } from './clean-svg.js';

/** Takes logos, fits them, and hands them to pages. */
@Injectable()
export class LogosService {
  constructor(
    private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  /** @throws ProblemError 422 with what is wrong with it */
  async keep(ctx: Context, file: Buffer | undefined): Promise<KeptLogo> {
    if (!file || file.byteLength === 0) throw refusedField('logo', 'logo-missing');
    const fitted = looksLikeSvg(file) ? drawing(file) : await picture(file);
    const row = { id: newId(), ...fitted, createdAtMs: this.clock.nowMs() };
    await this.database.house(ctx).addAll(LogoEntity, [row]);
    return { id: row.id };
  }

  /** @throws ProblemError 404 */
  async read(id: string): Promise<Pick<LogoEntity, 'type' | 'bytes'>> {
    const row = await this.database.installation.findOneBy(LogoEntity, { id });
    if (!row) throw notFound('logo');
    return row;
  }

  /** Lets go of those that no look has shown for a long time. */
  tidy(): Promise<void> {
    return letGoOfUnused(this.database, this.clock, 'logos', ['$.logo', '$.nightLogo']);
  }
}

const looksLikeSvg = (file: Buffer): boolean => /<svg[\s>]/i.test(file.subarray(0, 4000).toString('latin1'));

function drawing(file: Buffer): Pick<LogoEntity, 'type' | 'bytes'> {
  if (file.byteLength > LOGO_LIMITS.svgBytes)
    throw refusedField('logo', 'logo-too-large', { kilobytes: LOGO_LIMITS.svgBytes / 1000 });
  const cleaned = cleanSvg(file.toString('utf8'));
  if (typeof cleaned === 'string') return { type: 'image/svg+xml', bytes: Buffer.from(cleaned) };
  if (cleaned.why === 'not-let-in') throw refusedField('logo', 'logo-not-let-in', { name: cleaned.name });
  throw refusedField('logo', cleaned.why === 'too-much' ? 'logo-too-much' : 'logo-no-picture');
}

async function picture(file: Buffer): Promise<Pick<LogoEntity, 'type' | 'bytes'>> {
  // Its head alone: how large it is comes before it is opened.
  const facts = await sharp(file, { limitInputPixels: false })
    .metadata()
    .catch(() => null);
  if (!facts || !PICTURE_FORMATS.has(facts.format)) throw refusedField('logo', 'logo-no-picture');
  if (facts.width * facts.height > LOGO_LIMITS.pixels)
    throw refusedField('logo', 'logo-too-many-pixels', { width: facts.width, height: facts.height });
  if (Math.min(facts.width, facts.height) < LOGO_LIMITS.leastPx)
    throw refusedField('logo', 'logo-too-small', { least: LOGO_LIMITS.leastPx });
  const size = { width: LOGO_LIMITS.fittedPx, height: LOGO_LIMITS.fittedPx };
  const bytes = await sharp(file, { limitInputPixels: LOGO_LIMITS.pixels, failOn: 'error' })
    .rotate()
    .resize({ ...size, fit: 'inside', withoutEnlargement: true })
    .png()
    .toBuffer()
    .catch(() => null);
  if (!bytes) throw refusedField('logo', 'logo-no-picture');
  return { type: 'image/png', bytes };
}
