import { createHash, randomBytes } from 'node:crypto';
import { answerConsent, CLIENT, type Given, type PlatformName } from './world.js';

export const REDIRECT_BASE = 'http://127.0.0.1:9/linked';

export interface Answer<T> {
  readonly status: number;
  readonly body: T;
  readonly headers: Headers;
}

interface Tokens {
  readonly access_token: string;
  readonly refresh_token: string;
  readonly expires_in: number;
}

/** An application as a platform sees it: its consents, and its questions with a token. */
export class PlatformClient {
  access = '';
  refresh = '';

  constructor(
    readonly site: string,
    readonly platform: PlatformName,
  ) {}

  get redirectAddress(): string {
    return `${REDIRECT_BASE}/${this.platform}`;
  }

  /** What a person's browser is sent to, and the secret that belongs to it. */
  ask(change: Readonly<Record<string, string>> = {}): { query: URLSearchParams; verifier: string } {
    const verifier = randomBytes(32).toString('base64url');
    const query = new URLSearchParams({
      response_type: 'code',
      client_id: CLIENT.id,
      redirect_uri: this.redirectAddress,
      state: 'state-of-ours',
      code_challenge: createHash('sha256').update(verifier).digest('base64url'),
      code_challenge_method: 'S256',
      ...change,
    });
    return { query, verifier };
  }

  page(path: string): Promise<Response> {
    return fetch(this.site + path, { redirect: 'manual' });
  }

  /** The person answers on the consent page. @returns where they are sent back to */
  answer(query: URLSearchParams, given: Given): Promise<URL> {
    return answerConsent(`${this.site}/consent?${query.toString()}`, given);
  }

  async token(fields: Readonly<Record<string, string>>): Promise<Answer<Tokens & { error?: string }>> {
    const body = new URLSearchParams({ client_id: CLIENT.id, client_secret: CLIENT.secret, ...fields });
    const answer = await fetch(`${this.site}/oauth/token`, { method: 'POST', body });
    return { status: answer.status, headers: answer.headers, body: (await answer.json()) as Tokens };
  }

  /** From the consent page to a token that is used from now on. */
  async link(person: string, outlets: readonly string[], audience = 'everyone'): Promise<void> {
    const { query, verifier } = this.ask();
    const back = await this.answer(query, { person, outlets, audience });
    await this.take({
      grant_type: 'authorization_code',
      code: back.searchParams.get('code')!,
      code_verifier: verifier,
      redirect_uri: this.redirectAddress,
    });
  }

  renew(): Promise<Answer<{ error?: string }>> {
    return this.take({ grant_type: 'refresh_token', refresh_token: this.refresh });
  }

  async take(fields: Readonly<Record<string, string>>): Promise<Answer<Tokens & { error?: string }>> {
    const answer = await this.token(fields);
    if (answer.status === 200)
      [this.access, this.refresh] = [answer.body.access_token, answer.body.refresh_token];
    return answer;
  }

  async call<T = Readonly<Record<string, unknown>>>(
    method: string,
    path: string,
    body?: object | Buffer,
  ): Promise<Answer<T>> {
    const type = body instanceof Buffer ? 'image/jpeg' : 'application/json';
    const answer = await fetch(this.site + path, {
      method,
      headers: { authorization: `Bearer ${this.access}`, ...(body ? { 'content-type': type } : {}) },
      body: body instanceof Buffer ? new Uint8Array(body) : body ? JSON.stringify(body) : null,
    });
    const text = await answer.text();
    const isJson = answer.headers.get('content-type')?.includes('json');
    return { status: answer.status, headers: answer.headers, body: (isJson ? JSON.parse(text) : text) as T };
  }

  fault(order: object, path = ''): Promise<Answer<unknown>> {
    return this.call('POST', `/faults${path}`, order);
  }
}
