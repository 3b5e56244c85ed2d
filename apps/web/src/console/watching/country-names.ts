const A = 'A'.charCodeAt(0);
const LETTERS = 26;
/** Groups of countries, and parts of them, have codes as well (ISO 3166-1, exceptionally reserved and user-assigned). */
const NO_COUNTRY = new Set([
  'AC',
  'CP',
  'CQ',
  'DG',
  'EA',
  'EU',
  'EZ',
  'IC',
  'QO',
  'TA',
  'UN',
  'XA',
  'XB',
  'ZZ',
]);

const names = new Intl.DisplayNames('en-GB', { type: 'region', fallback: 'none' });

/** Every country with its code (ISO 3166-1 alpha-2), in the order of their names. */
export const COUNTRIES: readonly { readonly code: string; readonly name: string }[] = Array.from(
  { length: LETTERS * LETTERS },
  (_, index) => String.fromCharCode(A + Math.floor(index / LETTERS), A + (index % LETTERS)),
)
  .flatMap((code) => {
    // A code that a country has no more stands for the one it has now (ECMA-402, 6.2.3).
    const isPresent = !NO_COUNTRY.has(code) && new Intl.Locale(`und-${code}`).region === code;
    const name = isPresent ? names.of(code) : undefined;
    return name === undefined ? [] : [{ code, name }];
  })
  .sort((one, other) => one.name.localeCompare(other.name, 'en-GB'));

export const countryName = (code: string): string => names.of(code) ?? code;
