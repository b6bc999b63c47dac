import {
  ADDRESS_PARTS,
  dateTest,
  dayOf,
  factLabel,
  factText,
  findFragments,
  isBlank,
  isGroup,
  keysOfField,
  LABELLED,
  SENT,
  type ActivitySpan,
  type Condition,
  type NumberSpan,
  type Test,
} from '@gray-loom/core/segments';
import { foldText } from '@gray-loom/core/fields';
import { keyHash } from '@gray-loom/core/matching';
import type { TouchSettings } from '@gray-loom/core/activity';
import { wordTable } from '@gray-loom/core/model';
import { tagKey } from '../contact-rows';
import { touchSql } from './touch';

/** What a condition needs beside the database's own tables to be answered. */
export interface Surroundings {
  /** The day it is asked for (ISO 8601). */
  today: string;
  /** Of each channel: those whose addresses something was said of, and where the channel stands for each of them. */
  said: Readonly<Record<string, { all: number[]; byState: Readonly<Record<string, number[]>> }>>;
  /** What counts as being in touch; only where that is asked for. */
  touch?: TouchSettings;
}

/** A condition as SQL over the aliases `c` (contact) and `f` (contact_facts). */
export interface ConditionSql {
  sql: string;
  /** Which of the two it reads. */
  reads: { contact: boolean; facts: boolean };
}

/** Where a condition is asked: of rows of `contact`, or of the narrow `contact_facts`, whose columns are then preferred. */
export type AskedOf = 'contact' | 'facts';

const escapeLike = (text: string): string => text.replace(/[\\%_]/g, (c) => `\\${c}`);
const escapeRegex = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** The search text of a contact, wherever it is, as a relation with the column `text`. */
export const searchTexts = (id: string): string =>
  `(select text from contact_search where contact_id = ${id} union all select text from contact_search_fresh where contact_id = ${id})`;

/** Rows that were let in later belong to their import. */
const withLetIn = (runs: string): string =>
  `select unnest(${runs}) union all select id from public.run where kind = 'import' and (detail->>'ofRun')::int = any(${runs})`;

/** Columns of contact that answer a test as well as its facts do. */
const COLUMNS = wordTable({ stage: 'c.stage', source: 'c.source', owner: 'c.owner' });

/**
 * Compiles conditions to SQL; the one place where that is done. What it gives agrees with `meets` of the core, a law over random
 * books and trees (conditions.test.ts). `add` keeps a parameter and gives its name.
 */
export class ConditionCompiler {
  private contact = false;
  private facts = false;

  constructor(
    private readonly add: (value: unknown) => string,
    private readonly askedOf: AskedOf,
    private readonly surroundings: Surroundings,
  ) {}

  compile(condition: Condition): ConditionSql {
    const sql = this.of(condition);
    return { sql, reads: { contact: this.contact, facts: this.facts } };
  }

  private of(condition: Condition): string {
    if (!isGroup(condition)) return this.test(condition);
    const parts = condition.of.map((one) => this.of(one));
    if (!parts.length) return 'true';
    const joined = parts.map((part) => `(${part})`).join(condition.join === 'all' ? ' and ' : ' or ');
    return condition.join === 'none' ? `not (${joined})` : joined;
  }

  private test(test: Test): string {
    if (isBlank(test.value)) return 'true';
    const sql = test.field.startsWith('@') ? this.subject(test) : this.field(test);
    return test.not ? `not (${sql})` : sql;
  }

  private get id(): string {
    return this.askedOf === 'contact' ? 'c.id' : 'f.contact_id';
  }

  private text(key: string): string {
    this.facts = true;
    return `(f.facts->>'${key}')`;
  }

  private column(name: string): string {
    this.contact = true;
    return `c.${name}`;
  }

  private field(test: Test): string {
    const { field, op } = test;
    if (this.askedOf === 'contact' && !test.label) {
      const column = this.columnTest(test);
      if (column) return column;
    }
    if (op === 'present' || op === 'missing') return `${op === 'missing' ? 'not ' : ''}(${this.present(test)})`;
    return `coalesce(${this.ofField(test, field)}, false)`;
  }

  /** Tests that a column of contact answers without its facts. */
  private columnTest({ field, op, value }: Test): string | null {
    const column = COLUMNS[field];
    if (column) {
      this.contact = true;
      if (op === 'is') return `${column} = any(${this.add(value)}::text[])`;
      return op === 'present' ? `${column} <> ''` : op === 'missing' ? `${column} = ''` : null;
    }
    if (field !== 'tags') return null;
    this.contact = true;
    if (op === 'present') return `cardinality(c.tags) > 0`;
    if (op === 'missing') return `cardinality(c.tags) = 0`;
    if (op !== 'is') return null;
    const keys = (value as string[]).map((tag) => String(keyHash(tagKey(tag))));
    return `c.id in (select contact_id from contact_key where key = any(${this.add(keys)}::bigint[]))`;
  }

  private present({ field, label }: Test): string {
    const keys = keysOfField(field);
    this.facts = true;
    if (!label) {
      if (keys.length === 1) return `f.facts ? '${keys[0]}'`;
      return `f.facts ?| array[${keys.map((key) => `'${key}'`).join(', ')}]`;
    }
    const like = this.add(`%^${escapeLike(factLabel(label))}|%`);
    return keys.map((key) => `coalesce(${this.text(key)} like ${like}, false)`).join(' or ');
  }

  private number(key: string): string {
    this.facts = true;
    return `(f.facts->'${key}')::float8`;
  }

  private between(number: string, { from, to }: NumberSpan): string {
    const ends = [
      ...(from === undefined || from === null ? [] : [`${number} >= ${this.add(from)}::float8`]),
      ...(to === undefined || to === null ? [] : [`${number} <= ${this.add(to)}::float8`]),
    ];
    return ends.join(' and ');
  }

  private ofField(test: Test, field: string): string {
    const { op, value } = test;
    switch (op) {
      case 'number':
        return this.between(this.number(`${field}#`), value as NumberSpan);
      case 'yes':
      case 'no':
        return `${this.number(`${field}#`)} = ${op === 'yes' ? 1 : 0}`;
      case 'holds':
      case 'overlaps': {
        const { from, to } = op === 'holds' ? { from: value as number, to: value as number } : (value as NumberSpan);
        return [
          `f.facts ? '${field}<'`,
          ...(to === undefined || to === null ? [] : [`${this.number(`${field}<`)} <= ${this.add(to)}::float8`]),
          ...(from === undefined || from === null ? [] : [`${this.number(`${field}>`)} >= ${this.add(from)}::float8`]),
        ].join(' and ');
      }
      case 'is':
      case 'contains':
      case 'begins': {
        if (field === 'adr')
          return ADDRESS_PARTS.map((part) => `coalesce(${this.ofTexts(test, `adr.${part}`)}, false)`).join(' or ');
        return this.ofTexts(test, field);
      }
      default:
        return this.ofDates(test, field);
    }
  }

  /** A text among those of a key. They stand in one: see facts in the core. */
  private ofTexts({ field, label, op, value }: Test, key: string): string {
    const text = this.text(key);
    const asked = (op === 'is' ? (value as string[]) : [value as string]).map((one) => factText(field, one));
    const anyOf = (patterns: string[]) =>
      patterns.length === 1
        ? `${text} like ${this.add(patterns[0])}`
        : `${text} like any(${this.add(patterns)}::text[])`;
    if (LABELLED.has(key.split('.')[0] ?? '')) {
      const before = label ? `^${escapeLike(factLabel(label))}|` : '|';
      if (op === 'is') return anyOf(asked.map((one) => `%${before}${escapeLike(one)}^%`));
      if (op === 'begins') return anyOf(asked.map((one) => `%${before}${escapeLike(one)}%`));
      const start = label ? `\\^${escapeRegex(factLabel(label))}\\|` : '\\|';
      return asked
        .map(
          (one) =>
            `(${text} like ${this.add(`%${escapeLike(one)}%`)} and ${text} ~ ${this.add(`${start}[^^]*${escapeRegex(one)}`)})`,
        )
        .join(' or ');
    }
    // A label of a field whose values have none.
    if (label) return 'false';
    if (op === 'is')
      return `(${text} = any(${this.add(asked)}::text[]) or ${anyOf(asked.map((one) => `%^${escapeLike(one)}^%`))})`;
    if (op === 'begins')
      return `(${anyOf(asked.map((one) => `${escapeLike(one)}%`))} or ${anyOf(asked.map((one) => `%^${escapeLike(one)}%`))})`;
    return anyOf(asked.map((one) => `%${escapeLike(one)}%`));
  }

  private ofDates(test: Test, field: string): string {
    if (!LABELLED.has(field)) return test.label ? 'false' : this.dateIn(test, this.text(field));
    const label = test.label ? ` and split_part(entry, '|', 1) = ${this.add(factLabel(test.label))}` : '';
    return `exists (select 1 from unnest(string_to_array(${this.text(field)}, '^')) entry
      where entry like '%|%'${label} and ${this.dateIn(test, `split_part(entry, '|', 2)`)})`;
  }

  /** Whether a date as text is among the days of a test. */
  private dateIn(test: Test, text: string): string {
    const days = dateTest(test, this.surroundings.today);
    if (!days) return 'false';
    const byte = (sql: string) => `${sql} collate "C"`;
    // Asked last, since it costs most and few come so far.
    const isDate = `${text} ~ '^([0-9]{4}|-)-[0-9]{2}-[0-9]{2}$'`;
    if (days.by === 'part')
      return `(${days.ranges
        .map(({ from, to }) => `${byte(`right(${text}, 5)`)} between ${this.add(from)} and ${this.add(to)}`)
        .join(' or ')}) and ${isDate}`;
    const { from, to } = days.range;
    return [
      `${text} not like '-%'`,
      ...(from === null ? [] : [`${byte(text)} >= ${this.add(from)}`]),
      ...(to === null ? [] : [`${byte(text)} <= ${this.add(to)}`]),
      isDate,
    ].join(' and ');
  }

  private subject(test: Test): string {
    const { field, op, value } = test;
    const { id } = this;
    switch (field) {
      case '@find':
        return this.find(value as string);
      case '@created':
      case '@changed':
        return this.moment(test, this.column(field === '@created' ? 'created_at' : 'touched_at'));
      case '@complete':
        return this.between(this.column('completeness'), value as NumberSpan) || 'true';
      case '@area': {
        const area = this.column('area');
        return op === 'is'
          ? `${area} = any(${this.add(value)}::text[])`
          : `${area} ${op === 'present' ? '<>' : '='} ''`;
      }
      case '@id':
        return `${id} = any(${this.add((value as string[]).map(Number).filter(Number.isSafeInteger))}::bigint[])`;
      case '@run':
        return `${id} in (select contact_id from operation where run_id in (${withLetIn(`${this.add(value)}::int[]`)}))`;
      case '@thread':
        return `${id} in (select o.contact_id from operation o join public.run r on r.id = o.run_id
          where r.thread_id = any(${this.add(value)}::int[]))`;
      case '@permission':
        return this.permission(test);
      case '@sync': {
        const state = op === 'is' ? ` and l.state = any(${this.add(value)}::text[])` : '';
        return `${id} ${op === 'missing' ? 'not ' : ''}in (
          select case when m.merged_into is null then m.id else public.root_of(m.id) end
          from sync_link l join public.contact m on m.id = l.contact_id
          where l.connection_id::text = ${this.add(test.label ?? '')}${state})`;
      }
      case '@activity':
        return this.activity(value as ActivitySpan);
      case '@touch':
      case '@touchBy':
      case '@overdue':
        return this.touch(test);
      case '@duplicate': {
        const band = op === 'is' ? ` and g.band = any(${this.add(value)}::text[])` : '';
        return `${id} ${op === 'missing' ? 'not ' : ''}in (select unnest(g.member_ids) from match_group g where g.state = 'open'${band})`;
      }
      default:
        // A segment is put in its place before (features/contacts/ready-filter); one that is not there any more finds nobody.
        return 'false';
    }
  }

  /** When somebody of ours was last in touch, by whom, and how overdue that is. */
  private touch(test: Test): string {
    const { touch, today } = this.surroundings;
    if (!touch) return 'false';
    const { field, op, value } = test;
    const of = { id: this.id, stage: 'c.stage', createdAt: 'c.created_at' };
    const { at, who, overdue } = touchSql(of, touch, today);
    if (field === '@touchBy')
      return `coalesce(${who} = any(${this.add((value as string[]).map(Number).filter(Number.isSafeInteger))}::int[]), false)`;
    // What is said of a rhythm stands with the contact.
    if (field === '@overdue') this.contact = true;
    if (op === 'present' || op === 'missing')
      return `${field === '@touch' ? at : overdue} is ${op === 'present' ? 'not ' : ''}null`;
    const holds = field === '@touch' ? this.moment(test, at) : this.between(overdue, value as NumberSpan);
    return `coalesce(${holds}, false)`;
  }

  /** How many activities there are, and what they come to; both are asked of those that are meant, by whoever has any. */
  private activity(asked: ActivitySpan): string {
    if (asked.ofLast !== undefined) return this.mailings(asked, asked.ofLast);
    const { kinds, what, since, until, times = { from: 1 }, sum, currency, outcomes } = asked;
    const { id } = this;
    const { today } = this.surroundings;
    const [from, to] = [dayOf(today, since), dayOf(today, until)];
    const about = foldText(what ?? '');
    const meant = [
      'not a.gone',
      ...(kinds?.length ? [`a.kind = any(${this.add(kinds)}::text[])`] : []),
      ...(about ? [`a.what like ${this.add(`%${escapeLike(about)}%`)}`] : []),
      ...(from === null ? [] : [`a.at >= ${this.add(from)}::timestamp at time zone 'UTC'`]),
      ...(to === null ? [] : [`a.at < (${this.add(to)}::timestamp + interval '1 day') at time zone 'UTC'`]),
      ...(currency ? [`a.currency = ${this.add(currency)}`] : []),
      ...(outcomes ? [`a.record->>'outcome' = any(${this.add(outcomes)}::text[])`] : []),
    ].join(' and ');
    const holders = (having: string, by = '') =>
      `(select a.holder_id from activity a where ${meant} group by a.holder_id${by}${having ? ` having ${having}` : ''})`;
    const enough = this.asMany(times, holders);
    if (!sum) return enough;
    const spent = this.between('sum(a.amount)', sum) || 'true';
    return `${enough} and ${id} in ${holders(`sum(a.amount) is not null and ${spent}`, ', a.currency')}`;
  }

  /** Whoever there are as many of as is asked for. Whoever has none is in no list, so that "at most so many" is said of whoever has more. */
  private asMany({ from, to }: NumberSpan, holders: (having: string) => string): string {
    const [least, most] = [from ?? 0, to ?? null];
    if (least > 0)
      return `${this.id} in ${holders(this.between('count(*)', { from: least, ...(most === null ? {} : { to: most }) }))}`;
    return most === null ? 'true' : `${this.id} not in ${holders(`count(*) > ${this.add(most)}::float8`)}`;
  }

  /** Of how many of the last mailings that somebody was sent something came; what came until one about the same was sent is of the first. */
  private mailings({ what, since, until, times = { from: 1 }, outcomes = [] }: ActivitySpan, last: number): string {
    const { today } = this.surroundings;
    const [from, to] = [dayOf(today, since), dayOf(today, until)];
    const about = foldText(what ?? '');
    const meant = [
      'true',
      ...(about ? [`what like ${this.add(`%${escapeLike(about)}%`)}`] : []),
      ...(from === null ? [] : [`at >= ${this.add(from)}::timestamp at time zone 'UTC'`]),
      ...(to === null ? [] : [`at < (${this.add(to)}::timestamp + interval '1 day') at time zone 'UTC'`]),
    ].join(' and ');
    const ways = this.add(outcomes);
    const came = `(select s.holder_id from (
        select u.*, row_number() over (partition by holder_id order by at desc, id desc) as nth from (
          select a.holder_id, a.id, a.what, a.at, lead(a.at) over (partition by a.holder_id, a.what order by a.at, a.id) as next
          from activity a where a.kind = 'result' and not a.gone and a.at is not null and a.record->>'outcome' = '${SENT}') u
        where ${meant}) s
      where s.nth <= ${this.add(last)}::int and exists (select 1 from activity e where e.holder_id = s.holder_id and e.kind = 'result'
        and not e.gone and e.what = s.what and e.at >= s.at and (s.next is null or e.at < s.next)
        and e.record->>'outcome' = any(${ways}::text[]))
      group by s.holder_id having `;
    return this.asMany(times, (having) => `${came}${having || 'true'})`);
  }

  private find(typed: string): string {
    const fragments = findFragments(typed);
    if (!fragments.length) return 'true';
    const like = fragments.map((fragment) => `s.text like ${this.add(`%${escapeLike(fragment)}%`)}`).join(' and ');
    const holds = (table: string) => `exists (select 1 from ${table} s where s.contact_id = ${this.id} and ${like})`;
    return `${holds('contact_search')} or ${holds('contact_search_fresh')}`;
  }

  private moment(test: Test, column: string): string {
    const days = dateTest(test, this.surroundings.today);
    if (days?.by !== 'date') return 'false';
    const { from, to } = days.range;
    return [
      ...(from === null ? [] : [`${column} >= ${this.add(from)}::timestamp at time zone 'UTC'`]),
      ...(to === null ? [] : [`${column} < (${this.add(to)}::timestamp + interval '1 day') at time zone 'UTC'`]),
    ].join(' and ');
  }

  /** By the person's own word, or as was worked out for those of whose addresses something was said. */
  private permission({ label = '', value }: Test): string {
    const states = value as string[];
    const { id } = this;
    const apart = this.surroundings.said[label];
    const known = (which: string) => `${id} ${which} (select said.who from (
        select distinct on (1) case when m.merged_into is null then m.id else public.root_of(m.id) end as who, e.state
        from public.permission_evidence e join public.contact m on m.id = e.contact_id
          join public.run r on r.id = e.run_id and r.undone_by is null
        where e.channel = ${this.add(label)} order by 1, e.stated_at desc, (e.state = 'optedOut') desc) said`;
    const said = states.filter((state) => state !== 'unknown');
    const parts = [
      ...(said.length ? [`${known('in')} where said.state = any(${this.add(said)}::text[]))`] : []),
      ...(states.includes('unknown') ? [`${known('not in')})`] : []),
    ];
    const own = `(${parts.join(' or ')})`;
    if (!apart?.all.length) return own;
    const among = states.flatMap((state) => apart.byState[state] ?? []);
    return `(${id} = any(${this.add(among)}::bigint[]) or (not ${id} = any(${this.add(apart.all)}::bigint[]) and ${own}))`;
  }
}
