import { err, ok, type Result } from '../../model';
import { labelWord } from '../header-words';
import { objectsOfTable, type Json, type JsonObject } from './json-table';
import { keyedTable, type KeyedRecord } from './keyed-table';

export type { JsonObject } from './json-table';

const isObject = (value: Json | undefined): value is JsonObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const areObjects = (value: Json | undefined): value is JsonObject[] =>
  Array.isArray(value) && value.length > 0 && value.every(isObject);

/** Keys of a part that stand for the part itself, those that say of which kind it is, and those that say something about it. */
const VALUE_KEYS = new Set(['value', 'address', 'number', 'email', 'phone']);
const KIND_KEYS = new Set(['type', 'label', 'kind']);
const ABOUT_KEYS = new Set([
  'primary',
  'preferred',
  'pref',
  'verified',
  'default',
  'main',
  'is_primary',
  'isprimary',
  'id',
]);
/** Keys that hold a record and say nothing of it. */
const WRAPPERS = new Set('attributes properties _source source node record contact person user fields data'.split(' '));
/** Keys that say what an answer is of, those that are the answer, and lists that are nothing but such pairs. */
const QUESTION_KEYS = ['field', 'question', 'title', 'label', 'name', 'key', 'kind', 'property'];
const ANSWER_KEYS = new Set(['value', 'values', 'answer', 'answers', 'text', 'response', 'content']);
/** What names a question or its type, beside its text. */
const NAMING_KEYS = new Set(['id', 'type', 'ref', 'order', 'position', '@type']);
const PAIR_LISTS = /(?:^| )(?:answers|responses|components|custom ?fields|customfields|fields|properties|questions)$/i;

/** Parts within parts are followed so far; what lies deeper is kept as its text. */
const DEEPEST = 4;

const joined = (before: string, key: string) => (before ? `${before} ${key}` : key);

/** Whether all else that an object has says only of which kind its value is. */
function isValueAlone(object: JsonObject, key: string): boolean {
  return Object.keys(object).every((other) => {
    const small = other.toLowerCase();
    return other === key || KIND_KEYS.has(small) || ABOUT_KEYS.has(small) || VALUE_KEYS.has(small);
  });
}

/** What an answer is of: the text of its question, or of a part of it of which the rest only names it. */
function questionOf(object: JsonObject): { key: string; text: string } | null {
  for (const key of QUESTION_KEYS) {
    const said = object[key];
    const named = isObject(said) ? Object.entries(said).filter(([part]) => !NAMING_KEYS.has(part.toLowerCase())) : [];
    const [only] = named;
    const text = isObject(said)
      ? named.length === 1 && only && QUESTION_KEYS.includes(only[0])
        ? only[1]
        : null
      : said;
    if (typeof text === 'string' && text.trim()) return { key, text };
  }
  return null;
}

/**
 * A list of questions with their answers, or of parts each with its kind, as one entry each; null for a list of other things,
 * as phones are, whose kinds are labels. Of a question only what names it and its type are left out.
 */
function pairsOf(list: readonly JsonObject[]): [string, Json][] | null {
  const pairs = list.map((object): [string, Json] | null => {
    const question = questionOf(object);
    if (!question || labelWord(question.text) !== null) return null;
    const isPart = isObject(object[question.key]);
    const others = Object.entries(object).filter(
      ([key, value]) => key !== question.key && value !== null && !NAMING_KEYS.has(key.toLowerCase()),
    );
    const [answer] = others;
    const isAnswer = answer && (ANSWER_KEYS.has(answer[0].toLowerCase()) || (isPart && !isObject(answer[1])));
    return isAnswer && others.length === 1 ? [question.text, answer[1]] : null;
  });
  const whole = pairs.filter((pair) => pair !== null);
  const isEach = new Set(whole.map(([question]) => question)).size === list.length;
  return whole.length === list.length && isEach ? whole : null;
}

/** What a value says below a heading. Parts of parts have headings of two words, several parts are numbered. */
function entriesOf(heading: string, value: Json, depth: number): [string, string][] {
  if (value === null) return [];
  if (typeof value === 'string') return [[heading, value]];
  if (typeof value === 'number') return [[heading, String(value)]];
  if (typeof value === 'boolean') return [[heading, value ? 'yes' : 'no']];
  if (depth >= DEEPEST) return [[heading, JSON.stringify(value)]];
  if (areObjects(value)) {
    const pairs = pairsOf(value);
    const of = heading.replace(PAIR_LISTS, '');
    const answered = (name: string, answer: Json): [string, string][] => {
      const entries = entriesOf(name, answer, depth + 1);
      return entries.length ? entries : [[name, '']];
    };
    if (pairs) return pairs.flatMap(([question, answer]) => answered(joined(of, question), answer));
    return value.flatMap((part, i) => entriesOf(i ? `${heading} ${i + 1}` : heading, part, depth + 1));
  }
  if (Array.isArray(value)) {
    const texts = value
      .flatMap((one) => entriesOf('', one, depth + 1).map(([of, text]) => [of, text].filter(Boolean).join(': ')))
      .filter(Boolean);
    return texts.length ? [[heading, texts.join('; ')]] : [];
  }
  return Object.entries(value).flatMap(([key, one]) => {
    const small = key.toLowerCase();
    const wraps = heading === '' && WRAPPERS.has(small) && isObject(one);
    // What stands beside it under the same name would be taken for one with it.
    if (wraps && !Object.keys(one).some((inner) => inner in value)) return entriesOf('', one, depth + 1);
    const isValue = VALUE_KEYS.has(small) && !isObject(one) && heading !== '' && isValueAlone(value, key);
    if (isValue) return entriesOf(heading, one, depth + 1);
    return entriesOf(joined(heading, KIND_KEYS.has(small) ? small : key), one, depth + 1);
  });
}

/** Objects as a table: their keys are the headings. The first row is the heading. */
export function tableOfObjects(objects: readonly JsonObject[]): string[][] {
  return keyedTable(objects.map((object): KeyedRecord => entriesOf('', object, 0)));
}

/** Records by their key, as { "a17": {...}, "a18": {...} }: alike, and none of them a list of records itself. */
function keyedObjects(document: JsonObject): JsonObject[] | null {
  const entries = Object.entries(document);
  if (entries.length < 2 || !entries.every(([, value]) => isObject(value))) return null;
  const records = entries.map(([key, value]) => ({ id: key, ...(value as JsonObject) }));
  const [first = {}] = records;
  const alike = (record: JsonObject) => Object.keys(record).filter((key) => key in first).length;
  const isAlike = records.every((record) => alike(record) > 1 && alike(record) * 2 > Object.keys(record).length);
  return isAlike && Object.keys(first).length > 2 ? records : null;
}

/** The list of objects that a document is or holds; of several the longest. Null where there is none. */
function objectsIn(document: Json, depth = 0): JsonObject[] | null {
  if (areObjects(document)) return document;
  const table = objectsOfTable(document);
  if (table) return table;
  if (!isObject(document) || depth > 2) return null;
  const keyed = keyedObjects(document);
  if (keyed) return keyed;
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
