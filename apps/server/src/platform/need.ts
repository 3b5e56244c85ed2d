import { applyDecorators, SetMetadata } from '@nestjs/common';
import type { Capability } from '@heliphon/core/access/capabilities';

/** What a handler needs: a capability, somebody signed in in a browser, only somebody signed in, or nothing. */
export type Need = Capability | 'own-session' | 'signed-in' | 'public';
export const NEED = 'heliphon:need';

/** Names what a handler needs. A handler without it stops the boot. */
export const Needs = (need: Need): MethodDecorator => applyDecorators(SetMetadata(NEED, need));
