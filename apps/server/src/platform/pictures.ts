import sharp from 'sharp';

/** Of what people upload as pictures, only these are opened: drawings and documents can cost what they like. */
export const PICTURE_FORMATS: ReadonlySet<string> = new Set([
  'jpeg',
  'png',
  'webp',
  'heif',
  'avif',
  'gif',
  'tiff',
]);

/** Once, before any picture is opened. */
export function refuseDrawings(): void {
  sharp.block({ operation: ['VipsForeignLoadSvg', 'VipsForeignLoadPdf', 'VipsForeignLoadMagick'] });
}
