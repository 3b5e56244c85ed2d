import { contrastRatio, formatColour, mixColours, parseColour, type Rgb } from './colour.js';
import { CONTRAST } from './contrast.js';
import { LOOK_COLOURS, type Look } from './look.js';
import { type GroundPicture, groundsOf } from './ground-picture.js';
import { type DrawnLook, type LookColours, nightLook } from './night.js';
import { nearestPassing } from './nearest-passing.js';

/** Every colour a public page is drawn with, as `#rrggbb`. */
export interface Palette extends LookColours {
  /** Words that matter less. */
  readonly soft: string;
  /** Lines that only divide. */
  readonly rule: string;
  /** Edges of what can be pressed or written in. */
  readonly edge: string;
  /** Words on the accent. */
  readonly onAccent: string;
  /** The warm colour as a mark on the accent, and as light on the dark of the player. */
  readonly mark: string;
  readonly glow: string;
  /** What is wrong. */
  readonly wrong: string;
}

/** A look as pages are given it: nothing is left to work out. */
export interface ResolvedLook extends Omit<
  Look,
  (typeof LOOK_COLOURS)[number] | 'logo' | 'nightLogo' | 'hasNight' | 'picture'
> {
  readonly palette: Palette;
  /** For devices that are set to the dark; `null` where pages stay as they are. */
  readonly night: Palette | null;
  /** Behind the page; `null` for none. */
  readonly picture: ShownPicture | null;
  /** `null` where there is none. */
  readonly logoUrl: string | null;
  /** Its form for the dark; `null` where there is no other. */
  readonly nightLogoUrl: string | null;
}

export interface ShownPicture extends Pick<GroundPicture, 'fit' | 'veilPercent'> {
  readonly url: string;
  readonly nightVeilPercent: number;
}

export const resolveLook = (look: Look): ResolvedLook => ({
  palette: paletteOf(look),
  night: look.hasNight ? paletteOf(nightLook(look)) : null,
  picture: look.picture && {
    url: groundPictureUrl(look.picture.id),
    fit: look.picture.fit,
    veilPercent: look.picture.veilPercent,
    nightVeilPercent: nightLook(look).picture!.veilPercent,
  },
  logoUrl: look.logo && logoUrl(look.logo),
  nightLogoUrl: look.nightLogo && logoUrl(look.nightLogo),
  typeSizePercent: look.typeSizePercent,
  cornerPx: look.cornerPx,
  foot: look.foot,
  showsOurs: look.showsOurs,
  showsCount: look.showsCount,
  companions: look.companions,
  words: look.words,
  address: look.address,
  giveUrl: look.giveUrl,
});

/** Where a logo lies. */
export const logoUrl = (id: string): string => `/logos/${id}`;
/** Where a picture for behind the page lies. */
export const groundPictureUrl = (id: string): string => `/grounds/${id}`;

const SHARES = { soft: 0.74, edge: 0.55, rule: 0.2 } as const;
const [LIGHT, DARK, RUST, PLAYER] = ['#fffaf0', '#16241f', '#b23a26', '#0b1412'].map(parseColour) as [
  Rgb,
  Rgb,
  Rgb,
  Rgb,
];

/** The colours of a look and those that follow from them, which always show as well as the words of the look do. */
export function paletteOf(look: DrawnLook): Palette {
  const [text, sheet] = [parseColour(look.text), parseColour(look.sheet)];
  const grounds = [sheet, ...groundsOf(look)];
  const [accent, warm] = [parseColour(look.accent), parseColour(look.warm)];
  const showing = (colour: Rgb, ratio: number): string =>
    formatColour(nearestPassing(colour, grounds, ratio) ?? text);
  // On one ground alone black or white has 4.58 at least: there always is one that passes.
  const on = (under: Rgb, colour: Rgb, ratio: number): string =>
    formatColour(nearestPassing(colour, [under], ratio)!);
  return {
    ...(Object.fromEntries(LOOK_COLOURS.map((colour) => [colour, look[colour]])) as LookColours),
    soft: showing(mixColours(text, sheet, SHARES.soft), CONTRAST.words),
    edge: showing(mixColours(text, sheet, SHARES.edge), CONTRAST.shapes),
    rule: formatColour(mixColours(text, sheet, SHARES.rule)),
    onAccent: on(accent, lighterOrDarker(accent), CONTRAST.words),
    mark: on(accent, warm, CONTRAST.shapes),
    glow: on(PLAYER, warm, CONTRAST.shapes),
    wrong: showing(RUST, CONTRAST.words),
  };
}

const lighterOrDarker = (ground: Rgb): Rgb =>
  contrastRatio(LIGHT, ground) >= contrastRatio(DARK, ground) ? LIGHT : DARK;
