import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { openApiDocument, ROUTES } from './index.ts';
import { SCHEMAS, schemaText } from './schemas.ts';

type Operation = {
  operationId: string;
  parameters?: { name: string; in: string; required: boolean }[];
  requestBody?: { required: boolean; content: Record<string, { schema: Record<string, unknown> }> };
  responses: Record<string, { content?: Record<string, unknown> }>;
};
const { openapi, paths } = openApiDocument('1.2.3') as {
  openapi: string;
  paths: Record<string, Record<string, Operation>>;
};
const operations = Object.values(paths).flatMap((path) => Object.values(path));

describe('the OpenAPI document', () => {
  it('names every route once', () => {
    expect(openapi).toBe('3.1.0');
    expect(operations.map(({ operationId }) => operationId).sort()).toEqual(Object.keys(ROUTES).sort());
  });

  it('names every parameter of a path', () => {
    for (const [path, methods] of Object.entries(paths)) {
      const named = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name);
      for (const { parameters = [] } of Object.values(methods))
        expect(parameters.filter((one) => one.in === 'path').map(({ name }) => name)).toEqual(named);
    }
  });

  it('P20: says what may be left out', () => {
    const required = (path: string, method: string) =>
      (paths[path][method].parameters ?? []).filter((one) => one.required).map(({ name }) => name);
    expect(required('/api/titles/{id}/recordings', 'post')).toEqual(['id']); // replaces, only for a new take
    expect(required('/api/folders', 'get')).toEqual([]);
    expect(required('/api/recordings/{id}/view', 'get')).toEqual(['id', 'from', 'to', 'columns']);
    const wanted = (path: string) => paths[path].post.requestBody!.required;
    expect([wanted('/api/runs/{id}/retry'), wanted('/api/trash/empty'), wanted('/api/titles')]).toEqual([
      false,
      false,
      true,
    ]);
  });

  it('says of every call how it answers, and that its errors are problems', () => {
    for (const { responses } of operations) {
      expect(Object.keys(responses.default.content!)).toEqual(['application/problem+json']);
      const [status, done] = Object.entries(responses).find(([code]) => /^[23]/.test(code))!;
      if (status !== '204') expect(Object.keys(done.content!).length).toBe(1);
    }
  });

  it('carries the ranges of the schemas that check', () => {
    const body = paths['/api/titles'].post.requestBody!.content['application/json'].schema as {
      properties: { name: { maxLength: number } };
    };
    expect(body.properties.name.maxLength).toBe(200);
  });
});

it.each(Object.entries(SCHEMAS))(
  'docs/schemas/%s.schema.json is what the code checks (npm run schemas)',
  (name, schema) => {
    expect(readFileSync(join(import.meta.dirname, '../../../docs/schemas', `${name}.schema.json`), 'utf8')).toBe(
      schemaText(name, schema),
    );
  },
);
