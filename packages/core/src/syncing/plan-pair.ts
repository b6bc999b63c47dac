import { applyOperations, firstText, valuesOf, type ContactRecord, type Operation } from '../model';
import type { Channel } from '../writing';
import { decideOne, decideSet, type AgreedItems, type Moments } from './decide';
import { Lifter } from './lift';
import { fullerDate } from './partial-dates';
import { LISTS, planLists, type ListLine } from './kept-lists';
import { LABELS, stagesByLabel, WHOLE_NAME, type SyncLine } from './lines';
import type { Capabilities, OutsideField, OutsideFields, OutsideRecord, OutsideValue } from './outside';
import {
  itemsOf,
  outsideField,
  project,
  readOutside,
  typeOf,
  valuesThere,
  type Item,
  type SyncContext,
} from './project';

/** What both sides last agreed on, by line: ours as it was shown there; what stood there where that differs. */
export type Base = Record<string, { o: OutsideValue[]; t?: OutsideValue[] }>;

/** Where a base keeps the channels that both sides have closed. */
const STOPS = '*stops';

/** Where a base keeps that the record over there was somebody else's: whatever goes out takes the place of what stands there. */
export const HANDED = '*handed';

/** One change that a plan makes, for the trial, the report and the story of a contact. */
export interface PlannedChange {
  side: 'here' | 'there';
  line: string;
  before: OutsideValue[];
  after: OutsideValue[];
  kind: 'add' | 'change' | 'remove';
}

/** Values that both sides changed and that a person has to decide on. */
export interface PlannedConflict {
  line: string;
  ours: OutsideValue[];
  theirs: OutsideValue[];
  /**
   * bothChanged: by the rule; unreadable: what stands there is no value of the field here; twoThere: two records there are
   * one contact here; removal: the record there is to be removed, and was edited since; `theirs` is what was edited; byHand: somebody
   * over there put them into a list that we keep, or took them out.
   */
  why: 'bothChanged' | 'unreadable' | 'twoThere' | 'removal' | 'byHand';
}

export interface PairPlan {
  operations: Operation[];
  /** New values of fields over there by their key; null where nothing is to be written there. */
  fields: OutsideFields | null;
  labels: string[] | null;
  stopHere: Channel[];
  stopThere: Channel[];
  /** What is agreed on once the side here is written, and once both are. */
  baseHere: Base;
  base: Base;
  changes: PlannedChange[];
  conflicts: PlannedConflict[];
}

export interface PairInput {
  id: number;
  record: ContactRecord;
  stopped: readonly Channel[];
  /** When a field here was last changed, in ms since 1970 UTC. */
  changedAtMs: (field: string) => number;
  theirs: OutsideRecord;
  base: Base | null;
  lines: readonly SyncLine[];
  capabilities: Pick<Capabilities, 'fields' | 'keepsStops' | 'listsInside'>;
  context: SyncContext;
  /** How far the clock over there is ahead of ours, and how sure that is. */
  clock: { aheadMs: number; errorMs: number };
  run: number;
  /** Labels that say why somebody takes part; lines about labels pass them over. */
  ownLabels?: readonly string[];
  /** Lists that are kept, and lists that are tags. */
  lists?: readonly ListLine[];
  /** Ids of the segments that the person is in; absent where that is not known yet, so that no list is kept by them. */
  segments?: ReadonlySet<number> | undefined;
}

const outsideValues = (items: readonly Item[]) => items.map((item) => item.outside);
const sameKeys = (a: readonly Item[], b: readonly Item[]) =>
  a.length === b.length && a.every(({ key }) => b.some((other) => other.key === key));
const sameLabels = (a: readonly Item[], b: readonly Item[]) =>
  a.every(
    (item) =>
      (item.outside.label ?? '').toLowerCase() ===
      (b.find(({ key }) => key === item.key)?.outside.label ?? '').toLowerCase(),
  );

/** Compares values as lists that were agreed on; what cannot be compared any more (the line was changed) counts as never agreed. */
function agreedOf(base: Base | null, line: SyncLine, field: OutsideField, context: SyncContext): AgreedItems | null {
  const entry = base?.[line.id];
  if (!entry) return null;
  return {
    o: itemsOf(entry.o, line, field, context),
    t: itemsOf(entry.t ?? entry.o, line, field, context),
  };
}

function baseEntry(o: OutsideValue[], t: OutsideValue[]): Base[string] {
  return JSON.stringify(o) === JSON.stringify(t) ? { o } : { o, t };
}

function kindOf(before: readonly OutsideValue[], after: readonly OutsideValue[]): PlannedChange['kind'] {
  const left = new Set(after.map((value) => JSON.stringify(value.v)));
  if (before.every((value) => left.has(JSON.stringify(value.v)))) return 'add';
  return after.length < before.length ? 'remove' : 'change';
}

function relabelled(item: Item, label: string | undefined): Item {
  return { ...item, outside: label ? { v: item.outside.v, label } : { v: item.outside.v } };
}

class PairPlanner {
  private readonly lifter: Lifter;
  private readonly out: OutsideFields = {};
  private labels: Set<string>;
  private readonly plan: PairPlan;

  constructor(private readonly input: PairInput) {
    const atMs = input.theirs.changedAtMs;
    this.lifter = new Lifter(input.id, input.record, {
      run: input.run,
      ...(atMs === undefined ? {} : { atMs: atMs - input.clock.aheadMs }),
    });
    this.labels = new Set(input.theirs.labels);
    this.plan = {
      operations: [],
      fields: null,
      labels: null,
      stopHere: [],
      stopThere: [],
      baseHere: { ...input.base },
      base: {},
      changes: [],
      conflicts: [],
    };
  }

  run(): PairPlan {
    const { input, plan } = this;
    for (const line of input.lines) {
      if (line.stageLabels) this.stage(line);
      else if (line.outside === LABELS) this.tags(line);
      else this.line(line);
    }
    if (input.lists?.length) this.lists(input.lists);
    plan.operations = this.lifter.operations;
    if (input.capabilities.keepsStops.length) this.stops();
    if (Object.keys(this.out).length) plan.fields = this.out;
    const before = input.theirs.labels;
    if (before.length !== this.labels.size || before.some((label) => !this.labels.has(label)))
      plan.labels = [...this.labels];
    // Until it says all that is here, a record that was somebody else's stays one that was handed over.
    if (!plan.fields && !plan.labels) delete plan.baseHere[HANDED];
    plan.base = { ...plan.baseHere, ...plan.base };
    delete plan.base[HANDED];
    return plan;
  }

  /**
   * Closed channels only ever travel as closed. One that was closed on both sides and is open here again was opened by
   * somebody's word: over there it stays closed, and does not close it here anew.
   */
  private stops(): void {
    const { input, plan } = this;
    const there = input.theirs.stopped ?? [];
    const agreed = new Set((input.base?.[STOPS]?.o ?? []).map(({ v }) => v));
    plan.stopHere = there.filter((channel) => !input.stopped.includes(channel) && !agreed.has(channel));
    plan.stopThere = input.stopped.filter(
      (channel) => input.capabilities.keepsStops.includes(channel) && !there.includes(channel),
    );
    const entry = (channels: readonly Channel[]) => ({ o: [...channels].sort().map((v) => ({ v })) });
    if (there.length || agreed.size) plan.baseHere[STOPS] = entry(there);
    if (plan.stopThere.length) plan.base[STOPS] = entry([...there, ...plan.stopThere]);
  }

  /** Segments as lists, and lists as tags. */
  private lists(all: readonly ListLine[]): void {
    const { record, base, theirs, capabilities, context, segments } = this.input;
    const tagLine: SyncLine = { id: LISTS, field: 'tags', outside: LABELS, direction: 'in', rule: 'replace' };
    const tags = project(record, tagLine, { key: LABELS, name: '', type: 'text', most: Infinity }, context);
    const kept = base?.[LISTS];
    const ids = (values: readonly OutsideValue[] = []) => new Set(values.map(({ v }) => String(v)));
    const plan = planLists(segments ? all : all.filter(({ direction }) => direction === 'in'), {
      segments: segments ?? new Set(),
      tags: new Set(valuesOf(record, 'tags').map(({ v }) => String(v).toLowerCase())),
      theirs,
      base: { wanted: ids(kept?.o), stood: ids(kept?.t ?? kept?.o) },
      inside: capabilities.listsInside,
    });
    for (const { line, label } of plan.put) {
      this.labels.add(label);
      this.plan.changes.push({ side: 'there', line: line.id, before: [], after: [{ v: label }], kind: 'add' });
    }
    for (const { line, label } of plan.takeOut) {
      this.labels.delete(label);
      this.plan.changes.push({ side: 'there', line: line.id, before: [{ v: label }], after: [], kind: 'remove' });
    }
    const settle = (tag: string) => context.settle?.('tag', tag) ?? tag;
    const isOne = (lines: readonly ListLine[], text: string) => lines.some(({ tag }) => tag.toLowerCase() === text);
    if (plan.tag.length || plan.untag.length) {
      const gone = tags.filter(({ value }) => isOne(plan.untag, String(value?.v).toLowerCase()));
      this.lifter.several(
        'tags',
        plan.tag.map(({ tag }) => ({ v: settle(tag) })),
        gone,
        [],
      );
      for (const { id, tag } of plan.tag)
        this.plan.changes.push({ side: 'here', line: id, before: [], after: [{ v: tag }], kind: 'add' });
      for (const { id, tag } of plan.untag)
        this.plan.changes.push({ side: 'here', line: id, before: [{ v: tag }], after: [], kind: 'remove' });
    }
    for (const { line, wants } of plan.asks) {
      const name = [{ v: line.label }];
      this.plan.conflicts.push({ line: line.id, ours: wants ? name : [], theirs: wants ? [] : name, why: 'byHand' });
    }
    const entry = ({ wanted, stood }: { wanted: string[]; stood: string[] }) =>
      baseEntry(
        wanted.map((v) => ({ v })),
        stood.map((v) => ({ v })),
      );
    if (kept || plan.now.wanted.length || plan.now.stood.length) this.plan.baseHere[LISTS] = entry(plan.now);
    if (plan.put.length || plan.takeOut.length) this.plan.base[LISTS] = entry(plan.after);
  }

  private moments(line: SyncLine): Moments {
    const { theirs, clock, changedAtMs } = this.input;
    return {
      oursMs: changedAtMs(line.field),
      theirsMs: theirs.changedAtMs === undefined ? null : theirs.changedAtMs - clock.aheadMs,
      errorMs: clock.errorMs,
    };
  }

  private change(side: 'here' | 'there', line: SyncLine, before: OutsideValue[], after: OutsideValue[]): void {
    this.plan.changes.push({ side, line: line.id, before, after, kind: kindOf(before, after) });
  }

  private conflict(line: SyncLine, ours: readonly Item[], theirs: readonly Item[], why: PlannedConflict['why']): void {
    this.plan.conflicts.push({ line: line.id, ours: outsideValues(ours), theirs: outsideValues(theirs), why });
  }

  /** Keeps what is agreed on: `now` as soon as the side here is written, otherwise once both are. */
  private agree(line: SyncLine, o: readonly Item[], t: readonly OutsideValue[], now: boolean): void {
    const entry = baseEntry(outsideValues(o), [...t]);
    if (now) this.plan.baseHere[line.id] = entry;
    else this.plan.base[line.id] = entry;
  }

  /** The record as it will be, for what it will look like from over there. */
  private after(): ContactRecord {
    const applied = applyOperations(this.input.record, this.lifter.operations);
    return applied.ok ? applied.value : this.input.record;
  }

  private line(line: SyncLine): void {
    const { context, capabilities, record, theirs: there } = this.input;
    const field = outsideField(line, capabilities.fields);
    const ours = project(record, line, field, context);
    const theirs = itemsOf(valuesThere(there, line), line, field, context);
    const several =
      line.fixed === undefined && line.field !== WHOLE_NAME && context.catalogue.find(line.field)?.several;
    if (several) this.several(line, field, ours, theirs, (items) => (this.out[line.outside] = items));
    else this.one(line, field, ours, theirs);
  }

  private one(line: SyncLine, field: OutsideField, ours: Item[], theirs: Item[]): void {
    const { context } = this.input;
    const agreed = agreedOf(this.input.base, line, field, context);
    let verdict = decideOne(line, ours, theirs, agreed, this.moments(line));
    if (verdict === 'ask') verdict = fullerDate(typeOf(line, context), ours[0], theirs[0]) ?? verdict;
    const rest = theirs.slice(1).map((item) => item.outside);
    if (verdict === 'ask') return this.conflict(line, ours, theirs.slice(0, 1), 'bothChanged');
    if (verdict === 'nothing') {
      const equal = (ours[0]?.key ?? '') === (theirs[0]?.key ?? '');
      // Values that differ and are left so by the rule stay as they were agreed on, so that who moves next is known.
      if (equal || !agreed) this.agree(line, ours, outsideValues(theirs.slice(0, 1)), true);
      return;
    }
    if (verdict === 'out') {
      this.out[line.outside] = [...outsideValues(ours.slice(0, 1)), ...rest];
      this.change('there', line, outsideValues(theirs.slice(0, 1)), outsideValues(ours.slice(0, 1)));
      this.agree(line, ours, outsideValues(ours.slice(0, 1)), false);
      return;
    }
    const value = theirs[0];
    if (line.field === WHOLE_NAME) this.lifter.wholeName(value ? String(value.outside.v) : '', field);
    else {
      const read = value ? readOutside(typeOf(line, context), value.outside, context) : null;
      if (value && !read) return this.conflict(line, ours, [value], 'unreadable');
      this.lifter.one(line.field, read);
    }
    this.change('here', line, outsideValues(ours), outsideValues(theirs.slice(0, 1)));
    const now = project(this.after(), line, field, context);
    if (line.direction === 'both' && (now[0]?.key ?? '') !== (value?.key ?? '')) {
      // What was read there is written another way here (a family name that stood first): the other side learns that.
      this.out[line.outside] = [...outsideValues(now.slice(0, 1)), ...rest];
      this.agree(line, now, outsideValues(now.slice(0, 1)), false);
      this.agree(line, now, outsideValues(theirs.slice(0, 1)), true);
    } else this.agree(line, now, outsideValues(theirs.slice(0, 1)), true);
  }

  private several(
    line: SyncLine,
    field: OutsideField,
    ours: Item[],
    theirs: Item[],
    write: (items: OutsideValue[]) => void,
  ): void {
    const { context, record } = this.input;
    const agreed = agreedOf(this.input.base, line, field, context);
    const all = project(record, line, { ...field, most: Infinity }, context);
    const verdict = decideSet(line, ours, all, theirs, agreed, this.moments(line));
    if (verdict.ask) return this.conflict(line, ours, theirs, 'bothChanged');
    const type = typeOf(line, context);
    const unreadable: Item[] = [];
    const add = verdict.add.flatMap((item) => {
      const read = readOutside(type, item.outside, context);
      if (!read) unreadable.push(item);
      return read ? [read] : [];
    });
    for (const item of theirs) {
      if (unreadable.includes(item) || all.some(({ key }) => key === item.key)) continue;
      if (!readOutside(type, item.outside, context)) unreadable.push(item);
    }
    const heres = add.length + verdict.remove.length + verdict.relabel.length > 0;
    if (heres) this.lifter.several(line.field, add, verdict.remove, verdict.relabel);
    const now = heres ? project(this.after(), line, field, context) : ours;
    // Told with all values here, also those that the field over there has no room for.
    const whole = () => project(this.after(), line, { ...field, most: Infinity }, context);
    if (heres) this.change('here', line, outsideValues(all), outsideValues(whole()));
    if (line.direction === 'in') {
      this.agree(line, now, outsideValues(theirs), true);
      return;
    }
    const wanted = new Map<string, Item>();
    const nowByKey = new Map(now.map((item) => [item.key, item]));
    const isKept = new Set([...verdict.keepThere, ...unreadable].map(({ key }) => key));
    for (const item of theirs) {
      if (verdict.dropThere.has(item.key)) continue;
      const mine = nowByKey.get(item.key);
      // What stands there stays in its own writing; only its label may be ours.
      if (mine) wanted.set(item.key, relabelled(item, mine.outside.label));
      else if (isKept.has(item.key)) wanted.set(item.key, item);
    }
    const addedNow = new Set((agreed?.o ?? []).map(({ key }) => key));
    for (const item of now) {
      // By "fills blanks only" what was taken away over there is not put back.
      if (line.rule === 'fill' && addedNow.has(item.key)) continue;
      if (!wanted.has(item.key)) wanted.set(item.key, item);
    }
    const list = [...wanted.values()].slice(0, field.most);
    const labelsMatter = field.labelled === true;
    if (sameKeys(list, theirs) && (!labelsMatter || sameLabels(list, theirs))) {
      this.agree(line, now, outsideValues(theirs), true);
      return;
    }
    if (heres) this.agree(line, now, outsideValues(theirs), true);
    write(outsideValues(list));
    this.change('there', line, outsideValues(theirs), outsideValues(list));
    this.agree(line, now, outsideValues(list), false);
    // Until it is written there, what was added here still has to go there.
    if (heres)
      this.plan.baseHere[line.id] = baseEntry(
        outsideValues(now.filter(({ key }) => theirs.some((t) => t.key === key))),
        outsideValues(theirs),
      );
  }

  /** A stage as one of a set of labels: there is one, so a label that came takes the place of those that were there. */
  private stage(line: SyncLine): void {
    const { context, record, theirs } = this.input;
    const field: OutsideField = { key: LABELS, name: 'Labels', type: 'text', most: 1 };
    const byStage = line.stageLabels ?? {};
    const stages = Object.keys(byStage);
    const stageOf = stagesByLabel(line);
    // Compared by the stage that a label stands for, so that a label may be renamed.
    const keyOf = (label: string) => stageOf.get(label.toLowerCase()) ?? label.toLowerCase();
    const asItem = (label: string | undefined): Item[] =>
      label ? [{ key: keyOf(label), outside: { v: byStage[keyOf(label)] ?? label } }] : [];
    const stageHere = firstText(record, line.field);
    const ours = asItem(byStage[stageHere]);
    const agreed = agreedOf(this.input.base, line, field, context);
    const byKey = (items: Item[]): Item[] => items.map((item) => ({ ...item, key: keyOf(String(item.outside.v)) }));
    const was = agreed ? { o: byKey(agreed.o), t: byKey(agreed.t) } : null;
    const there = theirs.labels.filter((label) => stageOf.has(label.toLowerCase()));
    const came = there.filter((label) => !was?.t.some(({ key }) => key === keyOf(label)));
    const furthest = (labels: readonly string[]) => [...labels].sort((a, b) => rank(b) - rank(a))[0];
    const rank = (label: string) => stages.indexOf(keyOf(label));
    const known = there.find((label) => keyOf(label) === was?.t[0]?.key);
    const theirOne = asItem(came.length ? furthest(came) : (known ?? furthest(there)));
    let verdict = decideOne(line, ours, theirOne, was, this.moments(line));
    // A stage that has no label over there is no blank, and is never filled in or taken away.
    if (stageHere && !ours.length && verdict === 'in' && !was) verdict = 'nothing';
    if (verdict === 'ask') return this.conflict(line, ours, theirOne, 'bothChanged');
    let final = ours;
    if (verdict === 'in') {
      const stage = theirOne[0]?.key ?? null;
      this.lifter.one(line.field, stage === null ? null : { v: stage });
      this.change('here', line, outsideValues(ours), outsideValues(theirOne));
      final = theirOne;
    }
    if (verdict === 'nothing' && !sameKeys(ours, theirOne)) {
      if (!was) this.agree(line, ours, outsideValues(theirOne), true);
      return;
    }
    const isFinal = (label: string) => label.toLowerCase() === String(final[0]?.outside.v).toLowerCase();
    const isRight = there.length === final.length && there.every(isFinal);
    if (line.direction === 'in' || isRight) {
      this.agree(line, final, outsideValues(line.direction === 'in' ? theirOne : final), true);
      return;
    }
    for (const label of there) if (!isFinal(label)) this.labels.delete(label);
    const wanted = final[0];
    if (wanted && !there.some(isFinal)) this.labels.add(String(wanted.outside.v));
    this.change(
      'there',
      line,
      there.map((v) => ({ v })),
      outsideValues(final),
    );
    if (verdict === 'in') {
      // Until the others are off over there, they are none that came.
      const others = there.filter((label) => !isFinal(label)).map((v) => ({ v }));
      this.agree(line, final, [...outsideValues(theirOne), ...others], true);
    }
    this.agree(line, final, outsideValues(final), false);
  }

  /** Tags as labels, apart from labels that stand for a stage or for taking part. */
  private tags(line: SyncLine): void {
    const { context, record, theirs, lines, ownLabels = [], lists = [] } = this.input;
    const field: OutsideField = { key: LABELS, name: 'Labels', type: 'text', most: Infinity };
    const passed = new Set(
      [
        ...lines.flatMap((other) => [...stagesByLabel(other).keys()]),
        ...ownLabels,
        ...lists.map(({ label }) => label),
      ].map((label) => label.toLowerCase()),
    );
    const isTag = (label: string) => !passed.has(label.toLowerCase());
    const there = itemsOf(
      theirs.labels.filter(isTag).map((v) => ({ v })),
      line,
      field,
      context,
    );
    const plain: ContactRecord = {
      ...record,
      f: { ...record.f, [line.field]: valuesOf(record, line.field).filter(({ v }) => isTag(String(v))) },
    };
    this.several(line, field, project(plain, line, field, context), there, (items) => {
      for (const label of theirs.labels) if (isTag(label)) this.labels.delete(label);
      for (const { v } of items) if (isTag(String(v))) this.labels.add(String(v));
    });
  }
}

/**
 * Plans one pair: what is written here, what over there, what a person has to decide, and what is agreed on afterwards.
 * Laws: planning again after both sides are written gives nothing; a line whose direction is off writes nothing that way;
 * every value that was changed is carried across, loses to a later one by the rule, or is asked about.
 */
export function planPair(input: PairInput): PairPlan {
  return new PairPlanner(input).run();
}

export function isQuiet(plan: PairPlan): boolean {
  return !plan.operations.length && !plan.fields && !plan.labels && !plan.stopHere.length && !plan.stopThere.length;
}
