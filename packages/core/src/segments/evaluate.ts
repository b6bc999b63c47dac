import { ADDRESS_PARTS, factLabel, factText, textsOfFact, type Facts, type LabelledText } from './facts';
import { dateTest, dayOf, type DateTest } from './days';
import { isBlank, isGroup, SENT, type ActivitySpan, type Condition, type NumberSpan, type Test } from './tree';
import { foldText, foldWords } from '../fields';

/** What conditions ask of an activity. */
export interface ActivityFact {
  kind: string;
  /** The day that it is on (UTC); null where it has none. */
  day: string | null;
  /** The moment that it was at, in ms since 1970 UTC; null where it has none. */
  atMs: number | null;
  /** What it is about, folded. */
  what: string;
  outcome: string;
  amount: number | null;
  currency: string | null;
}

/** Everything that a condition can ask of one contact. Times in ms since 1970 UTC. */
export interface Subject {
  id?: number;
  facts: Facts;
  createdMs: number;
  changedMs: number;
  /** 0 to 100. */
  completeness: number;
  area: string;
  /** Text that finding looks into. */
  searchText: string;
  /** Numbers of the runs and threads that wrote any of it. */
  runs: ReadonlySet<string>;
  threads: ReadonlySet<string>;
  /** Where each channel stands, by channel; what is not named is unknown. */
  permissions: Readonly<Record<string, string>>;
  /** How it stands in each connection, by the connection's number; of a connection that it is not in there is nothing. */
  syncs: Readonly<Record<string, string>>;
  /** The band of the open group of likely duplicates that it is in. */
  duplicate: string | null;
  /** Numbers of the segments that it is in. */
  segments: ReadonlySet<string>;
  /** What happened with it, without what was removed. */
  activities: readonly ActivityFact[];
  /** When somebody of ours was last in touch, and the number of whoever it was. */
  touch: { day: string; who: number | null } | null;
  /** Days by which they are overdue to be heard from; null of whoever nobody expects to hear from. */
  overdue: number | null;
}

/** Everything beside facts, of somebody of whom nothing else is known. */
export const NOTHING_ELSE: Omit<Subject, 'facts'> = {
  createdMs: 0,
  changedMs: 0,
  completeness: 0,
  area: '',
  searchText: '',
  runs: new Set(),
  threads: new Set(),
  permissions: {},
  syncs: {},
  duplicate: null,
  segments: new Set(),
  activities: [],
  touch: null,
  overdue: null,
};

/**
 * Whether a contact meets a condition on a day (ISO 8601, of the workspace). The plain way, which the statement that the database
 * answers is held to. A blank that is not filled lets everybody through.
 */
export function meets(condition: Condition, subject: Subject, today: string): boolean {
  if (isGroup(condition)) {
    const { join, of } = condition;
    if (join === 'all') return of.every((one) => meets(one, subject, today));
    const any = of.some((one) => meets(one, subject, today));
    // An empty "any" says nothing, as an empty "all" does.
    return join === 'any' ? any || of.length === 0 : !any;
  }
  if (isBlank(condition.value)) return true;
  return holdsOf(condition, subject, today) !== (condition.not === true);
}

function holdsOf(test: Test, subject: Subject, today: string): boolean {
  if (test.field.startsWith('@')) return ofSubject(test, subject, today);
  if (test.op === 'missing') return !isPresent(test, subject.facts);
  if (test.op === 'present') return isPresent(test, subject.facts);
  return ofField(test, subject.facts, today);
}

/** Keys that a field's facts may stand under. */
export function keysOfField(field: string): string[] {
  if (field === 'adr') return ADDRESS_PARTS.map((part) => `adr.${part}`);
  return [field, `${field}#`, `${field}<`];
}

function isPresent({ field, label }: Test, facts: Facts): boolean {
  if (!label) return keysOfField(field).some((key) => facts[key] !== undefined);
  return keysOfField(field).some((key) => labelled(textsOfFact(facts[key]), label).length > 0);
}

function labelled(texts: LabelledText[], label: string | undefined): LabelledText[] {
  if (!label) return texts;
  const asked = factLabel(label);
  return texts.filter((one) => one.label === asked);
}

const within = (n: number, { from, to }: NumberSpan): boolean =>
  (from === undefined || from === null || n >= from) && (to === undefined || to === null || n <= to);

/** Whether a date (ISO 8601, or --MM-DD without a year) is among the days of a test. */
function isAmong(date: string, { by, ...test }: DateTest): boolean {
  if (by === 'part') {
    const part = date.slice(-5);
    return (test as Extract<DateTest, { by: 'part' }>).ranges.some(({ from, to }) => part >= from && part <= to);
  }
  const { from, to } = (test as Extract<DateTest, { by: 'date' }>).range;
  return /^\d/.test(date) && (from === null || date >= from) && (to === null || date <= to);
}

const DATE = /^(?:\d{4}|-)-\d{2}-\d{2}$/;

function ofField(test: Test, facts: Facts, today: string): boolean {
  const { field, label, op, value } = test;
  const number = facts[`${field}#`];
  switch (op) {
    case 'number':
      return typeof number === 'number' && within(number, value as NumberSpan);
    case 'yes':
      return number === 1;
    case 'no':
      return number === 0;
    case 'holds':
    case 'overlaps': {
      const low = facts[`${field}<`];
      const high = facts[`${field}>`];
      if (typeof low !== 'number' || typeof high !== 'number') return false;
      const { from, to } = op === 'holds' ? { from: value as number, to: value as number } : (value as NumberSpan);
      return (to === undefined || to === null || low <= to) && (from === undefined || from === null || high >= from);
    }
    case 'is':
    case 'contains':
    case 'begins': {
      const keys = field === 'adr' ? keysOfField(field) : [field];
      const asked = (op === 'is' ? (value as string[]) : [value as string]).map((text) => factText(field, text));
      return keys.some((key) =>
        labelled(textsOfFact(facts[key]), label).some(({ text }) =>
          asked.some((one) =>
            op === 'is' ? text === one : op === 'contains' ? text.includes(one) : text.startsWith(one),
          ),
        ),
      );
    }
    default: {
      const days = dateTest(test, today);
      return (
        days !== null &&
        labelled(textsOfFact(facts[field]), label).some(({ text }) => DATE.test(text) && isAmong(text, days))
      );
    }
  }
}

/** Mailings that somebody was sent, the last one first, with what came of each until one about the same was sent. */
function mailingsOf(activities: readonly ActivityFact[]): { what: string; day: string; outcomes: string[] }[] {
  const results = activities
    .filter((one): one is ActivityFact & { atMs: number; day: string } => one.kind === 'result' && one.atMs !== null)
    .sort((a, b) => a.atMs - b.atMs);
  const sent = results.filter(({ outcome }) => outcome === SENT);
  return sent
    .map(({ what, day, atMs }, i) => {
      const next = sent.slice(i + 1).find((one) => one.what === what)?.atMs ?? Infinity;
      const own = results.filter((one) => one.what === what && one.atMs >= atMs && one.atMs < next);
      return { what, day, outcomes: own.map(({ outcome }) => outcome) };
    })
    .reverse();
}

/** Whether there are as many activities as are asked for, and whether they come to as much. */
function did(
  { kinds, what, since, until, times, sum, currency, outcomes, ofLast }: ActivitySpan,
  activities: readonly ActivityFact[],
  today: string,
): boolean {
  const [from, to] = [dayOf(today, since), dayOf(today, until)];
  const about = foldText(what ?? '');
  if (ofLast !== undefined) {
    const mailings = mailingsOf(activities).filter(
      ({ what: of, day }) => of.includes(about) && (from === null || day >= from) && (to === null || day <= to),
    );
    const come = mailings.slice(0, ofLast).filter((one) => one.outcomes.some((way) => outcomes?.includes(way)));
    return within(come.length, times ?? { from: 1 });
  }
  const meant = activities.filter(
    (one) =>
      (!outcomes || outcomes.includes(one.outcome)) &&
      (!kinds?.length || kinds.includes(one.kind)) &&
      one.what.includes(about) &&
      (from === null || (one.day !== null && one.day >= from)) &&
      (to === null || (one.day !== null && one.day <= to)) &&
      (!currency || one.currency === currency),
  );
  if (!within(meant.length, times ?? { from: 1 })) return false;
  if (!sum) return true;
  const sums = new Map<string, number>();
  for (const { amount, currency: of } of meant)
    if (amount !== null && of !== null) sums.set(of, (sums.get(of) ?? 0) + amount);
  return [...sums.values()].some((n) => within(n, sum));
}

/** The day that a moment is on. */
export const dayOfMs = (ms: number): string => new Date(ms).toISOString().slice(0, 10);

function ofSubject(test: Test, subject: Subject, today: string): boolean {
  const { field, label = '', op, value } = test;
  const among = (texts: Iterable<string>) => {
    const asked = value as string[];
    for (const text of texts) if (asked.includes(text)) return true;
    return false;
  };
  switch (field) {
    case '@find':
      return findsText(value as string, subject.searchText);
    case '@created':
    case '@changed': {
      const days = dateTest(test, today);
      return days !== null && isAmong(dayOfMs(field === '@created' ? subject.createdMs : subject.changedMs), days);
    }
    case '@complete':
      return within(subject.completeness, value as NumberSpan);
    case '@area':
      return op === 'missing' ? subject.area === '' : op === 'present' ? subject.area !== '' : among([subject.area]);
    case '@thread':
      return among(subject.threads);
    case '@run':
      return among(subject.runs);
    case '@permission':
      return among([subject.permissions[label] ?? 'unknown']);
    case '@sync': {
      const state = subject.syncs[label];
      return op === 'missing'
        ? state === undefined
        : op === 'present'
          ? state !== undefined
          : state !== undefined && among([state]);
    }
    case '@duplicate':
      return op === 'missing'
        ? subject.duplicate === null
        : op === 'present'
          ? subject.duplicate !== null
          : subject.duplicate !== null && among([subject.duplicate]);
    case '@segment':
      return among(subject.segments);
    case '@activity':
      return did(value as ActivitySpan, subject.activities, today);
    case '@touch': {
      const { touch } = subject;
      if (op === 'missing' || op === 'present') return (touch === null) === (op === 'missing');
      const days = dateTest(test, today);
      return touch !== null && days !== null && isAmong(touch.day, days);
    }
    case '@touchBy':
      return among([String(subject.touch?.who ?? '')]);
    case '@overdue':
      if (op === 'missing' || op === 'present') return (subject.overdue === null) === (op === 'missing');
      return subject.overdue !== null && within(subject.overdue, value as NumberSpan);
    case '@id':
      return among([String(subject.id ?? '')]);
    default:
      return false;
  }
}

/**
 * The words of what was typed, as fragments that search text may hold; digits of a phone are run together. Search text holds words
 * singly and mailboxes as they are: "Jan-Willem" is two words, and so is the beginning of "ana.reis@".
 */
export function findFragments(find: string): string[] {
  // "+44 (0)1632" is how people write that the nought is for those at home.
  const plain = find.trim().replace(/^((?:\+|00)[\d\s]{1,5})\(0\)/, '$1');
  if (/^[+\d\s().-]+$/.test(plain) && plain.replace(/\D/g, '').length >= 3)
    return [plain.replace(/\D/g, '').replace(/^00?/, '')];
  if (plain.includes('@')) return [plain.toLowerCase()];
  return [...new Set(foldWords(plain))];
}

/** Whether a search text holds every fragment of what was typed. */
export const findsText = (find: string, searchText: string): boolean =>
  findFragments(find).every((fragment) => searchText.includes(fragment));
