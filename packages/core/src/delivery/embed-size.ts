/** The controls stand in a bar under the picture; it is so high. */
export const PLAYER_BAR_PX = 96;
const USUAL_WIDTH_PX = 800;
const LEAST_WIDTH_PX = 240;

/**
 * The largest embed, picture of 16:9 and bar, within what a website allows; `null` where it sets no limit. Limits are kept
 * to also where they leave too little room for a picture: then the page within the frame scrolls.
 */
export function fitEmbed(
  maxWidthPx: number | null,
  maxHeightPx: number | null,
): { readonly widthPx: number; readonly heightPx: number } {
  const byHeight = maxHeightPx === null ? Infinity : Math.floor(((maxHeightPx - PLAYER_BAR_PX) * 16) / 9);
  const widthPx = Math.min(maxWidthPx ?? USUAL_WIDTH_PX, Math.max(LEAST_WIDTH_PX, byHeight));
  const heightPx = Math.round((widthPx * 9) / 16) + PLAYER_BAR_PX;
  return { widthPx, heightPx: Math.min(maxHeightPx ?? Infinity, heightPx) };
}
