import { err, ok, type Result } from '../../model';
import { keyedTable, type KeyedRecord } from './keyed-table';

type Json = string | number | boolean | null | Json[] | { [key: string]: Json };
export type JsonObject = Record<string, Json>;

const isObject = (value: Json | undefined): value is JsonObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const areObjects = (value: Json | undefined): value is JsonObject[] =>
  Array.isArray(value) && value.length > 0 && value.every(isObject);

/** Keys of a part that stand for the part itself, and those that say of which kind it is. */
const VALUE_KEYS = new Set(['value', 'address', 'number', 'email', 'phone']);
const KIND_KEYS = new Set(['type', 'label', 'kind']);

/** Parts within parts are followed so far; what lies deeper is kept as its text. */
const DEEPEST = 4;

const joined = (before: string, key: string) => (before ? `${before} ${key}` : key);

/** What a value says below a heading. Parts of parts have headings of two words, several parts are numbered. */
function entriesOf(heading: string, value: Json, depth: number): [string, string][] {
  if (value === null) return [];
  if (typeof value === 'string') return [[heading, value]];
  if (typeof value === 'number') return [[heading, String(value)]];
  if (typeof value === 'boolean') return [[heading, value ? 'yes' : 'no']];
  if (depth >= DEEPEST) return [[heading, JSON.stringify(value)]];
  if (areObjects(value))
    return value.flatMap((part, i) => entriesOf(i ? `${heading} ${i + 1}` : heading, part, depth + 1));
  if (Array.isArray(value)) {
    const texts = value.flatMap((one) => entriesOf('', one, depth + 1).map(([, text]) => text)).filter(Boolean);
    return texts.length ? [[heading, texts.join('; ')]] : [];
  }
  return Object.entries(value).flatMap(([key, one]) => {
    const isValue = VALUE_KEYS.has(key.toLowerCase()) && !isObject(one) && heading !== '';
    if (isValue) return entriesOf(heading, one, depth + 1);
    return entriesOf(joined(heading, KIND_KEYS.has(key.toLowerCase()) ? key.toLowerCase() : key), one, depth + 1);
  });
}

/** Objects as a table: their keys are the headings. The first row is the heading. */
export function tableOfObjects(objects: readonly JsonObject[]): string[][] {
  return keyedTable(objects.map((object): KeyedRecord => entriesOf('', object, 0)));
}

/** The list of objects that a document is or holds; of several the longest. Null where there is none. */
function objectsIn(document: Json, depth = 0): JsonObject[] | null {
  if (areObjects(document)) return document;
  if (!isObject(document) || depth > 2) return null;
  return Object.values(document)
    .map((part) => (isObject(part) || Array.isArray(part) ? objectsIn(part, depth + 1) : null))
    .reduce((best, found) => ((found?.length ?? 0) > (best?.length ?? 0) ? found : best), null);
}

function parse(text: string): Result<Json, string> {
  try {
    return ok(JSON.parse(text) as Json);
  } catch (error) {
    return err((error as Error).message);
  }
}

/**
 * The objects of a document (RFC 8259) or of one a line. Errors: what is wrong, in words, and in which line where lines are
 * read.
 */
export function readJsonObjects(text: string): Result<JsonObject[], string> {
  const plain = text.replace(/^\uFEFF/, '').trim();
  const whole = parse(plain);
  if (whole.ok) {
    const objects = objectsIn(whole.value) ?? (isObject(whole.value) ? [whole.value] : null);
    return objects ? ok(objects) : err('there is no list of records in it');
  }
  const objects: JsonObject[] = [];
  for (const [i, line] of plain.split(/\r?\n/).entries()) {
    if (line.trim() === '') continue;
    const one = parse(line);
    if (!one.ok || !isObject(one.value)) {
      // What breaks in its first line never was a record a line.
      if (objects.length === 0) return err(whole.error);
      return err(`line ${i + 1}: ${one.ok ? 'this is no record' : one.error}`);
    }
    objects.push(one.value);
  }
  return ok(objects);
}
