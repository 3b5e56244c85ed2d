import type { WordKey } from '@heliphon/core/languages/words';
import { ApiError, OfflineError } from '../data/api.js';
import { say, spokenLanguage } from './say.js';

type ProblemKey = Extract<WordKey, `problem.${string}`>;

/** The sentence for whatever a request of a public page threw. */
export function publicProblem(error: unknown): string {
  if (error instanceof OfflineError) return say('problem.offline');
  if (!(error instanceof ApiError)) return say('problem.fault');
  const { code, params } = error.problem;
  const key = `problem.${code}` as ProblemKey;
  const isKnown = key in spokenLanguage().words;
  return isKnown ? say(key, params as never) : say('problem.fault');
}
