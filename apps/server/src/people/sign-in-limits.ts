import { SIGN_IN_RULES } from '@heliphon/core/access/token-bucket';
import { type Buckets, Limiter } from '../platform/shared/limits.js';

/** How often somebody may be wrong about a password: by account and address together, and by each alone. */
export class SignInLimits {
  readonly #pairs: Limiter;
  readonly #accounts: Limiter;
  readonly #addresses: Limiter;

  constructor(buckets: Buckets) {
    this.#pairs = new Limiter(buckets, 'sign-in by pair', SIGN_IN_RULES.pair);
    this.#accounts = new Limiter(buckets, 'sign-in by account', SIGN_IN_RULES.account);
    this.#addresses = new Limiter(buckets, 'sign-in by address', SIGN_IN_RULES.address);
  }

  /**
   * Counts a try as wrong until it is said to be right.
   * @param email - in its canonical form: other spellings would have limits of their own
   * @throws ProblemError 429
   */
  async begin(email: string, address: string): Promise<{ wasRight: () => Promise<void> }> {
    const pair = `${email} ${address}`;
    await this.#pairs.require(pair, 'too-many-tries');
    await this.#addresses.require(address, 'too-many-tries');
    await this.#accounts.require(email, 'too-many-tries');
    return {
      wasRight: async () => {
        await this.#pairs.forget(pair);
        await this.#addresses.giveBack(address);
        await this.#accounts.forget(email);
      },
    };
  }
}
