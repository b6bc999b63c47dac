import Ajv2020, { type ValidateFunction } from 'ajv/dist/2020';
import { routeName, type Route } from '../http/declare';
import { jsonSchemaOf } from '../http/json-schema';

const ajv = new Ajv2020({ strict: false, allErrors: true });
const checks = new Map<string, ValidateFunction>();

/** Throws where a JSON answer is not what its route declared, as the description of the interface says it. */
export function requireAsDeclared(route: Route, body: unknown): void {
  if (route.answer.kind !== 'json') throw new Error(`${routeName(route)} answers no JSON`);
  const name = routeName(route);
  const check = checks.get(name) ?? ajv.compile(jsonSchemaOf(route.answer.schema));
  checks.set(name, check);
  const sent: unknown = JSON.parse(JSON.stringify(body ?? null));
  if (!check(sent))
    throw new Error(
      `${name} answers otherwise than declared: ${ajv.errorsText(check.errors)}, ${JSON.stringify(check.errors?.[0]?.params)}`,
    );
}
