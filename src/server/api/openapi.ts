import * as z from 'zod';
import { allRoutes, type Route } from '../../contract';

type Json = Record<string, unknown>;

const schemaOf = (schema: z.ZodType, io: 'input' | 'output'): Json => {
  const made = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Json;
  delete made.$schema;
  return made;
};

/** Parameters of a path or a query, one for each property of its schema. */
function parametersOf(schema: z.ZodType | undefined, at: 'path' | 'query'): Json[] {
  if (!schema) return [];
  const { properties = {}, required = [] } = schemaOf(schema, 'input') as {
    properties?: Record<string, Json>;
    required?: string[];
  };
  return Object.entries(properties).map(([name, of]) => ({
    name,
    in: at,
    required: at === 'path' || required.includes(name),
    // parameters in an address are text; the schema says how they are parsed
    schema: Object.keys(of).length > 0 ? of : { type: 'string' },
  }));
}

const problem = { $ref: '#/components/responses/Problem' };

function operationOf(name: string, route: Route): Json {
  const files = 'files' in route.answer ? route.answer.files : undefined;
  const headers = route.repeats
    ? [
        {
          name: 'Idempotency-Key',
          in: 'header',
          required: false,
          schema: { type: 'string', maxLength: 100 },
          description:
            'A request repeated with the same key within a day is done once and gets the same answer.',
        },
      ]
    : [];
  const match = ['PATCH', 'DELETE'].includes(route.method)
    ? [{ name: 'If-Match', in: 'header', required: false, schema: { type: 'string' } }]
    : [];
  return {
    operationId: name,
    summary: route.about,
    ...(route.key ? { security: [{ key: [] }], 'x-needs': route.key } : { security: [] }),
    parameters: [
      ...parametersOf(route.params, 'path'),
      ...parametersOf(route.query, 'query'),
      ...headers,
      ...match,
    ],
    ...(route.body
      ? {
          requestBody: {
            required: true,
            content: { 'application/json': { schema: schemaOf(route.body, 'input') } },
          },
        }
      : route.upload
        ? {
            requestBody: {
              required: true,
              content: { 'application/x-ndjson': { schema: { type: 'string' } } },
            },
          }
        : {}),
    responses: {
      200: {
        description: 'As asked.',
        content: files
          ? Object.fromEntries(files.map((type) => [type, { schema: {} }]))
          : { 'application/json': { schema: schemaOf(route.answer as z.ZodType, 'output') } },
      },
      default: problem,
    },
  };
}

/**
 * Our interface for programs, described in OpenAPI 3.1 out of the contract that the handlers run.
 */
export function openApi(base: string): Json {
  const paths: Record<string, Json> = {};
  for (const [name, route] of allRoutes)
    if (route.path.startsWith('/api/v1/'))
      (paths[route.path] ??= {})[route.method.toLowerCase()] = operationOf(name, route);
  return {
    openapi: '3.1.0',
    info: {
      title: 'Hand Stamp',
      version: '1',
      description:
        'Lists, records and their codes, runs and links. An administrator creates an API key in Settings; send it as “Authorization: Bearer”. Errors are problem details (RFC 9457).',
    },
    servers: [{ url: base }],
    paths,
    components: {
      securitySchemes: { key: { type: 'http', scheme: 'bearer' } },
      responses: {
        Problem: {
          description: 'What is wrong, in words.',
          content: {
            'application/problem+json': {
              schema: {
                type: 'object',
                required: ['type', 'title', 'status', 'detail'],
                properties: {
                  type: { type: 'string' },
                  title: { type: 'string' },
                  status: { type: 'integer' },
                  detail: { type: 'string' },
                  instance: { type: 'string' },
                },
              },
            },
          },
        },
      },
    },
  };
}
