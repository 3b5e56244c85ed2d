import type { Light } from './light.js';
import type { Palette, ResolvedLook } from '@heliphon/core/appearance/palette';

const COLOUR = /^#[0-9a-f]{6}$/;

const PICTURE = /^\/grounds\/[0-9a-f-]{36}$/;

/** The variables of `public.css` by what a look calls them. */
const VARIABLES: Readonly<Record<keyof Palette, string>> = {
  ground: '--ground',
  sheet: '--paper',
  text: '--ink',
  soft: '--ink-soft',
  links: '--links',
  accent: '--house',
  onAccent: '--house-ink',
  warm: '--house-warm',
  mark: '--mark',
  glow: '--glow',
  names: '--names',
  rule: '--rule',
  edge: '--edge',
  wrong: '--rust',
};

/** Hands a look to the page as CSS variables; what is no colour is left out. */
export function applyLook(
  { night, picture, typeSizePercent, cornerPx, ...look }: ResolvedLook,
  light: Light,
): void {
  const { style, dataset } = document.documentElement;
  const palette = (light === 'night' && night) || look.palette;
  // What a look says nothing of follows the light, such as the browser's own controls.
  dataset.light = palette === night ? 'booth' : 'day';
  for (const [name, variable] of Object.entries(VARIABLES)) {
    const colour = palette[name as keyof Palette];
    if (COLOUR.test(colour)) style.setProperty(variable, colour);
  }
  dataset.picture = picture?.fit ?? 'none';
  if (picture && PICTURE.test(picture.url)) {
    style.setProperty('--picture', `url("${picture.url}")`);
    const veilPercent = dataset.light === 'booth' ? picture.nightVeilPercent : picture.veilPercent;
    style.setProperty('--veil', `${Number(veilPercent)}%`);
  }
  style.setProperty('--corner', `${Number(cornerPx)}px`);
  style.setProperty('--type-size', String(Number(typeSizePercent) / 100));
}
