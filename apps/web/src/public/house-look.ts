import type { HouseLook } from '@heliphon/contracts/house';

const COLOUR = /^#[0-9a-f]{6}$/i;

/** Hands the house's colours to the page as CSS variables; anything that is no colour is left out. */
export function wearLook(look: HouseLook): void {
  const { style } = document.documentElement;
  if (COLOUR.test(look.accent)) style.setProperty('--house', look.accent);
  if (COLOUR.test(look.accentWarm)) style.setProperty('--house-warm', look.accentWarm);
}

/** A logo as the source of an image: drawn, never run. */
export const logoSource = (svg: string): string => `data:image/svg+xml;utf8,${encodeURIComponent(svg)}`;
