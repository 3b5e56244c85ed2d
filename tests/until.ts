/**
 * How long a test waits for anything, in any room. Never a verdict: how fast something has to be is measured in
 * `bench/`. A wait that is answered costs nothing, however long it might have been.
 */
export const PATIENCE_MS = 120_000;
const ASK_EVERY_MS = 50;

/** Waits until a question is answered with something; one that fails is asked again. */
export async function until<T>(
  question: () => Promise<T | undefined | false | null> | T | undefined | false | null,
  what: string,
): Promise<T> {
  const endsAtMs = performance.now() + PATIENCE_MS;
  for (;;) {
    let failure: unknown;
    try {
      const answer = await question();
      if (answer) return answer;
    } catch (error) {
      failure = error;
    }
    if (performance.now() > endsAtMs)
      throw new Error(`Waited ${PATIENCE_MS / 1000} s in vain for ${what}`, { cause: failure });
    await new Promise((resolve) => setTimeout(resolve, ASK_EVERY_MS));
  }
}
