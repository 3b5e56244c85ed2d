import { useState } from 'react';

/** One thing that can be done: whether it is being done, and what went wrong. */
export interface ActionState {
  readonly isBusy: boolean;
  readonly error: unknown;
  /** Does it; a second call while it runs does nothing. */
  readonly run: (work: () => Promise<unknown>) => Promise<void>;
}

export function useAction(): ActionState {
  const [isBusy, setBusy] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const run = async (work: () => Promise<unknown>): Promise<void> => {
    if (isBusy) return;
    setBusy(true);
    setError(null);
    try {
      await work();
    } catch (failed) {
      setError(failed);
    } finally {
      setBusy(false);
    }
  };
  return { isBusy, error, run };
}
