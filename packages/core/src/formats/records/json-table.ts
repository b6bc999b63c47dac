export type Json = string | number | boolean | null | Json[] | { [key: string]: Json };
export type JsonObject = Record<string, Json>;

const HEADING_KEYS = ['columns', 'headers', 'header', 'headings', 'fields', 'columnNames'];
const ROW_KEYS = ['rows', 'data', 'values', 'records'];

const areTexts = (value: Json | undefined): value is string[] =>
  Array.isArray(value) && value.length > 0 && value.every((one) => typeof one === 'string');
const areRows = (value: Json | undefined): value is Json[][] =>
  Array.isArray(value) && value.length > 0 && value.every(Array.isArray);

/** Headings; one that stands twice is numbered, one that is empty is counted. */
function namesOf(headings: readonly string[]): string[] {
  const seen = new Map<string, number>();
  return headings.map((heading, i) => {
    const name = heading.trim() || `column ${i + 1}`;
    const times = (seen.get(name) ?? 0) + 1;
    seen.set(name, times);
    return times > 1 ? `${name} ${times}` : name;
  });
}

function objectsOf(headings: readonly string[], rows: readonly Json[][]): JsonObject[] {
  const names = namesOf(headings);
  return rows.map((row) => Object.fromEntries(names.map((name, i) => [name, row[i] ?? null])));
}

/**
 * The records of a table that is written as lists: the first of them the headings, or headings and rows apart. Null for
 * anything else. No cell is lost: a row that is longer than the headings makes it no table.
 */
export function objectsOfTable(document: Json): JsonObject[] | null {
  if (areRows(document)) {
    const [headings, ...rows] = document;
    const fits = areTexts(headings) && rows.length > 0 && rows.every((row) => row.length <= headings.length);
    return fits ? objectsOf(headings, rows) : null;
  }
  if (typeof document !== 'object' || document === null || Array.isArray(document)) return null;
  const headings = HEADING_KEYS.map((key) => document[key]).find(areTexts);
  const rows = ROW_KEYS.map((key) => document[key]).find(areRows);
  if (!headings || !rows?.every((row) => row.length <= headings.length)) return null;
  return objectsOf(headings, rows);
}
