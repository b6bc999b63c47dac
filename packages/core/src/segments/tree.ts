import { err, ok, type Result } from '../model';

/** A day, as itself (ISO 8601) or counted from today: `{ n: -6, unit: 'month' }` is six months ago. */
export type DayBound = string | { n: number; unit: 'day' | 'month' | 'year' };

/** From one day to another, both within; an end that is left out is open. */
export interface DaySpan {
  from?: DayBound;
  to?: DayBound;
}

/** From one number to another, both within; an end that is left out is open. */
export interface NumberSpan {
  from?: number;
  to?: number;
}

/**
 * What of the activities of a contact is asked for: those of these kinds, about this, on these days. There are so many of them (one or
 * more where nothing is said), and their amounts of one currency come to so much.
 */
export interface ActivitySpan {
  kinds?: string[];
  /** A part of what it is about. */
  what?: string;
  since?: DayBound;
  until?: DayBound;
  times?: NumberSpan;
  sum?: NumberSpan;
  /** Only amounts in this currency (ISO 4217). */
  currency?: string;
  /** Only those that came of it one of these ways: "opened", "no answer". */
  outcomes?: string[];
  /**
   * Asked of the last so many mailings that they were sent, and not of single activities: of how many of them something came one of the
   * ways that are asked for. Days are then those of the mailings.
   */
  ofLast?: number;
}

/** Outcome of the result that says that a mailing was sent to somebody. */
export const SENT = 'sent';

/** What a test compares with. `{ ask }` is a blank: the question is put when the segment is opened. */
export type TestValue = string | number | string[] | DaySpan | NumberSpan | ActivitySpan | { ask: string };

/** How a test compares; which of them a field takes is told by `testsOf`. */
export const TEST_OPS = [
  'present',
  'missing',
  'is',
  'contains',
  'begins',
  'number',
  'yes',
  'no',
  'holds',
  'overlaps',
  'span',
  'year',
  'month',
  'day',
  'comes',
  'did',
] as const;
export type TestOp = (typeof TEST_OPS)[number];

/** One test of a contact. `field` is a key of the catalogue, a part of an address, or one of `SUBJECTS`. */
export interface Test {
  field: string;
  /** Only values with this label; of a permission the channel, of a sync the number of the connection. */
  label?: string;
  op: TestOp;
  value?: TestValue;
  /** Turns the test round: "tag is not press". */
  not?: true;
}

/** Conditions joined: all of them, any of them, or none of them. */
export interface Group {
  join: 'all' | 'any' | 'none';
  of: Condition[];
}

export type Condition = Test | Group;

/** Everybody. */
export const EVERYBODY: Group = { join: 'all', of: [] };

/** What can be tested beside the fields of a contact. */
export const SUBJECTS = {
  '@find': 'anything that a contact is found by',
  '@created': 'came in',
  '@changed': 'last changed',
  '@complete': 'completeness',
  '@area': 'area',
  '@thread': 'thread',
  '@run': 'run',
  '@permission': 'permission',
  '@sync': 'sync',
  '@duplicate': 'likely duplicate',
  '@segment': 'segment',
  '@activity': 'activity',
  '@touch': 'last touch',
  '@touchBy': 'last touch by',
  '@overdue': 'days overdue',
  '@id': 'contact',
} as const;
export type SubjectKey = keyof typeof SUBJECTS;

export const isGroup = (condition: Condition): condition is Group => 'join' in condition;
export const isBlank = (value: TestValue | undefined): value is { ask: string } =>
  typeof value === 'object' && value !== null && !Array.isArray(value) && 'ask' in value;

/** Levels of groups within groups. */
export const MOST_LEVELS = 12;
/** Tests and groups in one condition. */
export const MOST_PARTS = 200;
/** Characters that a test compares with. */
export const MOST_CHARACTERS = 500;

/** What is wrong with a condition, and where: the places of the groups and tests that lead there, from the top. */
export interface ConditionFault {
  code: 'shape' | 'unknownPart' | 'tooDeep' | 'tooMany' | 'tooLong' | 'value' | 'date' | 'noSuchField' | 'notOfField';
  at: number[];
  field?: string;
}

/** Mailings back that a test may ask of. */
export const MOST_MAILINGS = 100;

/** Contacts that are named one by one. */
export const MOST_NAMED = 1000;

const FIELD = /^@?[A-Za-z][A-Za-z0-9._-]{0,79}$/;
const DAY = /^\d{4}-\d{2}-\d{2}$/;
const KIND = /^[a-zA-Z]{1,30}$/;
const UNITS: readonly unknown[] = ['day', 'month', 'year'];
const JOINS: readonly unknown[] = ['all', 'any', 'none'];
/** What each thing that conditions are made of may have; whatever else is said would be passed over, and let more people through. */
const PARTS = {
  group: ['join', 'of'],
  test: ['field', 'label', 'op', 'value', 'not'],
  blank: ['ask'],
  span: ['from', 'to'],
  bound: ['n', 'unit'],
  activity: ['kinds', 'what', 'since', 'until', 'times', 'sum', 'currency', 'outcomes', 'ofLast'],
} as const;
const hasOther = (given: object, kind: keyof typeof PARTS): boolean =>
  Object.keys(given).some((key) => !(PARTS[kind] as readonly string[]).includes(key));

type Checked<T> = Result<T, ConditionFault>;

/** Reads a condition that came from outside: its shape, its size, its values. Which fields there are is told by `checkFields`. */
export function readCondition(given: unknown): Checked<Condition> {
  return new Reader().condition(given, [], 0);
}

/** The same of its JSON text; an empty text is everybody. */
export function readConditionText(text: string): Checked<Condition> {
  if (!text) return ok(EVERYBODY);
  try {
    return readCondition(JSON.parse(text));
  } catch {
    return err({ code: 'shape', at: [] });
  }
}

class Reader {
  private parts = 0;

  condition(given: unknown, at: number[], level: number): Checked<Condition> {
    if (++this.parts > MOST_PARTS) return err({ code: 'tooMany', at });
    if (typeof given !== 'object' || given === null) return err({ code: 'shape', at });
    if (hasOther(given, 'join' in given ? 'group' : 'test')) return err({ code: 'unknownPart', at });
    if ('join' in given) return this.group(given as Record<string, unknown>, at, level);
    return this.test(given as Record<string, unknown>, at);
  }

  private group({ join, of }: Record<string, unknown>, at: number[], level: number): Checked<Group> {
    if (level >= MOST_LEVELS) return err({ code: 'tooDeep', at });
    if (!JOINS.includes(join) || !Array.isArray(of)) return err({ code: 'shape', at });
    const read: Condition[] = [];
    for (const [i, one] of of.entries()) {
      const part = this.condition(one, [...at, i], level + 1);
      if (!part.ok) return part;
      read.push(part.value);
    }
    return ok({ join: join as Group['join'], of: read });
  }

  private test({ field, label, op, value, not }: Record<string, unknown>, at: number[]): Checked<Test> {
    if (typeof field !== 'string' || !FIELD.test(field)) return err({ code: 'shape', at });
    if (!TEST_OPS.includes(op as TestOp)) return err({ code: 'shape', at, field });
    if (label !== undefined && (typeof label !== 'string' || label.length > 40))
      return err({ code: 'shape', at, field });
    const fault = faultOfValue(op as TestOp, value, field === '@id' ? MOST_NAMED : MOST_PARTS);
    if (fault) return err({ code: fault, at, field });
    return ok({
      field,
      ...(label ? { label } : {}),
      op: op as TestOp,
      ...(value === undefined || value === null ? {} : { value: value as TestValue }),
      ...(not === true ? { not } : {}),
    });
  }
}

const isNumber = (given: unknown): given is number => typeof given === 'number' && Number.isFinite(given);
const isWholeBetween = (given: unknown, least: number, most: number) =>
  isNumber(given) && Number.isInteger(given) && given >= least && given <= most;

function isRealDay(text: string): boolean {
  const day = new Date(`${text}T00:00:00Z`);
  return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(text);
}

function isDayBound(given: unknown): boolean {
  if (typeof given === 'string') return DAY.test(given) && isRealDay(given);
  if (typeof given !== 'object' || given === null) return false;
  if (hasOther(given, 'bound')) return false;
  const { n, unit } = given as Record<string, unknown>;
  return isWholeBetween(n, -100_000, 100_000) && UNITS.includes(unit);
}

function isSpan(given: unknown, isEnd: (end: unknown) => boolean): boolean {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return false;
  if (hasOther(given, 'span')) return false;
  const { from, to } = given as Record<string, unknown>;
  const ends = [from, to].filter((end) => end !== undefined && end !== null);
  return ends.length > 0 && ends.every(isEnd);
}

function faultOfText(given: unknown): ConditionFault['code'] | null {
  if (typeof given !== 'string' || given.trim() === '') return 'value';
  return given.length > MOST_CHARACTERS ? 'tooLong' : null;
}

function faultOfActivity(given: unknown): ConditionFault['code'] | null {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return 'value';
  if (hasOther(given, 'activity')) return 'unknownPart';
  const { kinds, what, since, until, times, sum, currency, outcomes, ofLast } = given as Record<string, unknown>;
  const isGiven = (part: unknown) => part !== undefined && part !== null;
  if (isGiven(kinds) && !(Array.isArray(kinds) && kinds.length <= 20 && kinds.every((kind) => KIND.test(String(kind)))))
    return 'value';
  if (isGiven(what)) {
    const fault = faultOfText(what);
    if (fault) return fault;
  }
  if (isGiven(outcomes)) {
    if (!Array.isArray(outcomes) || !outcomes.length || outcomes.length > 20) return 'value';
    const fault = outcomes.map(faultOfText).find((one) => one !== null);
    if (fault) return fault;
  }
  // Without a way that it may have come there is nothing to be counted of a mailing; and a mailing comes to no amount.
  if (isGiven(ofLast) && !(isWholeBetween(ofLast, 1, MOST_MAILINGS) && isGiven(outcomes) && !isGiven(sum)))
    return 'value';
  if ([since, until].some((bound) => isGiven(bound) && !isDayBound(bound))) return 'date';
  if ([times, sum].some((span) => isGiven(span) && !isSpan(span, isNumber))) return 'value';
  return isGiven(currency) && !/^[A-Z]{3}$/.test(String(currency)) ? 'value' : null;
}

function faultOfValue(op: TestOp, value: unknown, most: number): ConditionFault['code'] | null {
  if (isBlank(value as TestValue | undefined))
    return hasOther(value as object, 'blank') ? 'unknownPart' : faultOfText((value as { ask: unknown }).ask);
  const wrong = (isRight: boolean) => (isRight ? null : 'value');
  switch (op) {
    case 'present':
    case 'missing':
    case 'yes':
    case 'no':
      return wrong(value === undefined || value === null);
    case 'is':
      if (!Array.isArray(value) || !value.length || value.length > most) return 'value';
      return value.map(faultOfText).find((fault) => fault !== null) ?? null;
    case 'contains':
    case 'begins':
      return faultOfText(value);
    case 'number':
    case 'overlaps':
      return wrong(isSpan(value, isNumber));
    case 'holds':
      return wrong(isNumber(value));
    case 'span':
      return isSpan(value, isDayBound) ? null : 'date';
    case 'year':
      return wrong(isWholeBetween(value, 1, 9999));
    case 'month':
      return wrong(isWholeBetween(value, 1, 12));
    case 'day':
      return typeof value === 'string' && (value === 'today' || isRealDay(`2000-${value}`)) ? null : 'date';
    case 'comes':
      return wrong(isWholeBetween(value, 0, 366));
    case 'did':
      return faultOfActivity(value);
  }
}

/** Every test of a condition, from left to right. */
export function testsIn(condition: Condition): Test[] {
  return isGroup(condition) ? condition.of.flatMap(testsIn) : [condition];
}

/** The same condition with every test as `change` makes it; null takes the test out. */
export function withTests(condition: Condition, change: (test: Test) => Condition | null): Condition {
  if (!isGroup(condition)) return change(condition) ?? EVERYBODY;
  return {
    join: condition.join,
    of: condition.of.flatMap((one): Condition[] => {
      if (isGroup(one)) return [withTests(one, change)];
      const changed = change(one);
      return changed ? [changed] : [];
    }),
  };
}

/** The blanks of a condition: the questions that are put when it is opened, each once. */
export function blanksOf(condition: Condition): { ask: string; test: Test }[] {
  const found = new Map<string, Test>();
  for (const test of testsIn(condition))
    if (isBlank(test.value) && !found.has(test.value.ask)) found.set(test.value.ask, test);
  return [...found].map(([ask, test]) => ({ ask, test }));
}

/** The condition with its blanks filled; one that has no answer lets everybody through. */
export function withAnswers(condition: Condition, answers: Readonly<Record<string, TestValue | undefined>>): Condition {
  return withTests(condition, (test) => {
    if (!isBlank(test.value)) return test;
    const value = answers[test.value.ask];
    return value === undefined ? null : { ...test, value };
  });
}

/** Joins conditions so that all of them hold, without groups that say nothing. */
export function allOf(...conditions: (Condition | null | undefined)[]): Condition {
  const of = conditions.flatMap((one): Condition[] =>
    !one ? [] : isGroup(one) && one.join === 'all' ? one.of : [one],
  );
  return of.length === 1 && of[0] && isGroup(of[0]) ? of[0] : { join: 'all', of };
}

/** A test that a value is among some: of a tag, stage, source, owner, area, run. */
export const isOneOf = (field: string, ...value: string[]): Test => ({ field, op: 'is', value });

/** A condition after a value of a pick-list (tag, stage, source, owner) got another name, or was merged into another one. */
export function renamedCondition(
  condition: Condition,
  { field, from, into }: { field: string; from: string; into: string },
): Condition {
  const isOld = (one: string) => (field === 'tags' ? one.toLowerCase() === from.toLowerCase() : one === from);
  return withTests(condition, (test) =>
    test.field === field && test.op === 'is' && Array.isArray(test.value) && test.value.some(isOld)
      ? { ...test, value: [...new Set(test.value.map((one) => (isOld(one) ? into : one)))] }
      : test,
  );
}
