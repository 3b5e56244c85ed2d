import {
  type CanActivate,
  createParamDecorator,
  type ExecutionContext,
  Inject,
  Injectable,
  type OnModuleInit,
} from '@nestjs/common';
import { DiscoveryService, MetadataScanner, Reflector } from '@nestjs/core';
import type { Request } from 'express';
import { Recogniser, type SignedIn } from './signed-in.js';
import { CONFIG, type ServerConfig } from './config.js';
import { type Context, mayDo } from './database.js';
import { DatabaseWatch } from './database-watch.js';
import { NEED, type Need } from './need.js';
import { ProblemError } from './problems.js';
import { routesOf } from './routes.js';

/** What anybody's website may ask. */
export const OPEN_PATH = '/api/public/';

export interface HeliphonRequest extends Request {
  signedIn?: SignedIn;
}

/** The acting person and house of this request. */
export const Ctx = createParamDecorator((_: unknown, host: ExecutionContext): Context => {
  const { signedIn } = host.switchToHttp().getRequest<HeliphonRequest>();
  if (!signedIn) throw new ProblemError(401, 'not-signed-in');
  return contextOf(signedIn);
});

export const contextOf = ({ houseId, personId, personName, roles, scopes }: SignedIn): Context => ({
  houseId,
  by: personId,
  byName: personName,
  roles,
  scopes,
});

/** Decides every request, by what its handler needs. */
@Injectable()
export class AccessGuard implements CanActivate, OnModuleInit {
  constructor(
    private readonly reflector: Reflector,
    private readonly discovery: DiscoveryService,
    private readonly scanner: MetadataScanner,
    private readonly recogniser: Recogniser,
    private readonly watch: DatabaseWatch,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  onModuleInit(): void {
    const bare = routesOf(this.discovery, this.scanner).find(({ need }) => need === undefined);
    if (bare) throw new Error(`${bare.name} does not name what it needs`);
  }

  async canActivate(host: ExecutionContext): Promise<boolean> {
    const request = host.switchToHttp().getRequest<HeliphonRequest>();
    if (this.watch.isAway) throw new ProblemError(503, 'database-away', {}, { retryAfterSeconds: 2 });
    const need = this.reflector.get<Need>(NEED, host.getHandler());
    if (need === 'public') {
      // What is for everybody's site knows nobody by a cookie, so that there is nothing to forge.
      if (!request.path.startsWith(OPEN_PATH)) this.#requireOwnOrigin(request);
      return true;
    }
    const signedIn = await this.recogniser.recognise(request.headers);
    if (!signedIn) throw new ProblemError(401, 'not-signed-in');
    if (signedIn.kind === 'session') this.#requireOwnOrigin(request);
    if (!isMet(need, signedIn)) throw new ProblemError(403, 'not-allowed', { need });
    request.signedIn = signedIn;
    return true;
  }

  /** A change that another website's page asks for in somebody's browser is refused. */
  #requireOwnOrigin(request: Request): void {
    if (request.method === 'GET' || request.method === 'HEAD') return;
    if (!isOwnOrigin(request.headers.origin, request.headers.host, this.config)) {
      throw new ProblemError(403, 'other-origin');
    }
  }
}

function isMet(need: Exclude<Need, 'public'>, signedIn: SignedIn): boolean {
  if (need === 'signed-in') return true;
  if (need === 'own-session') return signedIn.kind === 'session';
  return mayDo(signedIn, need);
}

/** True when a request's Origin is ours; programs that are no browser send none. */
export function isOwnOrigin(
  origin: string | undefined,
  host: string | undefined,
  config: ServerConfig,
): boolean {
  if (origin === undefined) return true;
  if (config.publicUrl && origin === new URL(config.publicUrl).origin) return true;
  return URL.canParse(origin) && new URL(origin).host === host;
}
