import type { GroundPicture } from './ground-picture.js';
import { inherit, type Inherited, type Said } from '../inherited.js';

/** Colours that are chosen; others follow from them (`palette`). */
export const LOOK_COLOURS = ['ground', 'sheet', 'text', 'links', 'accent', 'warm', 'names'] as const;
export type LookColour = (typeof LOOK_COLOURS)[number];

/** How large words are: of the page's usual size, in per cent. */
export const TYPE_SIZES_PERCENT = [100, 112, 125] as const;
/** What is taken as a logo, and what is made of it. */
export const LOGO_LIMITS = {
  svgBytes: 200_000,
  pixels: 50_000_000,
  leastPx: 24,
  fittedPx: 512,
  bytes: 15_000_000,
} as const;
export const LOOK_LIMITS = {
  cornerPx: { least: 0, most: 24 },
  footLength: 300,
  wordsLength: 2000,
  addressLength: 300,
} as const;

/** What can stand beside the picture; the chat has its own place at the foot. */
export const COMPANIONS = ['sheet', 'words', 'address', 'dates', 'share', 'give'] as const;
export type Companion = (typeof COMPANIONS)[number];

/** How public pages of an event look. */
export interface Look extends Readonly<Record<LookColour, string>> {
  /** Behind the page; `null` for its colour alone. */
  readonly picture: GroundPicture | null;
  readonly typeSizePercent: (typeof TYPE_SIZES_PERCENT)[number];
  readonly cornerPx: number;
  /** The house's own line at the foot; empty for none. */
  readonly foot: string;
  /** Whether our line stands at the foot. */
  readonly showsOurs: boolean;
  /** By its id; `null` for none. */
  readonly logo: string | null;
  /** The same for dark ground; `null`: the first, on a plate of its own. */
  readonly nightLogo: string | null;
  /** Whether devices that are set to the dark see the pages dark. */
  readonly hasNight: boolean;
  /** Whether viewers see how many watch. */
  readonly showsCount: boolean;
  /** Which of them stand beside the picture, in this order. */
  readonly companions: readonly Companion[];
  /** The house's own words; addresses in them become links. */
  readonly words: string;
  /** How to get here. */
  readonly address: string;
  /** Where people can give; empty for nowhere. */
  readonly giveUrl: string;
}

export type LookPart = keyof Look;
/** What one level says itself; the rest comes from above. */
export type OwnLook = Partial<Look>;

/** What a house has that has chosen nothing. */
export const USUAL_LOOK: Look = {
  ground: '#f4efe6',
  sheet: '#fffdf7',
  text: '#16241f',
  links: '#24405c',
  accent: '#24405c',
  warm: '#e7b56a',
  names: '#16241f',
  picture: null,
  typeSizePercent: 100,
  cornerPx: 6,
  foot: '',
  showsOurs: true,
  logo: null,
  nightLogo: null,
  hasNight: true,
  showsCount: true,
  companions: ['sheet'],
  words: '',
  address: '',
  giveUrl: '',
};
export const LOOK_PARTS = Object.keys(USUAL_LOOK) as readonly LookPart[];

export type InheritedLook = Inherited<Look>;

export const inheritLook = (said: Said<Look>): InheritedLook => inherit(USUAL_LOOK, said);
