import type { NextFunction, Request, RequestHandler, Response } from 'express';
import helmet from 'helmet';
import type { MediaNodes } from '../nodes/media-nodes.js';

/** Which kind of page is answered: each may do no more than it needs. */
export type PageKind = 'console' | 'public' | 'embed';

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
      kind === 'embed' ? 'frame-ancestors *' : "frame-ancestors 'none'",
    ];
    response.setHeader('Content-Security-Policy', directives.join('; '));
    if (kind !== 'embed') return next();
    response.removeHeader('X-Frame-Options'); // an embed is there to be framed
    isolable(request, response, next);
  };
}

/** Lets a page that isolates itself frame ours, and ours start its workers (W3C Cross-Origin-Embedder-Policy). */
export const isolable: RequestHandler = (_request, response, next) => {
  response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp');
  next();
};
