/** How captions look, as somebody wants them on this device. */
export const CAPTION_LOOKS = ['usual', 'large', 'solid', 'large-solid'] as const;
export type CaptionLook = (typeof CAPTION_LOOKS)[number];

const KEY = 'heliphon.captions';

export function readCaptionLook(): CaptionLook {
  try {
    const kept = localStorage.getItem(KEY);
    return CAPTION_LOOKS.find((known) => known === kept) ?? 'usual';
  } catch {
    return 'usual'; // an embed whose storage the browser keeps shut
  }
}

export function keepCaptionLook(look: CaptionLook): void {
  try {
    localStorage.setItem(KEY, look);
  } catch {
    // it holds for this visit
  }
}
