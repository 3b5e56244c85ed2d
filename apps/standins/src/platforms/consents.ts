import { createHash, randomBytes } from 'node:crypto';

/** Who may see what is posted in somebody's name. */
export const AUDIENCES = ['only-me', 'friends', 'everyone'] as const;
export type Audience = (typeof AUDIENCES)[number];

/** An application that may ask for consents. */
export interface Client {
  readonly id: string;
  /** As people know it. */
  readonly name: string;
  readonly secret: string;
  readonly redirectAddress: string;
}

/** What an application asks for (RFC 6749, 4.1.1, with PKCE by S256, RFC 7636). */
export interface Ask {
  readonly clientId: string;
  readonly redirectAddress: string;
  readonly state: string;
  readonly codeChallenge: string;
}

export interface Consent {
  readonly id: string;
  readonly clientId: string;
  readonly personId: string;
  readonly outletIds: readonly string[];
  readonly audience: Audience;
  /** No refreshing helps beyond it: the person has to be asked again. */
  readonly endsAtMs: number;
}

export interface Tokens {
  readonly accessToken: string;
  readonly refreshToken: string;
  readonly expiresInSeconds: number;
}

/** Refusals by the codes of RFC 6749, 4.1.2.1 and 5.2. */
export class OAuthError extends Error {
  constructor(
    readonly code: 'invalid_request' | 'invalid_client' | 'invalid_grant' | 'unsupported_response_type',
    words: string,
  ) {
    super(words);
  }
}

const HOUR_MS = 3_600_000;
const CODE_LASTS_MS = 60_000;
export const ACCESS_LASTS_MS = HOUR_MS;
export const CONSENT_LASTS_MS = 60 * 24 * HOUR_MS;

interface Code {
  readonly consent: Consent;
  readonly ask: Ask;
  readonly endsAtMs: number;
}
interface Access {
  readonly consentId: string;
  readonly endsAtMs: number;
}

/** The consents that people of a platform have given, and the tokens by which they are known. Time is passed in. */
export class Consents {
  readonly #codes = new Map<string, Code>();
  readonly #consents = new Map<string, Consent>();
  readonly #access = new Map<string, Access>();
  /** The one refresh token of a consent that is good now, and those that were. */
  readonly #refresh = new Map<string, { readonly consentId: string; isUsed: boolean }>();

  constructor(private readonly client: Client) {}

  /** @throws OAuthError where the ask is not to be answered by a redirect */
  readAsk(query: Readonly<Record<string, unknown>>): Ask {
    const {
      client_id: clientId,
      redirect_uri: redirectAddress,
      state,
      code_challenge: codeChallenge,
    } = query;
    if (clientId !== this.client.id)
      throw new OAuthError('invalid_client', 'We do not know this application.');
    if (redirectAddress !== this.client.redirectAddress)
      throw new OAuthError('invalid_request', 'The application has not registered this address.');
    if (query.response_type !== 'code')
      throw new OAuthError('unsupported_response_type', 'Only codes are given.');
    if (typeof state !== 'string' || state === '')
      throw new OAuthError('invalid_request', 'A state is missing.');
    if (query.code_challenge_method !== 'S256' || typeof codeChallenge !== 'string' || codeChallenge === '')
      throw new OAuthError('invalid_request', 'A code challenge by S256 is missing.');
    return { clientId, redirectAddress, state, codeChallenge };
  }

  /** @returns where the person's browser goes next, with a code */
  grant(ask: Ask, given: Pick<Consent, 'personId' | 'outletIds' | 'audience'>, nowMs: number): string {
    const consent: Consent = {
      ...given,
      id: secret(8),
      clientId: ask.clientId,
      endsAtMs: nowMs + CONSENT_LASTS_MS,
    };
    const code = secret(16);
    this.#codes.set(code, { consent, ask, endsAtMs: nowMs + CODE_LASTS_MS });
    return redirect(ask, { code });
  }

  deny(ask: Ask): string {
    return redirect(ask, { error: 'access_denied' });
  }

  /** A token for a code or for a refresh token; each of them once (RFC 6749, 4.1.3 and 6). @throws OAuthError */
  tokens(body: Readonly<Record<string, unknown>>, nowMs: number): Tokens {
    if (body.client_id !== this.client.id || body.client_secret !== this.client.secret)
      throw new OAuthError('invalid_client', 'We do not know this application.');
    if (body.grant_type === 'authorization_code') return this.#exchange(body, nowMs);
    if (body.grant_type === 'refresh_token') return this.#refreshed(String(body.refresh_token), nowMs);
    throw new OAuthError('invalid_request', 'There is no such grant.');
  }

  /** The consent behind an access token, or `null` where it is not good any more. */
  consentOf(accessToken: string, nowMs: number): Consent | null {
    const access = this.#access.get(accessToken);
    if (!access || access.endsAtMs <= nowMs) return null;
    return this.#consents.get(access.consentId) ?? null;
  }

  /** RFC 7009: of either token; the whole consent ends. */
  revokeToken(token: string): void {
    const consentId = this.#access.get(token)?.consentId ?? this.#refresh.get(token)?.consentId;
    if (consentId) this.#consents.delete(consentId);
  }

  /** Those that a person has given and not taken back. */
  of(personId: string): Consent[] {
    return [...this.#consents.values()].filter((consent) => consent.personId === personId);
  }

  /** The person has thought better of it. */
  revokeAll(personId: string): void {
    for (const { id } of this.of(personId)) this.#consents.delete(id);
  }

  expireAccess(): void {
    this.#access.clear();
  }

  #exchange(body: Readonly<Record<string, unknown>>, nowMs: number): Tokens {
    const code = this.#codes.get(String(body.code));
    this.#codes.delete(String(body.code));
    if (!code || code.endsAtMs <= nowMs || body.redirect_uri !== code.ask.redirectAddress)
      throw new OAuthError('invalid_grant', 'The code is not good any more.');
    const challenge = createHash('sha256').update(String(body.code_verifier)).digest('base64url');
    if (challenge !== code.ask.codeChallenge)
      throw new OAuthError('invalid_grant', 'The verifier is another.');
    this.#consents.set(code.consent.id, code.consent);
    return this.#issue(code.consent.id, nowMs);
  }

  #refreshed(token: string, nowMs: number): Tokens {
    const known = this.#refresh.get(token);
    const consent = known && this.#consents.get(known.consentId);
    if (!known || !consent || consent.endsAtMs <= nowMs)
      throw new OAuthError('invalid_grant', 'The consent has ended.');
    if (known.isUsed) {
      // A token that turns up twice was stolen from one of the two (RFC 9700, 4.14.2).
      this.#consents.delete(consent.id);
      throw new OAuthError('invalid_grant', 'The refresh token was used before. The consent has ended.');
    }
    known.isUsed = true;
    return this.#issue(consent.id, nowMs);
  }

  #issue(consentId: string, nowMs: number): Tokens {
    const [accessToken, refreshToken] = [secret(24), secret(24)];
    this.#access.set(accessToken, { consentId, endsAtMs: nowMs + ACCESS_LASTS_MS });
    this.#refresh.set(refreshToken, { consentId, isUsed: false });
    return { accessToken, refreshToken, expiresInSeconds: ACCESS_LASTS_MS / 1000 };
  }
}

const secret = (bytes: number): string => randomBytes(bytes).toString('base64url');

function redirect({ redirectAddress, state }: Ask, parameters: Readonly<Record<string, string>>): string {
  const address = new URL(redirectAddress);
  for (const [name, value] of Object.entries({ ...parameters, state })) address.searchParams.set(name, value);
  return address.href;
}
