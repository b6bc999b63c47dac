import type { Schema, ValidationError } from 'yup';
import type { Refusal } from './refusal';
import { refuse } from './refusals';

const DEEPEST = 40;
// A surrogate without its other half is no character; the database keeps neither it nor NUL.
const UNWRITABLE = /\0|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/;

interface Unwritable {
  why: 'character' | 'depth';
  field: string;
}

/** Where in a value a text stands that cannot be kept, or where it goes too deep; null when nothing is wrong. */
function findUnwritable(value: unknown, path = '', depth = 0): Unwritable | null {
  if (typeof value === 'string') return UNWRITABLE.test(value) ? { why: 'character', field: path || 'the text' } : null;
  if (typeof value !== 'object' || value === null) return null;
  if (depth > DEEPEST) return { why: 'depth', field: path.split('.', 1)[0] ?? '' };
  for (const [key, one] of Object.entries(value)) {
    if (UNWRITABLE.test(key)) return { why: 'character', field: path || 'a name' };
    const found = findUnwritable(one, path ? `${path}.${key}` : key, depth + 1);
    if (found) return found;
  }
  return null;
}

function faultsOf(error: ValidationError): Refusal {
  const errors = (error.inner.length ? error.inner : [error]).map((inner) => ({
    field: inner.path ?? '',
    text: inner.message,
  }));
  return refuse.invalid({ errors });
}

/** A part of a request as its schema says; refused with every fault named. */
export async function validate(schema: Schema, value: unknown): Promise<unknown> {
  const unwritable = findUnwritable(value);
  if (unwritable?.why === 'depth') throw refuse.tooDeep({ field: unwritable.field });
  if (unwritable) throw refuse.badText({ field: unwritable.field });
  try {
    return (await schema.validate(value, { abortEarly: false, stripUnknown: true })) as unknown;
  } catch (error) {
    if ((error as ValidationError).name === 'ValidationError') throw faultsOf(error as ValidationError);
    // An object that cannot even be looked at as a text or a number, such as one that brings a `toString` of its own.
    if (error instanceof TypeError)
      throw refuse.invalid({ errors: [{ field: '', text: 'A value is of another kind than was asked for.' }] });
    throw error;
  }
}
