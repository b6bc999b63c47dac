import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc, { type Arbitrary } from 'fast-check';
import type { OpenAPIV3_1 } from 'openapi-types';
import type { Schema } from 'yup';
import { LAW_TIMEOUT_MS } from '../../../packages/core/src/testing/law-budget';
import { consumers } from './consumers';
import { routeName, type Route } from './http/declare';
import { jsonSchemaOf } from './http/json-schema';
import { allRoutes } from './routes';
import { runKinds } from './run-kinds';
import { RealApp, type RawAnswer } from './testing/real-app';

const SEED = Number(process.env.GRAY_LOOM_SEED ?? Date.now() % 1_000_000);
/** Requests to each route; with some 120 routes there are more than 3,000. */
const EACH = 30;
const IDS = [0, 1, 2, 3, 7, -1, 2 ** 31 - 1, 2 ** 31, 2 ** 53, 99_999_999_999, 1e308];
const TEXTS = [
  ...[
    '',
    ' ',
    '0',
    '1',
    'a',
    'Ana',
    'ana@quillhaven.example',
    '+44 7700 900123',
    'constructor',
    '__proto__',
    'toString',
  ],
  ...['\0', 'a\0b', '\ud800', '\u{1F6F6}', "'; drop table contact; --", '%', '%00', '../../etc/passwd', '<b>', '${1}'],
  ...['1e308', 'NaN', 'null', '{}', '2026-02-30', '31/12/1999', 'http://127.0.0.1:1/', 'x'.repeat(5000)],
];

type JsonSchema = OpenAPIV3_1.SchemaObject;

const text = fc.oneof(fc.constantFrom(...TEXTS), fc.string({ unit: 'binary', maxLength: 20 }));
const number = fc.oneof(fc.constantFrom(...IDS), fc.integer({ min: 0, max: 9 }), fc.double({ noNaN: true }));
const anything = fc.oneof(text, number, fc.constantFrom(null, true, false, [], {}, [[]], { a: 1 }), fc.jsonValue());

/** A value as a schema asks for it, with one here and there that is of another kind. */
function valueOf(schema: JsonSchema): Arbitrary<unknown> {
  return fc.oneof({ weight: 9, arbitrary: rightOf(schema) }, { weight: 1, arbitrary: anything });
}

function rightOf(schema: JsonSchema): Arbitrary<unknown> {
  if (schema.enum) return fc.constantFrom(...(schema.enum as unknown[]));
  const type = Array.isArray(schema.type) ? schema.type.find((one) => one !== 'null') : schema.type;
  switch (type) {
    case 'object': {
      const { properties = {}, required = [], additionalProperties } = schema;
      if (typeof additionalProperties === 'object')
        return fc.dictionary(text, valueOf(additionalProperties as JsonSchema), { maxKeys: 3 });
      const entries = Object.entries(properties as Record<string, JsonSchema>);
      return fc.record(Object.fromEntries(entries.map(([name, one]) => [name, valueOf(one)])), {
        requiredKeys: required,
      });
    }
    case 'array':
      return fc.array(valueOf((schema as { items?: JsonSchema }).items ?? {}), { maxLength: 3 });
    case 'integer':
      return fc.oneof(fc.integer({ min: Number(schema.minimum ?? 0), max: Number(schema.maximum ?? 9) }), number);
    case 'number':
      return number;
    case 'boolean':
      return fc.boolean();
    case 'string':
      return text;
    default:
      return anything;
  }
}

interface Sent {
  path: string;
  init: RequestInit;
}

const partOf = (schema: Schema | null): Arbitrary<Record<string, unknown>> =>
  schema ? (rightOf(jsonSchemaOf(schema)) as Arbitrary<Record<string, unknown>>) : fc.constant({});

const shown = (value: unknown): string => (typeof value === 'object' ? JSON.stringify(value) : String(value));
/** Halves of characters as the mark that stands for one: neither an address nor a body can hold them as they are. */
const wellFormed = (value: string): string => Buffer.from(value).toString();
const encoded = (value: unknown): string => encodeURIComponent(wellFormed(shown(value)));

/** A header can hold printable characters alone. */
const asHeader = (value: unknown): string => shown(value).replace(/[^\x20-\x7e]/g, '%');

function requestTo(route: Route): Arbitrary<Sent> {
  const body: Arbitrary<string> =
    route.body === 'file'
      ? fc.oneof(
          text,
          fc.constantFrom('a,b\n1,\0\n', '{"a":[{"b":1}]}', 'BEGIN:VCARD\nFN:A\nEND:VCARD', 'PK\x03\x04\0\0'),
        )
      : fc.oneof(
          {
            weight: 8,
            arbitrary: (route.body ? valueOf(jsonSchemaOf(route.body)) : anything).map(
              (one) => JSON.stringify(one) ?? '',
            ),
          },
          { weight: 1, arbitrary: text },
        );
  return fc
    .record({
      params: partOf(route.params),
      query: partOf(route.query),
      headers: partOf(route.headers),
      odd: fc.constantFrom<Record<string, string>>(
        {},
        {},
        {},
        { origin: 'null' },
        { 'x-file-name': '%' },
        { 'content-type': 'text/plain' },
      ),
      body,
    })
    .map(({ params, query, headers, odd, body: sent }) => {
      const path = route.path.replace(/:(\w+)(\{[^}]*\})?/g, (_, name: string) => encoded(params[name] ?? 1));
      const asked = Object.entries(query).map(([name, value]) => `${encoded(name)}=${encoded(value)}`);
      const hasBody = route.method !== 'get';
      return {
        path: asked.length ? `${path}?${asked.join('&')}` : path,
        init: {
          method: route.method.toUpperCase(),
          headers: {
            'content-type': route.body === 'file' ? 'application/octet-stream' : 'application/json',
            // The length is that of the body; what is sent otherwise never gets as far as a route.
            ...Object.fromEntries(
              Object.entries(headers).flatMap(([name, value]) =>
                name === 'content-length' ? [] : [[name, asHeader(value)]],
              ),
            ),
            ...odd,
          },
          ...(hasBody ? { body: wellFormed(sent) } : {}),
        },
      };
    });
}

/** What no answer may show of the inside. */
const INSIDE = /\bat .+:\d+:\d+|node_modules|\/src\/|\bselect .+ from \b|\binsert into\b|syntax error at/i;

const wrongOf = ({ status, text: answer }: RawAnswer): string | null => {
  if (status === 0 || (status >= 500 && status !== 507)) return `${status} ${answer.slice(0, 200)}`;
  return status >= 400 && INSIDE.test(answer) ? `shows the inside: ${answer.slice(0, 200)}` : null;
};

let app: RealApp;
let routes: Route[];
beforeAll(async () => {
  app = await RealApp.start({ GRAY_LOOM_KEY: Buffer.alloc(32, 7).toString('base64') });
  await app.json('/contacts', 'POST', {
    values: [
      { field: 'givenName', text: 'Ana' },
      { field: 'email', text: 'ana@quillhaven.example' },
    ],
  });
  await app.upload('people.csv', 'Given name,E-mail\nTom,tom@quillhaven.example\nNobody,no mailbox\n');
  routes = allRoutes({
    config: {} as never,
    events: { subscribe: () => () => undefined } as never,
    log: console as never,
    kinds: runKinds,
    consumers,
  });
});
afterAll(() => app.end());

test(
  `no request to any declared route fails inside, shows the inside or ends the process (seed ${SEED})`,
  async () => {
    const faults: string[] = [];
    let requests = 0;
    const answering = routes.filter(({ answer }) => answer.kind !== 'events');
    for (const [i, route] of answering.entries())
      for (const sent of fc.sample(requestTo(route), { numRuns: EACH, seed: SEED + i })) {
        requests++;
        const wrong = wrongOf(await app.raw(sent.path, sent.init));
        if (wrong) faults.push(`${routeName(route)} ${JSON.stringify(sent).slice(0, 400)}: ${wrong}`);
      }
    expect(faults).toEqual([]);
    expect(requests).toBeGreaterThan(3000);
    expect(app.logged).not.toMatch(/quillhaven\.example|drop table|xxxxxxxx/);
    // A guard against a log that was not read.
    expect(app.logged).toContain('ready');
  },
  LAW_TIMEOUT_MS,
);
