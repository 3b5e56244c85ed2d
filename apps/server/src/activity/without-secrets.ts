/** Columns that only the program itself may read, by the way they are named. */
const SECRET = /^sealed|Hash$|Hex$|[Vv]erifier$|^salt$|[Ss]ecret|[Tt]oken|^key$|password$/;

/** What a happening remembers, without what is secret in it: a row deleted keeps its sealed key for the day it comes back. */
export function withoutSecrets(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withoutSecrets);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([name]) => !SECRET.test(name))
      .map(([name, inner]) => [name, withoutSecrets(inner)]),
  );
}
