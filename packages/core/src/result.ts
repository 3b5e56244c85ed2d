/** An expected outcome: a value, or a refusal with a `code` that a catalogue turns into a sentence. */
export type Result<T, E> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: E };

export const succeed = <T>(value: T): { readonly ok: true; readonly value: T } => ({ ok: true, value });
export const refuse = <E>(error: E): { readonly ok: false; readonly error: E } => ({ ok: false, error });

/** Closes a `switch` over a union: a case forgotten becomes a compile error. */
export function assertNever(value: never): never {
  throw new Error(`Unexpected case: ${JSON.stringify(value)}`);
}
