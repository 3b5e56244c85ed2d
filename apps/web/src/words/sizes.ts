const UNITS = ['bytes', 'kB', 'MB', 'GB', 'TB'] as const;

/** `31 MB`, `1.4 GB`: two figures are enough to know whether it fits. */
export function sizeWords(bytes: number): string {
  const power = Math.min(UNITS.length - 1, Math.max(0, Math.floor(Math.log10(Math.max(1, bytes)) / 3)));
  const value = bytes / 1000 ** power;
  const figures = value < 10 && power > 0 ? value.toFixed(1).replace(/\.0$/, '') : Math.round(value);
  return `${figures} ${UNITS[power]}`;
}
