import { dateTest, movesWithDays } from './days';
import { ADDRESS_PARTS, factLabel, factText, LABELLED } from './facts';
import { keysOfField, meets, type Subject } from './evaluate';
import { isBlank, isGroup, testsIn, type Condition, type NumberSpan, type Test } from './tree';

export type Predicate = (subject: Subject) => boolean;

/**
 * A condition made ready to be asked of many contacts on one day: texts are folded and days are counted once.
 * Law: it says what `meets` says. Where that takes looking into single values it asks `meets`.
 */
export function predicateOf(condition: Condition, today: string): Predicate {
  if (!isGroup(condition)) return ofTest(condition, today);
  const parts = condition.of.map((one) => predicateOf(one, today));
  switch (condition.join) {
    case 'all':
      return (subject) => {
        for (const part of parts) if (!part(subject)) return false;
        return true;
      };
    case 'any':
      return (subject) => parts.length === 0 || parts.some((part) => part(subject));
    case 'none':
      return (subject) => !parts.some((part) => part(subject));
  }
}

function ofTest(test: Test, today: string): Predicate {
  if (isBlank(test.value)) return () => true;
  const plain =
    fastTest(test, today) ?? ((subject: Subject) => meets({ ...test, not: undefined } as Test, subject, today));
  return test.not ? (subject) => !plain(subject) : plain;
}

function fastTest(test: Test, today: string): Predicate | null {
  const { field, label, op, value } = test;
  if (field.startsWith('@')) return null;
  if ((op === 'present' || op === 'missing') && !label) {
    const keys = keysOfField(field);
    const isThere = (subject: Subject) => keys.some((key) => subject.facts[key] !== undefined);
    return op === 'present' ? isThere : (subject) => !isThere(subject);
  }
  if (op === 'number') {
    const { from = null, to = null } = value as NumberSpan;
    const key = `${field}#`;
    return ({ facts }) => {
      const n = facts[key];
      return typeof n === 'number' && (from === null || n >= from) && (to === null || n <= to);
    };
  }
  if (op === 'is' || op === 'begins') return textTest(test);
  const days = LABELLED.has(field) || label ? null : dateTest(test, today);
  if (days?.by === 'part')
    return ({ facts }) => {
      const date = facts[field];
      if (typeof date !== 'string' || !DATE.test(date)) return false;
      const part = date.slice(-5);
      return days.ranges.some(({ from, to }) => part >= from && part <= to);
    };
  return null;
}

const DATE = /^(?:\d{4}|-)-\d{2}-\d{2}$/;

/** A whole text or its beginning, found in the one text of its field without taking that apart. */
function textTest({ field, label, op, value }: Test): Predicate {
  const asked = (op === 'is' ? (value as string[]) : [value as string]).map((text) => factText(field, text));
  const isLabelled = LABELLED.has(field.split('.')[0] ?? '');
  const keys = field === 'adr' ? ADDRESS_PARTS.map((part) => `adr.${part}`) : [field];
  const end = op === 'is' ? '^' : '';
  if (isLabelled || label) {
    const start = label ? `^${factLabel(label)}|` : '|';
    const pieces = asked.map((text) => `${start}${text}${end}`);
    return ({ facts }) =>
      keys.some((key) => {
        const fact = facts[key];
        return typeof fact === 'string' && pieces.some((piece) => fact.includes(piece));
      });
  }
  const pieces = asked.map((text) => `^${text}${end}`);
  return ({ facts }) => {
    const fact = facts[field];
    if (typeof fact !== 'string') return false;
    if (fact.startsWith('^')) return pieces.some((piece) => fact.includes(piece));
    return asked.some((text) => (op === 'is' ? fact === text : fact.startsWith(text)));
  };
}

/** Subjects that move though nobody changes the contact. */
const MOVED_ELSEWHERE: ReadonlySet<string> = new Set([
  '@segment',
  '@sync',
  '@duplicate',
  '@permission',
  '@area',
  '@overdue',
]);

/** Whether a condition may say something else of somebody whom nobody changed: a day passed, or what it asks for moved elsewhere. */
export const movesByItself = (condition: Condition): boolean =>
  testsIn(condition).some((test) => MOVED_ELSEWHERE.has(test.field) || movesWithDays(test));

/** What of a contact a condition looks at: keys of fields (parts of addresses as `adr`), and subjects. */
export function looksAt(condition: Condition): Set<string> {
  if (!isGroup(condition)) return new Set([condition.field.startsWith('adr.') ? 'adr' : condition.field]);
  return new Set(condition.of.flatMap((one) => [...looksAt(one)]));
}
