import type { IncomingHttpHeaders } from 'node:http';
import type { Capability, Role } from '@heliphon/core/access/capabilities';

/** Who acts, in which house, by which credential. */
export interface SignedIn {
  readonly kind: 'session' | 'token';
  readonly credentialId: string;
  readonly personId: string;
  readonly personName: string;
  readonly email: string;
  readonly houseId: string;
  readonly roles: readonly Role[];
  /** What a token may do at most; `null`: whatever the roles allow. */
  readonly scopes: readonly Capability[] | null;
}

/** Tells by the headers of a request who acts; people know how. */
export abstract class Recogniser {
  abstract recognise(headers: IncomingHttpHeaders): Promise<SignedIn | null>;
}
