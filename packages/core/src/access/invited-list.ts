import { canonicalEmail } from './email-address.js';
import { cleanLine } from '../text/plain-text.js';

export const INVITED_LIMITS = { people: 5000, listLength: 250_000, nameLength: 120, devices: 10 } as const;

export interface ListedPerson {
  readonly name: string;
  /** As it is kept; empty where none is given. */
  readonly email: string;
}

export interface InvitedList {
  /** Each once, however often they are listed. */
  readonly people: readonly ListedPerson[];
  /** Lines with something like an address that is none, by their numbers from 1. */
  readonly unreadableLines: readonly number[];
}

/**
 * Reads a list of people as it is pasted or exported: a line each, or several in a line as mail programs copy them;
 * `Name <address>`, an address alone, a name alone, or cells of a table in any order (RFC 4180, also with semicolons and
 * tabs), with a heading or without.
 */
export function readInvitedList(text: string): InvitedList {
  const people = new Map<string, ListedPerson>();
  const unreadableLines: number[] = [];
  text.split(/\r\n?|\n/).forEach((line, index) => {
    if (index === 0 && isHeading(line)) return;
    const cells = cellsOf(line);
    if (cells.length === 0) return;
    // Several people in a line: each cell is one.
    const entries =
      cells.filter((cell) => cell.includes('@')).length > 1 ? cells.map((cell) => [cell]) : [cells];
    const read = entries.map(personIn);
    if (read.includes(null)) unreadableLines.push(index + 1);
    for (const person of read) if (person) people.set(person.email || person.name.toLowerCase(), person);
  });
  return { people: [...people.values()], unreadableLines };
}

const isHeading = (line: string): boolean => !line.includes('@') && /\be-?mail|\baddress\b/i.test(line);

/** @returns `null` where there is no person in it */
function personIn(cells: readonly string[]): ListedPerson | null {
  const whole = cells.join(' ');
  const [, before, bracketed] = /^(.*)<([^<>]*)>\s*$/.exec(whole) ?? [];
  const address = bracketed ?? whole.split(/\s+/).find((word) => word.includes('@'));
  const email = address === undefined ? '' : canonicalEmail(address);
  const rest = bracketed === undefined ? whole.replace(address ?? '', ' ') : before!;
  const name = cleanLine(rest.replaceAll('"', ' ')).slice(0, INVITED_LIMITS.nameLength);
  if (email === null || (email === '' && name === '')) return null;
  return { name: name || email.split('@')[0]!, email };
}

/** Cells of a line, parted by commas, semicolons or tabs; within quotes these part nothing. */
function cellsOf(line: string): string[] {
  const cells = line.match(/("(?:[^"]|"")*"|[^,;\t"])+/g) ?? [];
  return cells
    .map((cell) =>
      cell.trim().replace(/^"((?:[^"]|"")*)"$/, (_all, inner: string) => inner.replaceAll('""', '"')),
    )
    .filter((cell) => cell !== '');
}
