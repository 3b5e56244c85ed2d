import type { RequestHandler } from 'express';
import { pino } from 'pino';
import { pinoHttp } from 'pino-http';

/** What can open a door, wherever it stands in an address. */
const SECRET_IN_PATH =
  /(\/(?:welcome|calendar|duties|join|guests)\/|\/rehearsal-)[^/?]+|([?&](?:token|key|secret)=)[^&]+/g;

/**
 * A line of JSON for every request that changed something, failed or took long: who asked for what, never a cookie,
 * a token, an address of a person or a body.
 */
export function requestLog(): RequestHandler {
  return pinoHttp({
    logger: pino({ name: 'server' }),
    quietReqLogger: true,
    customLogLevel: (request, response, error) => {
      if (error || response.statusCode >= 500) return 'error';
      if (response.statusCode >= 400) return 'info';
      return request.method === 'GET' || request.method === 'HEAD' ? 'silent' : 'info';
    },
    serializers: {
      req: (request: { method: string; url: string }) => ({
        method: request.method,
        path: request.url.replace(SECRET_IN_PATH, '$1$2…'),
      }),
      res: (response: { statusCode: number }) => ({ status: response.statusCode }),
    },
  }) as RequestHandler;
}
