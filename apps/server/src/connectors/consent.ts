import * as oauth from 'oauth4webapi';
import { type Result, refuse, succeed } from '@heliphon/core/result';
import type { PlatformSettings } from '../platform/config.js';
import type { Answer, ConnectorRefusal, ConsentAsk, Grant } from './connector.js';

const ANSWERS_WITHIN_MS = 8000;

/** Consents by the code grant of OAuth 2.0 with PKCE (RFC 6749, 7636), and what becomes of their tokens (RFC 7009). */
export class Consent {
  readonly #platform: oauth.AuthorizationServer;
  readonly #client: oauth.Client;
  readonly #proof: oauth.ClientAuth;

  /** @param paths - where this platform has what the standards leave open */
  constructor(
    { url, clientId, clientSecret }: PlatformSettings,
    paths: { readonly consent: string; readonly token: string; readonly revoke: string },
  ) {
    this.#platform = {
      issuer: url,
      authorization_endpoint: url + paths.consent,
      token_endpoint: url + paths.token,
      revocation_endpoint: url + paths.revoke,
    };
    this.#client = { client_id: clientId };
    this.#proof = oauth.ClientSecretPost(clientSecret);
  }

  async address({ state, verifier, redirectAddress }: ConsentAsk): Promise<string> {
    const address = new URL(this.#platform.authorization_endpoint!);
    const parameters = {
      response_type: 'code',
      client_id: this.#client.client_id,
      redirect_uri: redirectAddress,
      state,
      code_challenge: await oauth.calculatePKCECodeChallenge(verifier),
      code_challenge_method: 'S256',
    };
    for (const [name, value] of Object.entries(parameters)) address.searchParams.set(name, value);
    return address.href;
  }

  /** @param nowMs - when the tokens came, for their end */
  exchange(back: URL, { state, verifier, redirectAddress }: ConsentAsk, nowMs: number): Answer<Grant> {
    return this.#asked(async () => {
      const parameters = oauth.validateAuthResponse(this.#platform, this.#client, back, state);
      const response = await oauth.authorizationCodeGrantRequest(
        this.#platform,
        this.#client,
        this.#proof,
        parameters,
        redirectAddress,
        verifier,
        this.#options,
      );
      return grantOf(
        await oauth.processAuthorizationCodeResponse(this.#platform, this.#client, response),
        nowMs,
      );
    });
  }

  refresh(refreshToken: string, nowMs: number): Answer<Grant> {
    return this.#asked(async () => {
      const response = await oauth.refreshTokenGrantRequest(
        this.#platform,
        this.#client,
        this.#proof,
        refreshToken,
        this.#options,
      );
      const tokens = await oauth.processRefreshTokenResponse(this.#platform, this.#client, response);
      return grantOf({ refresh_token: refreshToken, ...tokens }, nowMs);
    });
  }

  revoke(refreshToken: string): Answer<null> {
    return this.#asked(async () => {
      const response = await oauth.revocationRequest(
        this.#platform,
        this.#client,
        this.#proof,
        refreshToken,
        this.#options,
      );
      await oauth.processRevocationResponse(response);
      return null;
    });
  }

  get #options(): oauth.TokenEndpointRequestOptions {
    return {
      signal: AbortSignal.timeout(ANSWERS_WITHIN_MS),
      // Only an installation's own settings name a platform, and only one on this machine goes without TLS.
      [oauth.allowInsecureRequests]: ['localhost', '127.0.0.1'].includes(
        new URL(this.#platform.issuer).hostname,
      ),
    };
  }

  async #asked<T>(work: () => Promise<T>): Promise<Result<T, ConnectorRefusal>> {
    try {
      return succeed(await work());
    } catch (error) {
      return refuse(refusalOf(error));
    }
  }
}

function grantOf(tokens: oauth.TokenEndpointResponse, nowMs: number): Grant {
  return {
    accessToken: tokens.access_token,
    accessEndsAtMs: nowMs + (tokens.expires_in ?? 0) * 1000,
    refreshToken: tokens.refresh_token ?? '',
  };
}

const ENDED = new Set(['invalid_grant', 'access_denied', 'unauthorized_client']);

function refusalOf(error: unknown): ConnectorRefusal {
  if (error instanceof oauth.ResponseBodyError || error instanceof oauth.AuthorizationResponseError)
    return ENDED.has(error.error) ? { code: 'consent-ended' } : { code: 'not-understood', said: error.error };
  // An answer with another state, or one that is not what the standard says.
  if (error instanceof oauth.OperationProcessingError) {
    const { cause } = error;
    return cause instanceof Response && cause.status >= 500
      ? { code: 'out-of-order' }
      : { code: 'not-understood', said: error.message };
  }
  return { code: 'out-of-order' };
}
