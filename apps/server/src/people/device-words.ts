const BROWSERS = [
  [/Edg\//, 'Edge'],
  [/Firefox\//, 'Firefox'],
  [/Chrome\//, 'Chromium'],
  [/Safari\//, 'Safari'],
] as const;
const SYSTEMS = [
  [/iPhone|iPad/, 'an iPhone or iPad'],
  [/Android/, 'an Android device'],
  [/Windows/, 'Windows'],
  [/Mac OS X/, 'a Mac'],
  [/Linux/, 'Linux'],
] as const;

const find = (list: readonly (readonly [RegExp, string])[], text: string): string | undefined =>
  list.find(([pattern]) => pattern.test(text))?.[1];

/** A browser's User-Agent in words by which its owner knows it again. */
export function deviceWords(userAgent: string): string {
  const browser = find(BROWSERS, userAgent) ?? 'A program';
  const system = find(SYSTEMS, userAgent);
  return system ? `${browser} on ${system}` : browser;
}
