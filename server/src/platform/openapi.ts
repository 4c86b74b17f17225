/** OpenAPI 3.1, generated from the contract: its schema dialect is JSON Schema 2020-12, which Zod writes itself. */
import { z } from 'zod';
import { api, problemDetails, type AnyRoute, type Schema } from '@terrace/contract';

type Json = Readonly<Record<string, unknown>>;

function schemaOf(schema: Schema, io: 'input' | 'output'): Json {
  const { $schema: _dialect, ...rest } = z.toJSONSchema(schema, { io, target: 'draft-2020-12', unrepresentable: 'any' });
  return rest;
}

function parametersOf(schema: Schema, place: 'path' | 'query'): Json[] {
  const { properties = {}, required = [] } = schemaOf(schema, 'input') as { properties?: Record<string, Json>; required?: string[] };
  return Object.entries(properties).map(([name, each]) => ({ name, in: place, required: place === 'path' || required.includes(name), schema: each }));
}

function operationOf(name: string, room: string, route: AnyRoute): Json {
  const changes = route.method !== 'get' && route.right !== 'public';
  const key = { name: 'Idempotency-Key', in: 'header', required: true, schema: { type: 'string', minLength: 8, maxLength: 100 } };
  const refused = { description: 'Refused, and why', content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } } };
  return {
    operationId: name,
    tags: [room],
    summary: route.summary,
    description:
      route.right === 'public'
        ? 'For everybody.'
        : route.right === 'signedIn'
          ? 'For everybody who is signed in.'
          : `Takes the right ${route.right}.`,
    ...(route.right === 'public' ? {} : { security: [{ token: [] }] }),
    parameters: [...parametersOf(route.params, 'path'), ...parametersOf(route.query, 'query'), ...(changes ? [key] : [])],
    ...(route.method === 'get' ? {} : { requestBody: { content: { 'application/json': { schema: schemaOf(route.body, 'input') } } } }),
    responses: { 200: { description: 'Done', content: { 'application/json': { schema: schemaOf(route.answer, 'output') } } }, default: refused },
  };
}

let described: Json | undefined;

/** The description of every route of the contract, made once in each process. */
export function describeApi(): Json {
  described ??= describe();
  return described;
}

function describe(): Json {
  const paths: Record<string, Record<string, Json>> = {};
  for (const [room, routes] of Object.entries(api)) {
    for (const [name, route] of Object.entries(routes as Readonly<Record<string, AnyRoute>>)) {
      const path = `/api${route.path.replace(/:(\w+)/g, '{$1}')}`;
      paths[path] = { ...paths[path], [route.method]: operationOf(name, room, route) };
    }
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Terrace',
      version: '0.1.0',
      description: 'Everything that the screens of Terrace do. Quantities, prices and amounts are decimal strings.',
    },
    servers: [{ url: '/' }],
    paths,
    components: {
      schemas: { Problem: schemaOf(problemDetails, 'output') },
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'A token that somebody made under their name: terrace_… It may no more than they do.' },
      },
    },
  };
}
