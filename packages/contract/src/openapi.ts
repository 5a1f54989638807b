import * as z from 'zod';
import { problem } from './problem.ts';
import type { Route } from './route.ts';
import { ROUTES } from './routes.ts';

const PROBLEM_REPLY = {
  description: 'A problem (RFC 9457).',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};

const schemaOf = (type: z.ZodType, io: 'input' | 'output') => z.toJSONSchema(type, { io, unrepresentable: 'any' });

const BYTES = { type: 'string', format: 'binary' };

const FILES = {
  type: 'object',
  required: ['files'],
  properties: { files: { type: 'array', items: BYTES } },
};

function operation(name: string, route: Route) {
  const inPath = [...route.path.matchAll(/:(\w+)/g)].map(([, id]) => ({
    name: id,
    in: 'path',
    required: true,
    schema: { type: 'string' } as object,
  }));
  const query =
    route.query && (schemaOf(route.query, 'input') as { properties: Record<string, object>; required?: string[] });
  const asked = Object.entries(query?.properties ?? {}).map(([name, schema]) => ({
    name,
    in: 'query',
    required: query?.required?.includes(name) ?? false,
    schema,
  }));
  const parameters = [...inPath, ...asked];
  const media = route.takes ?? 'application/json';
  const body = route.takes
    ? route.takes === 'multipart/form-data'
      ? FILES
      : BYTES
    : route.body && schemaOf(route.body, 'input');
  const reply = route.reply
    ? { 'application/json': { schema: schemaOf(route.reply, 'output') } }
    : route.streams && { [route.streams]: { schema: BYTES } };
  return {
    operationId: name,
    summary: route.summary,
    ...(parameters.length ? { parameters } : {}),
    ...(body
      ? { requestBody: { required: !route.body?.safeParse({}).success, content: { [media]: { schema: body } } } }
      : {}),
    responses: {
      [route.status]: { description: 'Done.', ...(reply ? { content: reply } : {}) },
      default: PROBLEM_REPLY,
    },
  };
}

/** The OpenAPI 3.1 description of every route, made from the schemas that check them. */
export function openApiDocument(version: string): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const [name, route] of Object.entries(ROUTES) as [string, Route][]) {
    const path = route.path.replace(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [route.method]: operation(name, route) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Tonos',
      version,
      description: 'Processing chains over voice recordings, run as batches against delivery targets.',
    },
    paths,
    components: { schemas: { Problem: schemaOf(problem, 'output') } },
  };
}
