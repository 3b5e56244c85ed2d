import type { OrderItem } from './order-sheet.js';

const DAY_MINUTES = 24 * 60;
/** A time before the start by less than this is meant so: it is shown, and counts from the start. */
const BEFORE_START_MINUTES = 12 * 60;
const TIMED = /^(\d{1,2})[:.](\d{2})(?:\s*[-–]\s*\d{1,2}[:.]\d{2})?\s+(\S.*)$/;
const MARKED = /^#\s+(\S.*)$/;

type Written = Omit<OrderItem, 'id'>;

/**
 * Reads an order sheet as people type or paste it (`docs/order-sheet.md`): a line that begins with a time, or with `# `,
 * begins an item; the lines after it are the words to follow. Where no line does, each paragraph is an item.
 * @param startsAt - by the clock on the wall, `10:30`: times are counted from it.
 */
export function readOrder(text: string, startsAt: string): Written[] {
  const lines = text.replaceAll('\r', '').split('\n');
  const begins = (line: string): boolean => TIMED.test(line) || MARKED.test(line);
  const blocks = lines.some(begins) ? splitAt(lines, begins) : paragraphs(lines);
  return blocks.map(([first, ...rest]) => ({ ...readHead(first!, startsAt), words: wordsOf(rest) }));
}

/** Writes an order sheet so that it is read back the same. */
export function writeOrder(items: readonly Written[], startsAt: string): string {
  return items
    .map(({ atMinutes, title, words }) => {
      const head = atMinutes === null ? `# ${title}` : `${clockAt(atMinutes, startsAt)} ${title}`;
      const lines = words === '' ? [] : words.split('\n').map((line) => (line === '' ? '' : `  ${line}`));
      return [head, ...lines, ''].join('\n');
    })
    .join('\n');
}

/** `10:36`, so many minutes after `10:30`. */
export function clockAt(atMinutes: number, startsAt: string): string {
  const minutes = (((minutesOf(startsAt) + atMinutes) % DAY_MINUTES) + DAY_MINUTES) % DAY_MINUTES;
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
}

/** Gives items that were read again the names that they had: first by their titles, then by their places. */
export function keepNames(
  written: readonly Written[],
  before: readonly OrderItem[],
  newId: () => string,
): OrderItem[] {
  const free = [...before];
  const take = (fits: (item: OrderItem) => boolean): string | null => {
    const at = free.findIndex(fits);
    return at < 0 ? null : free.splice(at, 1)[0]!.id;
  };
  const byTitle = written.map(({ title }) => take((item) => item.title === title));
  return written.map((item, at) => ({
    id: byTitle[at] ?? take((other) => before.indexOf(other) === at) ?? newId(),
    ...item,
  }));
}

const minutesOf = (clock: string): number => {
  const [hours, minutes] = clock.split(':').map(Number) as [number, number];
  return hours * 60 + minutes;
};

function readHead(line: string, startsAt: string): Pick<Written, 'atMinutes' | 'title'> {
  const [, hours, minutes, timed] = TIMED.exec(line) ?? [];
  const isTime = timed !== undefined && Number(hours) < 24 && Number(minutes) < 60;
  if (!isTime) return { atMinutes: null, title: (MARKED.exec(line)?.[1] ?? line).trim() };
  const after = Number(hours) * 60 + Number(minutes) - minutesOf(startsAt);
  const isNextDay = after < -BEFORE_START_MINUTES;
  return { atMinutes: isNextDay ? after + DAY_MINUTES : Math.max(0, after), title: timed.trim() };
}

function splitAt(lines: readonly string[], begins: (line: string) => boolean): string[][] {
  const blocks: string[][] = [];
  for (const line of lines) {
    if (begins(line) || (blocks.length === 0 && line.trim() !== '')) blocks.push([line]);
    else blocks.at(-1)?.push(line);
  }
  return blocks;
}

/** With nothing to go by: paragraphs, or, where there are none of more than a line, lines. */
function paragraphs(lines: readonly string[]): string[][] {
  const blocks: string[][] = [];
  let isNew = true;
  for (const line of lines) {
    if (line.trim() === '') isNew = true;
    else if (isNew) {
      blocks.push([line]);
      isNew = false;
    } else blocks.at(-1)!.push(line);
  }
  return blocks.length === 1 ? blocks[0]!.map((line) => [line]) : blocks;
}

/** Without the indentation of two that is written, and without blank lines around. */
const wordsOf = (lines: readonly string[]): string =>
  lines
    .map((line) => line.replace(/^( {2}|\t)/, '').trimEnd())
    .join('\n')
    .replace(/^\n+|\n+$/g, '');
