import { type Catalogue, type FieldDefinition, type FieldType } from '../fields';
import { err, ok, type Result } from '../model';
import { ADDRESS_PARTS } from './facts';
import { isGroup, SUBJECTS, type Condition, type ConditionFault, type SubjectKey, type TestOp } from './tree';

const TEXT: readonly TestOp[] = ['is', 'contains', 'begins', 'present', 'missing'];
const CHOICE: readonly TestOp[] = ['is', 'present', 'missing'];
const DATE: readonly TestOp[] = ['month', 'comes', 'day', 'span', 'year', 'present', 'missing'];

const OF_TYPE: Record<FieldType, readonly TestOp[]> = {
  text: TEXT,
  longText: ['contains', 'is', 'begins', 'present', 'missing'],
  email: TEXT,
  tel: TEXT,
  url: TEXT,
  address: ['contains', 'present', 'missing'],
  date: ['span', 'month', 'comes', 'day', 'year', 'present', 'missing'],
  partialDate: DATE,
  number: ['number', 'present', 'missing'],
  money: ['number', 'present', 'missing'],
  range: ['holds', 'overlaps', 'present', 'missing'],
  yesNo: ['yes', 'no', 'present', 'missing'],
  choice: CHOICE,
  choices: CHOICE,
  picture: ['present', 'missing'],
  relation: ['present', 'missing', 'contains'],
  tag: CHOICE,
  stage: CHOICE,
  source: CHOICE,
  owner: CHOICE,
};

const OF_SUBJECT: Record<SubjectKey, readonly TestOp[]> = {
  '@find': ['contains'],
  '@created': ['span', 'year'],
  '@changed': ['span', 'year'],
  '@complete': ['number'],
  '@area': CHOICE,
  '@thread': ['is'],
  '@run': ['is'],
  '@permission': ['is'],
  '@sync': ['present', 'missing', 'is'],
  '@duplicate': ['present', 'missing', 'is'],
  '@segment': ['is'],
  '@activity': ['did'],
  '@touch': ['span', 'year', 'present', 'missing'],
  '@touchBy': ['is'],
  '@overdue': ['number', 'present', 'missing'],
  '@id': ['is'],
};

/** The tests that a field or subject takes, the most usual first; none where there is no such field. */
export function testsOf(field: string, catalogue: Pick<Catalogue, 'find'>): readonly TestOp[] {
  if (Object.hasOwn(SUBJECTS, field)) return OF_SUBJECT[field as SubjectKey];
  if (field.startsWith('adr.')) return (ADDRESS_PARTS as readonly string[]).includes(field.slice(4)) ? TEXT : [];
  const found = catalogue.find(field);
  return found && found.group !== 'opportunity' ? OF_TYPE[found.type] : [];
}

/** Holds a condition to the fields there are; retired ones count on, and are told by `retiredIn`. */
export function checkFields(
  condition: Condition,
  catalogue: Pick<Catalogue, 'find'>,
): Result<Condition, ConditionFault> {
  const fault = faultIn(condition, catalogue, []);
  return fault ? err(fault) : ok(condition);
}

function faultIn(condition: Condition, catalogue: Pick<Catalogue, 'find'>, at: number[]): ConditionFault | null {
  if (isGroup(condition)) {
    for (const [i, one] of condition.of.entries()) {
      const fault = faultIn(one, catalogue, [...at, i]);
      if (fault) return fault;
    }
    return null;
  }
  const { field, op, label } = condition;
  const tests = testsOf(field, catalogue);
  if (!tests.length) return { code: 'noSuchField', at, field };
  if (!tests.includes(op)) return { code: 'notOfField', at, field };
  if ((field === '@permission' || field === '@sync') && !label) return { code: 'value', at, field };
  return null;
}

/** Fields that a condition looks at and that are retired, each once. */
export function retiredIn(condition: Condition, catalogue: Pick<Catalogue, 'find'>): FieldDefinition[] {
  const found = new Map<string, FieldDefinition>();
  const look = (one: Condition): void => {
    if (isGroup(one)) return one.of.forEach(look);
    const field = catalogue.find(one.field);
    if (field?.retired) found.set(field.key, field);
  };
  look(condition);
  return [...found.values()];
}

const SENTENCES: Record<ConditionFault['code'], string> = {
  shape: 'This is no condition that can be read.',
  unknownPart: 'A condition says something that is not known here. Look at how it is spelt, or take it out.',
  tooDeep: 'Groups stand within groups more than 12 levels deep. Take some apart.',
  tooMany: 'These are more than 200 conditions. Make some of them a segment of its own, and ask for that.',
  tooLong: 'A condition compares with at most 500 characters.',
  value: 'A condition has nothing to compare with. Fill it, or take it out.',
  date: 'This is no date. Write it as 2026-07-14, or count from today.',
  noSuchField: 'There is no such field any more. Take the condition out, or choose another field.',
  notOfField: 'This field cannot be compared so. Choose another comparison.',
};

/** What is wrong with a condition, in words. */
export const sayConditionFault = ({ code }: ConditionFault): string => SENTENCES[code];
