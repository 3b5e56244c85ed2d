import { type ArgumentsHost, Catch, type ExceptionFilter, HttpException, Logger } from '@nestjs/common';
import type { Response } from 'express';
import type { Problem } from '@heliphon/contracts/problem';
import { isDatabaseAway, isDuplicate } from './database-faults.js';

/** An expected refusal on its way to the caller, as RFC 9457 problem details. */
export class ProblemError extends Error {
  override readonly name = 'ProblemError';
  constructor(
    readonly status: number,
    readonly code: string,
    readonly params: Readonly<Record<string, string | number>> = {},
    readonly more: Pick<Problem, 'fields' | 'current'> & { readonly retryAfterSeconds?: number } = {},
  ) {
    super(code);
  }
}

export const notFound = (what: string): ProblemError => new ProblemError(404, 'not-found', { what });
/** A field that core refused; `code` is core's own. */
export const refusedField = (
  path: string,
  code: string,
  params: Record<string, string | number> = {},
): ProblemError => new ProblemError(422, code, params, { fields: [{ path, message: code }] });

const TITLES: Readonly<Record<number, string>> = {
  400: 'Bad request',
  401: 'Sign in first',
  403: 'Not allowed',
  404: 'Not found',
  409: 'Too late',
  412: 'Changed meanwhile',
  413: 'Too large',
  422: 'Not understood',
  428: 'Version needed',
  429: 'Too many',
  503: 'Not available',
};

/** Turns whatever was thrown into problem details. Unexpected faults are logged whole and told without detail. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  readonly #log = new Logger('Problems');

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    const known = this.#known(error);
    const { status, code, params, more } = known;
    const { retryAfterSeconds, ...rest } = more;
    if (retryAfterSeconds !== undefined) response.setHeader('Retry-After', String(retryAfterSeconds));
    const problem: Problem = {
      type: 'about:blank',
      status,
      title: TITLES[status] ?? 'Fault',
      code,
      params,
      ...rest,
    };
    response.status(status).type('application/problem+json').send(JSON.stringify(problem));
  }

  #known(error: unknown): ProblemError {
    if (error instanceof ProblemError) return error;
    if (isDatabaseAway(error)) return new ProblemError(503, 'database-away', {}, { retryAfterSeconds: 2 });
    if (isDuplicate(error)) return new ProblemError(409, 'taken-meanwhile');
    const status = error instanceof HttpException ? error.getStatus() : expectedStatusOf(error);
    if (status) {
      return new ProblemError(
        status,
        status === 413 ? 'too-large' : status === 404 ? 'not-found' : 'bad-request',
      );
    }
    this.#log.error(error instanceof Error ? error.stack : String(error));
    return new ProblemError(500, 'fault');
  }
}

/** Express and its middleware refuse with errors that carry a status of their own, 400 to 499. */
function expectedStatusOf(error: unknown): number | null {
  const status = error instanceof Error && 'status' in error ? Number(error.status) : NaN;
  return status >= 400 && status < 500 ? status : null;
}
