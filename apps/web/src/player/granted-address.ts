/** A programme's address with its grant: `…/p/PROGRAMME/GRANT/file`. */
const GRANTED = /(\/p\/[0-9a-f-]{36}\/)([^/?]+)(\/)/;

/** What an address plays, whatever grant it carries. */
export const streamOf = (address: string): string => address.replace(GRANTED, '$1$3');

/** An address with the grant of another of the same programme: grants of those who were let in are soon over. */
export function withGrantOf(address: string, latest: string): string {
  const grant = GRANTED.exec(latest)?.[2];
  return grant ? address.replace(GRANTED, `$1${grant}$3`) : address;
}
