import type { Answer, ConsentAsk, Grant } from './connector.js';
import type { Consent } from './consent.js';

/** What all connectors have in common whose platforms ask for consents by the standard. */
export abstract class OAuthConnector {
  constructor(
    private readonly consent: Consent,
    private readonly nowMs: () => number,
  ) {}

  consentAddress(ask: ConsentAsk): Promise<string> {
    return this.consent.address(ask);
  }

  exchange(back: URL, ask: ConsentAsk): Answer<Grant> {
    return this.consent.exchange(back, ask, this.nowMs());
  }

  refresh(refreshToken: string): Answer<Grant> {
    return this.consent.refresh(refreshToken, this.nowMs());
  }

  revoke(refreshToken: string): Answer<null> {
    return this.consent.revoke(refreshToken);
  }
}
