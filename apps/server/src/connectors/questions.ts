import type { ObjectSchema } from 'joi';
import { type Result, refuse, succeed } from '@heliphon/core/result';
import type { Answer, ConnectorRefusal } from './connector.js';

/** A platform that takes longer is asked again later. */
const ANSWERS_WITHIN_MS = 8000;
const DEFAULT_PAUSE_MS = 30_000;
const LONGEST_PAUSE_MS = 3_600_000;
const SAID_LENGTH = 200;

export interface Question {
  readonly method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  readonly path: string;
  readonly accessToken: string;
  /** An object is sent as JSON, bytes as a JPEG. */
  readonly body?: object | Uint8Array;
}

/** What a platform's own code for a refusal means; `null` where it is a fault of ours. */
export type ReadRefusal = (status: number, body: unknown) => ConnectorRefusal | null;

/** Asks the interface of a platform, in JSON with a bearer token (RFC 6750). */
export class Questions {
  constructor(
    private readonly base: string,
    private readonly readRefusal: ReadRefusal,
  ) {}

  /** @param schema - of what it answers; anything else is not understood */
  async ask<T>(question: Question, schema: ObjectSchema<T>): Answer<T> {
    const answer = await this.#send(question);
    if (!answer.ok) return answer;
    const { error, value } = schema.validate(answer.value, { stripUnknown: true });
    return error ? refuse({ code: 'not-understood', said: error.message }) : succeed(value);
  }

  /** The same where the answer does not matter. */
  async tell(question: Question): Answer<null> {
    const answer = await this.#send(question);
    return answer.ok ? succeed(null) : answer;
  }

  async #send({
    method = 'GET',
    path,
    accessToken,
    body,
  }: Question): Promise<Result<unknown, ConnectorRefusal>> {
    const isPicture = body instanceof Uint8Array;
    try {
      const response = await fetch(this.base + path, {
        method,
        headers: {
          authorization: `Bearer ${accessToken}`,
          ...(body ? { 'content-type': isPicture ? 'image/jpeg' : 'application/json' } : {}),
        },
        body: isPicture ? new Uint8Array(body) : body ? JSON.stringify(body) : null,
        redirect: 'error',
        signal: AbortSignal.timeout(ANSWERS_WITHIN_MS),
      });
      const text = await response.text();
      const said = parsed(text);
      return response.ok ? succeed(said) : refuse(this.#refusal(response, said, text));
    } catch {
      return refuse({ code: 'out-of-order' });
    }
  }

  #refusal(response: Response, said: unknown, text: string): ConnectorRefusal {
    if (response.status === 429) return { code: 'busy', retryAfterMs: pauseOf(response) };
    if (response.status >= 500) return { code: 'out-of-order' };
    return (
      this.readRefusal(response.status, said) ?? { code: 'not-understood', said: text.slice(0, SAID_LENGTH) }
    );
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** `Retry-After` in seconds (RFC 9110, 10.2.3). */
function pauseOf(response: Response): number {
  const seconds = Number(response.headers.get('retry-after'));
  return seconds > 0 ? Math.min(seconds * 1000, LONGEST_PAUSE_MS) : DEFAULT_PAUSE_MS;
}
