import type Joi from 'joi';
import type { Need } from '../platform/need.js';
import type { Route } from '../platform/routes.js';

const PROBLEM = {
  type: 'object',
  description:
    'RFC 9457 problem details; `code` with `params` says what happened, `fields` which fields were wrong.',
  required: ['type', 'status', 'title', 'code', 'params'],
  properties: {
    type: { const: 'about:blank' },
    status: { type: 'integer' },
    title: { type: 'string' },
    code: { type: 'string' },
    params: { type: 'object', additionalProperties: { type: ['string', 'number'] } },
    fields: {
      type: 'array',
      items: { type: 'object', properties: { path: { type: 'string' }, message: { type: 'string' } } },
    },
    current: { description: 'The present state of what was edited, when an edit came too late.' },
  },
};

const STANDARD_JSON_SCHEMA = { target: 'draft-2020-12' } as const;

/** Describes the HTTP interface (OpenAPI 3.1). Bodies are the contracts themselves, as JSON Schema. */
export function describeApi(routes: readonly Route[]): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const route of routes) {
    const path = route.path.replace(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [route.method.toLowerCase()]: describeRoute(route) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Heliphon',
      version: '1',
      description:
        'Lists are paged: pass `next` of an answer as `?after=`. An edit names the version it knows in `If-Match`; 412 carries the present state.',
    },
    paths,
    components: {
      schemas: { Problem: PROBLEM },
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'A personal access token, made in Our house.' },
      },
    },
  };
}

function describeRoute({ method, path, name, need, body }: Route): object {
  const [, operation] = name.split('.');
  const isList = method === 'GET' && !path.endsWith('}') && !/:\w+$/.test(path);
  return {
    operationId: name.replace('Controller.', '_'),
    summary: operation!.replace(/([A-Z])/g, ' $1').toLowerCase(),
    description: needWords(need),
    security: need === 'public' ? [] : [{ token: [] }],
    parameters: [
      ...[...path.matchAll(/:(\w+)/g)].map(([, parameter]) => ({
        name: parameter,
        in: 'path',
        required: true,
        schema: { type: 'string' },
      })),
      ...(method === 'PATCH' ? [{ name: 'If-Match', in: 'header', schema: { type: 'string' } }] : []),
      ...(isList
        ? ['after', 'limit'].map((query) => ({ name: query, in: 'query', schema: { type: 'string' } }))
        : []),
    ],
    ...(body
      ? { requestBody: { required: true, content: { 'application/json': { schema: jsonSchemaOf(body) } } } }
      : {}),
    responses: {
      '2XX': { description: 'Done', content: { 'application/json': {} } },
      default: {
        description: 'What went wrong',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  };
}

/** Joi 18 writes JSON Schema itself; the interface is that of the "Standard JSON Schema" agreement. */
function jsonSchemaOf(schema: Joi.Schema): object {
  const standard = (schema as unknown as { '~standard': { jsonSchema: { input(options: object): object } } })[
    '~standard'
  ];
  return standard.jsonSchema.input(STANDARD_JSON_SCHEMA);
}

function needWords(need: Need | undefined): string {
  if (need === 'public') return 'For everybody.';
  if (need === 'signed-in') return 'For whoever is signed in.';
  if (need === 'own-session') return 'For whoever is signed in in a browser; not for tokens.';
  return `Needs the capability ${need}.`;
}
