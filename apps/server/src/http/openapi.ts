import type { OpenAPIV3_1 } from 'openapi-types';
import type { DescribeRouteOptions } from 'hono-openapi';
import type { Hono } from 'hono';
import { generateSpecs } from 'hono-openapi';
import type { ObjectSchema } from 'yup';
import { problemAnswer } from '@gray-loom/wire';
import type { Route } from './declare';
import { jsonSchemaOf } from './json-schema';

type Parameter = OpenAPIV3_1.ParameterObject;

function parametersOf(
  schema: ObjectSchema<object> | null,
  place: 'path' | 'query' | 'header',
  example?: object,
): Parameter[] {
  if (!schema) return [];
  const { properties = {}, required = [] } = jsonSchemaOf(schema);
  return Object.entries(properties).map(([name, one]): Parameter => ({
    name,
    in: place,
    required: place === 'path' || required.includes(name),
    schema: one as Parameter['schema'],
    ...(example && name in example ? { example: (example as Record<string, unknown>)[name] } : {}),
  }));
}

function contentOf({ answer }: Route): OpenAPIV3_1.ResponseObject {
  switch (answer.kind) {
    case 'json':
      return { description: 'Done.', content: { 'application/json': { schema: jsonSchemaOf(answer.schema) } } };
    case 'nothing':
      return { description: 'Done; there is nothing to say.' };
    case 'file':
      return {
        description: 'The file.',
        content: { [answer.mediaType]: { schema: { type: 'string', format: 'binary' } } },
      };
    case 'events':
      return {
        description: 'Events as they happen.',
        content: { 'text/event-stream': { schema: { type: 'string' } } },
      };
  }
}

function bodyOf({ body, example }: Route): OpenAPIV3_1.RequestBodyObject | null {
  if (body === null) return null;
  if (body === 'file')
    return { content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } } };
  return {
    content: {
      'application/json': {
        schema: jsonSchemaOf(body),
        ...(example.body === undefined ? {} : { example: example.body as object }),
      },
    },
  };
}

/** A declared route as OpenAPI 3.1 describes it. */
export function operationOf(route: Route): DescribeRouteOptions {
  const body = bodyOf(route);
  return {
    summary: route.summary,
    tags: [route.path.split('/')[1]?.replace(/\..*$/, '') ?? ''],
    parameters: [
      ...parametersOf(route.params, 'path', route.example.params),
      ...parametersOf(route.query, 'query', route.example.query),
      ...parametersOf(route.headers, 'header', route.example.headers),
    ],
    ...(body ? { requestBody: body } : {}),
    ...(route.may === 'anyone' ? { security: [] } : {}),
    responses: {
      [route.answer.status]: contentOf(route),
      default: {
        description: 'Refused, with the reason (RFC 9457).',
        content: { 'application/problem+json': { schema: jsonSchemaOf(problemAnswer) } },
      },
    },
  } as DescribeRouteOptions;
}

/** The description of everything that the app answers. */
export async function openApiOf(app: Hono, version: string): Promise<object> {
  return generateSpecs(app, {
    excludeStaticFile: false,
    documentation: {
      openapi: '3.1.0',
      info: { title: 'Gray Loom', version, description: 'One clean, shared contact database.' },
      servers: [{ url: '/api' }],
      components: { securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'gray_loom' } } },
      security: [{ session: [] }],
    },
  });
}
