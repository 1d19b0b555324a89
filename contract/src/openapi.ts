import { FinishSchema, FrameSchema, ItemSchema, OperationSchema, ValueSchema } from '@gable/core';
import { z } from 'zod';
import { ProblemSchema } from './common';
import { PARAMETERS, ROUTES, type Route } from './routes';
import { WorkSchema } from './works';

type Json = Record<string, unknown>;

/** Schemas that have a name of their own in the description. */
const NAMES = new Map<z.ZodType, string>([
  [FrameSchema, 'Frame'],
  [FinishSchema, 'Finish'],
  [WorkSchema, 'Work'],
  [ItemSchema, 'Item'],
  [OperationSchema, 'Operation'],
  [ValueSchema, 'Value'],
  [ProblemSchema, 'Problem'],
]);
const NAMED = z.registry<{ id: string }>();
for (const [schema, id] of NAMES) NAMED.add(schema, { id });

const PREFIX = '#/components/schemas/';

/** JSON Schema 2020-12, with references to the named schemas. @param io what is sent, or what comes back */
function jsonSchema(schema: z.ZodType, io: 'input' | 'output'): Json {
  const name = NAMES.get(schema);
  if (name) return { $ref: PREFIX + name };
  const { $schema, $defs, ...plain } = z.toJSONSchema(schema, { io, metadata: NAMED, unrepresentable: 'any' });
  void [$schema, $defs];
  return JSON.parse(JSON.stringify(plain).replaceAll('#/$defs/', PREFIX)) as Json;
}

function parametersOf({ path, query }: Route): Json[] {
  const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: jsonSchema(PARAMETERS[name!]!, 'input'),
  }));
  const inQuery = Object.entries(query?.shape ?? {}).map(([name, schema]) => ({
    name,
    in: 'query',
    required: false,
    schema: jsonSchema(schema as z.ZodType, 'input'),
  }));
  return [...inPath, ...inQuery];
}

function operation(route: Route): Json {
  const { summary, body, answer, problems = [] } = route;
  const parameters = parametersOf(route);
  const content =
    body === 'bytes'
      ? { 'application/octet-stream': {} }
      : body && { 'application/json': { schema: jsonSchema(body, 'input') } };
  const made = answer.json
    ? { 'application/json': { schema: jsonSchema(answer.json, 'output') } }
    : answer.type && { [answer.type]: {} };
  const failed = {
    description: 'What is wrong, where, and what to do (RFC 9457)',
    content: { 'application/problem+json': { schema: { $ref: `${PREFIX}Problem` } } },
  };
  return {
    summary,
    ...(parameters.length > 0 && { parameters }),
    ...(content && { requestBody: { required: true, content } }),
    responses: {
      [answer.status]: { description: answer.what, ...(made && { content: made }) },
      ...Object.fromEntries(problems.map((status) => [status, failed])),
    },
  };
}

const paths: Record<string, Json> = {};
for (const route of ROUTES) paths[route.path] = { ...paths[route.path], [route.method]: operation(route) };

const { schemas } = z.toJSONSchema(NAMED, { uri: (id) => PREFIX + id, unrepresentable: 'any' });
for (const schema of Object.values(schemas) as Json[]) {
  delete schema['$id'];
  delete schema['$schema'];
}

/** What the server offers, as OpenAPI 3.1. */
export const openapi = {
  openapi: '3.1.0',
  info: {
    title: 'Gable',
    version: '0.1.0',
    description: 'Puts the pictures of a document into shapes. Lengths are points, shares 0..1.',
  },
  paths,
  components: { schemas },
};
