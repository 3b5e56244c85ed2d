import {
  RENDITION_HEIGHTS,
  RENDITION_LIMITS,
  renditionName,
  type RenditionChoice,
  type RenditionWish,
} from './renditions.js';

/** As an event keeps it: `off`, `auto`, or sizes by their heights, the largest first: `720p,480p`. */
export type RenditionSetting = string;

export const isRenditionSetting = (text: string): boolean => {
  if (text === 'off' || text === 'auto') return true;
  const heights = heightsIn(text);
  const { most, heightPx } = RENDITION_LIMITS;
  return (
    heights.length > 0 &&
    heights.length <= most &&
    heights.map(renditionName).join() === text &&
    heights.every((height, index) => height < (heights[index - 1] ?? Infinity)) &&
    heights.every((height) => height % 2 === 0 && height >= heightPx.least && height <= heightPx.most)
  );
};

/** @param own - sizes that the house has rates of its own for. */
export function choiceIn(setting: RenditionSetting, own: readonly RenditionWish[] = []): RenditionChoice {
  if (setting === 'off' || setting === 'auto') return setting;
  return heightsIn(setting).map(
    (heightPx) => own.find((wish) => wish.heightPx === heightPx) ?? { heightPx, videoBitrateBps: null },
  );
}

/** The heights that are chosen; none where that is left to the machine. */
export const heightsIn = (setting: RenditionSetting): readonly number[] =>
  setting === 'off' || setting === 'auto' ? [] : setting.split(',').map((name) => parseInt(name, 10));

/** The setting with a size put to it, or taken from it; the last is not taken. */
export function withSize(setting: RenditionSetting, heightPx: number, isWanted: boolean): RenditionSetting {
  const others = heightsIn(setting).filter((height) => height !== heightPx);
  const heights = isWanted ? [...others, heightPx] : others;
  if (heights.length === 0) return setting;
  return heights
    .sort((one, other) => other - one)
    .slice(-RENDITION_LIMITS.most)
    .map(renditionName)
    .join();
}

/** Where somebody begins to choose. */
export const FIRST_CHOSEN: RenditionSetting = RENDITION_HEIGHTS.slice(-2).map(renditionName).join();
