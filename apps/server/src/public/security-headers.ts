import type { NextFunction, Request, RequestHandler, Response } from 'express';
import helmet from 'helmet';
import type { VisitCounter } from '@heliphon/contracts/house';
import type { MediaNodes } from '../nodes/media-nodes.js';

/** Which kind of page is answered: each may do no more than it needs. */
export type PageKind = 'console' | 'public' | 'embed';

/** Who may show a page in a frame: embeds those whom the event names, watch pages our own console, which tries looks out on them. */
const FRAMED_BY = {
  console: "frame-ancestors 'none'",
  public: "frame-ancestors 'self'",
  embed: 'frame-ancestors *',
} as const satisfies Record<PageKind, string>;

/** Headers that every answer carries; pages add their own policy. */
export const securityHeaders = (): RequestHandler =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: { 'default-src': ["'none'"], 'frame-ancestors': ["'none'"] },
    },
    crossOriginResourcePolicy: { policy: 'cross-origin' },
    referrerPolicy: { policy: 'strict-origin-when-cross-origin' },
    strictTransportSecurity: false, // the balancer that ends TLS says it
  });

/**
 * What a page may load (W3C Content Security Policy Level 3): itself, the media nodes, and nothing of others.
 * Styles may stand in the document, since React and the charts write them there; scripts never.
 */
export function pagePolicy(kind: PageKind, nodes: MediaNodes): RequestHandler {
  return (request: Request, response: Response, next: NextFunction) => {
    const origins = nodes.origins(request.headers.host ?? '');
    const media = origins.join(' ');
    // A scheme of its own: an address by HTTP does not stand for its sockets.
    const sockets = origins.map((origin) => origin.replace(/^http/, 'ws')).join(' ');
    const directives = [
      "default-src 'self'",
      "script-src 'self'",
      "style-src 'self' 'unsafe-inline'",
      `img-src 'self' data: blob: ${media}`,
      `media-src 'self' blob: ${media}`,
      `connect-src 'self' ${media} ${sockets}${kind === 'console' ? ' data:' : ''}`,
      "worker-src 'self' blob:",
      "font-src 'self' data:",
      "object-src 'none'",
      "base-uri 'none'",
      "form-action 'self'",
      FRAMED_BY[kind],
    ];
    response.setHeader('Content-Security-Policy', directives.join('; '));
    if (kind !== 'embed') return next();
    response.removeHeader('X-Frame-Options'); // an embed is there to be framed
    isolable(request, response, next);
  };
}

/** Opens a page to the counter that its house runs: its script alone, and what that says to where it came from. */
export function letCount(response: Response, { scriptUrl }: VisitCounter): void {
  const { origin } = new URL(scriptUrl);
  const policy = String(response.getHeader('Content-Security-Policy'))
    .replace("script-src 'self'", `script-src 'self' ${scriptUrl}`)
    .replace("connect-src 'self'", `connect-src 'self' ${origin}`)
    .replace("img-src 'self'", `img-src 'self' ${origin}`);
  response.setHeader('Content-Security-Policy', policy);
}

/** Narrows who may show an embed in a frame. @param ancestors - as in the policy (W3C CSP Level 3, 6.4.2) */
export function setFrameAncestors(response: Response, ancestors: string): void {
  const policy = String(response.getHeader('Content-Security-Policy'));
  response.setHeader(
    'Content-Security-Policy',
    policy.replace(FRAMED_BY.embed, `frame-ancestors ${ancestors}`),
  );
}

/** Lets a page that isolates itself frame ours, and ours start its workers (W3C Cross-Origin-Embedder-Policy). */
export const isolable: RequestHandler = (_request, response, next) => {
  response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp');
  next();
};

/** Lets a script stand between watch pages and the line, and ask for them; it may do nothing else (W3C Service Workers, 6.6). */
export const ownWorker: RequestHandler = (_request, response, next) => {
  response.setHeader('Service-Worker-Allowed', '/watch/');
  response.setHeader('Content-Security-Policy', "default-src 'none'; connect-src 'self'");
  next();
};
