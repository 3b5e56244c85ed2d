import { createHash } from 'node:crypto';
import { createRequire } from 'node:module';
import sharp from 'sharp';
import { SLATE_SHAPES, type SlateShape } from '@heliphon/core/media/slate-format';

/** What a slate says, and what it is drawn on. */
export interface SlateContent {
  readonly words: string;
  readonly houseName: string;
  /** The house's warm colour, `#rrggbb`. */
  readonly warm: string;
  readonly posterId: string | null;
}

/** Raised when slates are drawn in another way: nodes fetch them again. */
const DRAWN_AS = 1;

const FONT = {
  name: 'Atkinson Hyperlegible Next SemiBold',
  file: createRequire(import.meta.url).resolve(
    '@expo-google-fonts/atkinson-hyperlegible-next/600SemiBold/AtkinsonHyperlegibleNext_600SemiBold.ttf',
  ),
};
/** Sizes as shares of the shorter side. Few words stand in one line if they can: a single one below looks lost. */
const TRIES = [
  ...[0.12, 0.105, 0.09].map((size) => ({ size, lines: 1 })),
  ...[0.12, 0.1, 0.08, 0.064, 0.05, 0.04].map((size) => ({ size, lines: Infinity })),
] as const;
const NAME_SIZE = 0.048;
/** What is written stays within this part of the picture's middle: other shapes cut the rest off. */
const WRITTEN = { width: 0.62, height: 0.5 } as const;
const INK = '#ffffff';
const GROUND = '#10161f';

/** Names a still by all that it is drawn of. @returns SHA-256, in hex */
export const stillIdOf = (content: SlateContent): string =>
  createHash('sha256')
    .update(JSON.stringify([DRAWN_AS, content]))
    .digest('hex');

/**
 * Draws a slate: its words on the event's poster, darkened so that they can be read whatever it shows, or on plain ground.
 * @param posterPath - of the poster's file; one that cannot be read is left out
 * @returns a JPEG of the shape's size
 */
export async function drawStill(
  content: SlateContent,
  shape: SlateShape,
  posterPath: string | null,
): Promise<Buffer> {
  const { widthPx, heightPx } = SLATE_SHAPES[shape];
  const [ground, writing] = await Promise.all([
    groundOf(posterPath, widthPx, heightPx),
    writingOf(content, widthPx, heightPx),
  ]);
  const { words, name } = writing;
  const gapPx = Math.round(Math.min(widthPx, heightPx) * 0.05);
  const ruleWidthPx = Math.round(gapPx * 2.2);
  const rulePx = Math.max(4, Math.round(gapPx / 9));
  const wholePx = words.heightPx + gapPx * 2 + rulePx + name.heightPx;
  const topPx = Math.round((heightPx - wholePx) / 2);
  const rule = await sharp({
    create: { width: ruleWidthPx, height: rulePx, channels: 3, background: content.warm },
  })
    // A dark colour of a house would be lost on dark ground.
    .linear(0.7, 77)
    .png()
    .toBuffer();
  const middle = (itsWidthPx: number): number => Math.round((widthPx - itsWidthPx) / 2);
  return sharp(ground)
    .composite([
      { input: words.png, left: middle(words.widthPx), top: topPx },
      { input: rule, left: middle(ruleWidthPx), top: topPx + words.heightPx + gapPx },
      { input: name.png, left: middle(name.widthPx), top: topPx + wholePx - name.heightPx },
    ])
    .jpeg({ quality: 90 })
    .toBuffer();
}

async function groundOf(posterPath: string | null, width: number, height: number): Promise<Buffer> {
  const plain = sharp({ create: { width, height, channels: 3, background: GROUND } });
  if (!posterPath) return plain.png().toBuffer();
  return (
    sharp(posterPath)
      .resize({ width, height, fit: 'cover' })
      .blur(width / 130)
      .removeAlpha()
      // Even a white poster is dark enough behind white letters then (WCAG 2.2: 7:1).
      .linear(0.3, 4)
      .png()
      .toBuffer()
      .catch(() => plain.png().toBuffer())
  );
}

interface Writing {
  readonly png: Buffer;
  readonly widthPx: number;
  readonly heightPx: number;
}

async function writingOf(
  { words, houseName }: SlateContent,
  widthPx: number,
  heightPx: number,
): Promise<{ words: Writing; name: Writing }> {
  const side = Math.min(widthPx, heightPx);
  const width = Math.round(widthPx * WRITTEN.width);
  const name = await write(houseName, side * NAME_SIZE, width);
  for (const { size, lines } of TRIES) {
    const written = await write(words, side * size, width);
    const mostPx = lines === 1 ? side * size * 1.5 : heightPx * WRITTEN.height;
    const fits = written.heightPx <= mostPx && written.widthPx <= width;
    if (fits || size === TRIES.at(-1)!.size) return { words: written, name };
  }
  throw new Error('The last try is taken in any case');
}

/** Sets text in the middle, in its own direction. */
async function write(text: string, sizePx: number, width: number): Promise<Writing> {
  const { data, info } = await sharp({
    text: {
      text: `<span foreground="${INK}">${escaped(text)}</span>`,
      font: `${FONT.name} ${Math.round(sizePx)}`,
      fontfile: FONT.file,
      width,
      align: 'center',
      rgba: true,
      wrap: 'word-char',
      // One point is one pixel then.
      dpi: 72,
    },
  })
    .png()
    .toBuffer({ resolveWithObject: true });
  return { png: data, widthPx: info.width, heightPx: info.height };
}

const escaped = (text: string): string => text.replace(/[&<>]/g, (letter) => `&#${letter.charCodeAt(0)};`);
