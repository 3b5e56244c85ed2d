import type { Request } from 'express';
import type { Consent } from './consents.js';
import type { Posting } from './postings.js';
import type { PlatformWorld } from './world.js';

/** Who asks a platform, and for which posting. @param refusals - as the platform tells them */
export function asked(
  world: PlatformWorld,
  refusals: { readonly token: () => Error; readonly unknown: () => Error },
) {
  const consentOf = (request: Request): Consent => {
    const consent = world.consentOf(request);
    if (!consent) throw refusals.token();
    return consent;
  };
  /** Of an outlet that the consent covers; any other is not found. */
  const postingOf = (request: Request<{ id: string }>): Posting => {
    const posting = world.postings.get(request.params.id);
    if (!posting || !consentOf(request).outletIds.includes(posting.outletId)) throw refusals.unknown();
    return posting;
  };
  return { consentOf, postingOf };
}
