import type { RequestHandler } from 'express';

/** Addresses are made from the host that somebody asked: one that is none is refused at the door (RFC 9110, 7.2). */
export const requireHost = (): RequestHandler => (request, response, next) => {
  if (URL.canParse(`http://${request.headers.host ?? ''}`)) return next();
  response.status(400).type('text/plain').send('This Host is none.');
};
