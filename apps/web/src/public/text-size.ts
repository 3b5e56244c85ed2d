const KEY = 'heliphon.text-size';
export const TEXT_SIZES = [1, 1.2, 1.45] as const;

/** How large somebody wants the words, remembered in this browser. */
export function readTextSize(): number {
  try {
    const size = Number(localStorage.getItem(KEY));
    return TEXT_SIZES.find((known) => known === size) ?? 1;
  } catch {
    return 1; // an embed whose storage the browser keeps shut
  }
}

/** Makes every word of the page larger: lengths in the page are in rem and follow. */
export function wearTextSize(size: number): void {
  document.documentElement.style.fontSize = `calc(var(--type-size, 1) * ${size * 100}%)`;
  try {
    localStorage.setItem(KEY, String(size));
  } catch {
    // it holds for this visit
  }
}
