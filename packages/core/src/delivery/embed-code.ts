import { fitEmbed } from './embed-size.js';

/** What may stand with the picture. */
export const EMBED_EXTRAS = ['title', 'sheet', 'chat'] as const;
export type EmbedExtra = (typeof EMBED_EXTRAS)[number];

export interface EmbedOptions {
  /** The countdown alone, instead of the picture. */
  readonly isCountdown: boolean;
  readonly extras: readonly EmbedExtra[];
  /** `null`: as wide as the room it is put in. */
  readonly widthPx: number | null;
}

export const EMBED_WIDTH_PX = { least: 200, most: 3840 } as const;

/** What a website is given: the address of the embed, and two ways to put it into a page. */
export interface EmbedCode {
  readonly address: string;
  readonly frame: string;
  /** One line, which also fits the height to what is shown. */
  readonly script: string;
  /** How high the frame is, which cannot fit itself. */
  readonly heightPx: number;
}

const ALLOWED = 'autoplay; fullscreen; picture-in-picture';
/** A countdown with its sentence is a little taller than wide, down to what its words need. */
const COUNTDOWN_HEIGHT_PX = 320;
const SHEET_HEIGHT_PX = 420;
const TITLE_HEIGHT_PX = 56;

/** @param publicUrl - without a slash at its end. @param title - for those who hear the page. */
export function embedCode(
  publicUrl: string,
  slug: string,
  title: string,
  { isCountdown, extras, widthPx }: EmbedOptions,
): EmbedCode {
  const wished = isCountdown ? 'only=countdown' : extras.length > 0 ? `with=${extras.join(',')}` : '';
  const address = `${publicUrl}/embed/${slug}${wished && `?${wished}`}`;
  const pictureHeightPx = fitEmbed(widthPx, null).heightPx;
  const extraPx =
    (extras.includes('title') ? TITLE_HEIGHT_PX : 0) +
    (extras.includes('sheet') || extras.includes('chat') ? SHEET_HEIGHT_PX : 0);
  const heightPx = isCountdown ? COUNTDOWN_HEIGHT_PX : pictureHeightPx + extraPx;
  const data = [
    `data-event="${slug}"`,
    isCountdown ? 'data-only="countdown"' : extras.length > 0 ? `data-with="${extras.join(',')}"` : '',
    widthPx === null ? '' : `data-width="${widthPx}"`,
  ].filter(Boolean);
  return {
    address,
    frame: `<iframe src="${address}" title="${escaped(title)}" width="${widthPx ?? '100%'}" height="${heightPx}" style="border:0;max-width:100%" allow="${ALLOWED}" allowfullscreen></iframe>`,
    script: `<script async src="${publicUrl}/embed.js" ${data.join(' ')}></script>`,
    heightPx,
  };
}

/** @param query - of an embed's address */
export function readEmbedOptions(query: string): Omit<EmbedOptions, 'widthPx'> {
  const parameters = new URLSearchParams(query);
  const wished = parameters.get('with')?.split(',') ?? [];
  return {
    isCountdown: parameters.get('only') === 'countdown',
    extras: EMBED_EXTRAS.filter((extra) => wished.includes(extra)),
  };
}

export const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);
