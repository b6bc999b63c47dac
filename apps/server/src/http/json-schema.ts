import type { OpenAPIV3_1 } from 'openapi-types';
import type { Schema, SchemaDescription, SchemaFieldDescription, SchemaObjectDescription } from 'yup';

type JsonSchema = OpenAPIV3_1.SchemaObject;

/** A schema in JSON Schema 2020-12, from what Yup says of it. */
export function jsonSchemaOf(schema: Schema): JsonSchema {
  return describe(schema.describe() as SchemaFieldDescription);
}

function describe(field: SchemaFieldDescription): JsonSchema {
  if (field.type === 'lazy' || field.type === 'ref') return {};
  const described = field as SchemaDescription;
  const made = bare(described);
  return described.nullable ? withNull(made) : made;
}

function withNull(schema: JsonSchema): JsonSchema {
  if (schema.enum) return { ...schema, enum: [...schema.enum, null] };
  if (typeof schema.type === 'string') return { ...schema, type: [schema.type, 'null'] } as JsonSchema;
  return schema;
}

function bare(field: SchemaDescription): JsonSchema {
  const oneOf = field.oneOf.filter((one) => one !== null && one !== undefined);
  if (oneOf.length) return { enum: oneOf };
  const test = (name: string) => field.tests.find((one) => one.name === name)?.params;
  switch (field.type) {
    case 'object':
      return objectSchema(field as SchemaObjectDescription);
    case 'array': {
      const items = (field as SchemaDescription & { innerType?: SchemaFieldDescription }).innerType;
      return {
        type: 'array',
        items: items ? describe(items) : {},
        ...bound('minItems', test('min')?.min),
        ...bound('maxItems', test('max')?.max),
      };
    }
    case 'string':
      return { type: 'string', ...bound('minLength', test('min')?.min), ...bound('maxLength', test('max')?.max) };
    case 'number':
      return {
        type: field.tests.some((one) => one.name === 'integer') ? 'integer' : 'number',
        ...bound('minimum', test('min')?.min),
        ...bound('maximum', test('max')?.max),
      };
    case 'boolean':
      return { type: 'boolean' };
    default:
      return opaque(field);
  }
}

const bound = (name: string, value: unknown): Record<string, number> =>
  typeof value === 'number' ? { [name]: value } : {};

function objectSchema({ fields, tests }: SchemaObjectDescription): JsonSchema {
  const entries = Object.entries(fields);
  const required = entries.filter(([, one]) => isRequired(one)).map(([name]) => name);
  return {
    type: 'object',
    properties: Object.fromEntries(entries.map(([name, one]) => [name, describe(one)])),
    ...(required.length ? { required } : {}),
    ...(tests.some((one) => one.name === 'exact') ? { additionalProperties: false } : {}),
  };
}

function isRequired(field: SchemaFieldDescription): boolean {
  const { optional, default: fallback } = field as SchemaDescription;
  return optional === false && fallback === undefined;
}

/** What the core knows in full stands here by its JSON type alone. */
function opaque({ meta }: SchemaDescription): JsonSchema {
  const { json, record } = (meta ?? {}) as { json?: string; record?: Schema };
  if (record) return { type: 'object', additionalProperties: jsonSchemaOf(record) };
  if (json === 'array') return { type: 'array', items: {} };
  return json && json !== 'any' ? ({ type: json } as JsonSchema) : {};
}
