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

/** JSON Schemas by name; what a route answers is named after its handler. */
export type AnswerSchemas = Readonly<Record<string, object>>;

/**
 * Describes the HTTP interface (OpenAPI 3.1). Bodies and answers are the contracts themselves, as JSON Schema.
 * @param address - where the interface is, whole or from this host's root.
 */
export function describeApi(routes: readonly Route[], answers: AnswerSchemas, address: string): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const route of routes) {
    const path = route.path.replace(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [route.method.toLowerCase()]: describeRoute(route, answers) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Heliphon',
      version: '1',
      description:
        'Lists are paged: pass `next` of an answer as `?after=`. An edit names the version it knows in `If-Match`; 412 carries the present state.',
    },
    servers: [{ url: address }],
    paths,
    components: {
      schemas: { ...answers, Problem: PROBLEM },
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'A personal access token, made in Our house.' },
      },
    },
  };
}

function describeRoute({ path, name, need, body, reads }: Route, answers: AnswerSchemas): object {
  const answer = name.replace('.', '_');
  const [, operation] = name.split('.');
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
      ...(reads.includes('version')
        ? [{ name: 'If-Match', required: true, in: 'header', schema: { type: 'string' } }]
        : []),
      ...(reads.includes('page')
        ? ['after', 'limit'].map((query) => ({ name: query, in: 'query', schema: { type: 'string' } }))
        : []),
    ],
    ...(body
      ? { requestBody: { required: true, content: { 'application/json': { schema: jsonSchemaOf(body) } } } }
      : {}),
    responses: {
      '2XX': {
        description: 'Done',
        ...(answer in answers
          ? { content: { 'application/json': { schema: { $ref: `#/components/schemas/${answer}` } } } }
          : {}),
      },
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
  if (need === 'signed-in') return 'For anyone who is signed in.';
  if (need === 'own-session') return 'For anyone who is signed in in a browser; not for tokens.';
  return `Needs the capability ${need}.`;
}
