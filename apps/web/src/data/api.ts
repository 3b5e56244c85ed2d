import type { Problem } from '@heliphon/contracts/problem';

/** An answer that was not what we asked for; `problem` is what the server said of it. */
export class ApiError extends Error {
  override readonly name = 'ApiError';
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.code);
  }
}

/** No answer at all: the server or the way to it is away. */
export class OfflineError extends Error {
  override readonly name = 'OfflineError';
}

interface AskOptions {
  readonly method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  readonly body?: unknown;
  readonly form?: FormData;
  readonly version?: number;
  readonly token?: string;
  readonly headers?: Readonly<Record<string, string>> | undefined;
}

const UNKNOWN: Problem = { type: 'about:blank', status: 0, title: 'Fault', code: 'fault', params: {} };

/** A server that takes a request and never answers is as far away as one that is not there. */
const PATIENCE_MS = 20_000;
const UPLOAD_PATIENCE_MS = 180_000;

/** Asks the API. @throws ApiError with the problem, or OfflineError. */
export async function ask<T>(path: string, options: AskOptions = {}): Promise<T> {
  const { method = 'GET', body, form, version, token } = options;
  const headers: Record<string, string> = { ...options.headers };
  if (body !== undefined) headers['content-type'] = 'application/json';
  if (version !== undefined) headers['if-match'] = `"${version}"`;
  if (token !== undefined) headers.authorization = `Bearer ${token}`;
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      headers,
      body: form ?? (body === undefined ? null : JSON.stringify(body)),
      signal: AbortSignal.timeout(form ? UPLOAD_PATIENCE_MS : PATIENCE_MS),
    });
  } catch {
    throw new OfflineError(path);
  }
  if (response.status === 204) return undefined as T;
  const isJson = /json/.test(response.headers.get('content-type') ?? '');
  const answer: unknown = isJson ? await response.json() : null;
  if (response.ok) return answer as T;
  throw new ApiError(response.status, (answer as Problem | null) ?? { ...UNKNOWN, status: response.status });
}
