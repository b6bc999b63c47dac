import { ALSO_PREFIX, valuesOf, type ContactRecord, type Value } from '../model';
import { foldText, type Catalogue, type FieldDefinition, type FieldType } from '../fields';
import { contentKey } from '../writing';

export interface MergeMember {
  id: number;
  record: ContactRecord;
}

/** One value on the match board, with the member it stands in. */
export interface MemberValue {
  memberId: number;
  value: Value;
}

/** All values a single-valued field could take: each member's own, then what earlier merges set aside. */
export function valuesToChoose(field: FieldDefinition, members: readonly MergeMember[]): MemberValue[] {
  const values: MemberValue[] = [];
  for (const { id, record } of members) {
    for (const value of valuesOf(record, field.key)) values.push({ memberId: id, value });
    for (const value of valuesOf(record, ALSO_PREFIX + field.key)) values.push({ memberId: id, value });
  }
  return values;
}

const NAMES = new Set(['givenName', 'familyName', 'additionalNames', 'organization', 'title', 'fullName']);

/** Names in one case throughout, or a lone initial, are poorer writings of what a better one says. */
function isWellWritten(text: string): boolean {
  const letters = text.replace(/[^\p{L}]/gu, '');
  return (
    letters.length > 1 &&
    !(letters === letters.toUpperCase() && letters !== letters.toLowerCase()) &&
    !(letters === letters.toLowerCase() && letters !== letters.toUpperCase())
  );
}

/** How the value of a field is chosen among those that the records have. */
export type SurvivorRule = 'newest' | 'trusted' | 'frequent' | 'longest';
export const SURVIVOR_RULES: readonly SurvivorRule[] = ['newest', 'trusted', 'frequent', 'longest'];

export interface MergeRules {
  /** For every field that has no rule of its own. */
  otherwise: SurvivorRule;
  byField: Readonly<Record<string, SurvivorRule>>;
}

export const NEWEST_ALWAYS: MergeRules = { otherwise: 'newest', byField: {} };

/** What the rules ask of a value. */
export interface Weighing {
  rules: MergeRules;
  /** Time of a value in milliseconds, from the value or its run. */
  timeOf: (value: Value) => number;
  /** Place of a value's thread in the order of trust, 0 first. */
  trustOf?: (value: Value) => number;
}

const LENGTHY: ReadonlySet<FieldType> = new Set(['text', 'longText']);

/** Whether the length of a field's values says something, so that the longest can be asked for. */
export function isLengthy(field: Pick<FieldDefinition, 'type'>): boolean {
  return LENGTHY.has(field.type);
}

/**
 * The value that is proposed: well written before badly written for names, then by the rule of the field, then the
 * newest, then the smaller member and slot. Independent of the order of members.
 */
export function proposeValue(
  field: FieldDefinition,
  values: readonly MemberValue[],
  { rules, timeOf, trustOf = () => 0 }: Weighing,
): MemberValue | null {
  const wanted = rules.byField[field.key] ?? rules.otherwise;
  // Length says something of free text alone.
  const rule = wanted === 'longest' && !isLengthy(field) ? 'newest' : wanted;
  const writing = ({ value }: MemberValue) =>
    NAMES.has(field.key) && typeof value.v === 'string' && !isWellWritten(value.v) ? 1 : 0;
  const times = new Map<string, number>();
  if (rule === 'frequent')
    for (const { value } of values) {
      const key = contentKey(field.type, value);
      times.set(key, (times.get(key) ?? 0) + 1);
    }
  const byRule = ({ value }: MemberValue): number => {
    switch (rule) {
      case 'trusted':
        return trustOf(value);
      case 'frequent':
        return -(times.get(contentKey(field.type, value)) ?? 0);
      case 'longest':
        return typeof value.v === 'string' ? -value.v.length : 0;
      case 'newest':
        return 0;
    }
  };
  const sorted = [...values].sort(
    (a, b) =>
      writing(a) - writing(b) ||
      byRule(a) - byRule(b) ||
      timeOf(b.value) - timeOf(a.value) ||
      a.memberId - b.memberId ||
      a.value.slot - b.value.slot,
  );
  return sorted[0] ?? null;
}

export type RowKind = 'agree' | 'one' | 'differ' | 'several';

/** One line of the match board: a field, what each member says, what would come out. */
export interface MergeRow {
  field: string;
  name: string;
  kind: RowKind;
  /** Values by member, in the members' order; several for several-valued fields. */
  cells: { memberId: number; values: Value[] }[];
  /** Member whose value is proposed or chosen, for single-valued fields. */
  chosen: number | null;
  result: Value[];
}

/** Several-valued fields united by normal form, the kept record's order first, then by time. */
export function uniteValues(field: FieldDefinition, members: readonly MergeMember[], keepId: number): MemberValue[] {
  const ordered = [...members].sort((a, b) => Number(b.id === keepId) - Number(a.id === keepId) || a.id - b.id);
  const seen = new Set<string>();
  const united: MemberValue[] = [];
  for (const { id, record } of ordered) {
    for (const value of valuesOf(record, field.key)) {
      const key = contentKey(field.type, value);
      if (seen.has(key)) continue;
      seen.add(key);
      united.push({ memberId: id, value });
    }
  }
  return united;
}

/** The record that is kept unless chosen otherwise: the one that says most, then the smaller id. */
export function defaultKeep(members: readonly MergeMember[]): number {
  const size = ({ record }: MergeMember) => Object.values(record.f).reduce((sum, values) => sum + values.length, 0);
  return [...members].sort((a, b) => size(b) - size(a) || a.id - b.id)[0]?.id ?? 0;
}

export function sameWriting(field: FieldDefinition, values: readonly Value[]): boolean {
  const keys = new Set(
    values.map((value) =>
      typeof value.v === 'string' && field.type === 'text'
        ? foldText(value.v) || value.v
        : contentKey(field.type, value),
    ),
  );
  return keys.size <= 1;
}

export function fieldsInUse(catalogue: Catalogue, members: readonly MergeMember[]): FieldDefinition[] {
  return catalogue.fields.filter((field) =>
    members.some(
      ({ record }) => (record.f[field.key]?.length ?? 0) > 0 || (record.f[ALSO_PREFIX + field.key]?.length ?? 0) > 0,
    ),
  );
}
