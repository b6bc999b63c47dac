import { err, ok, wordTable, type ContactRecord, type Operation, type Result } from '../model';
import { LISTS, settledList, type ListLine } from './kept-lists';
import { LABELS, stagesByLabel, WHOLE_NAME, type SyncLine } from './lines';
import type { Capabilities, OutsideField, OutsideRecord, OutsideValue } from './outside';
import { applied, type PassItem } from './pass-item';
import { planPair, type Base, type PlannedConflict } from './plan-pair';
import type { ApartReason, Link, PairWrite } from './ports';
import { itemsOf, outsideField, project, readOutside, type SyncContext } from './project';

/** One contact and the record over there with which it disagrees on a line. */
export interface DisputedPair {
  /** The contact, or the one that took it in by a merge. */
  contactId: number;
  version: number;
  record: ContactRecord;
  link: Link;
  theirs: OutsideRecord;
  capabilities: Capabilities;
  context: SyncContext;
  run: number;
  /** Other open questions about the pair; they stay open. */
  others: readonly PlannedConflict[];
}

export type ValueDecision = { take: 'ours' | 'theirs' | 'both' } | { take: 'typed'; text: string };

/** unreadable: what stands over there is no value of the field; unreadableText: what was typed is none; oneValue: the field cannot have both. */
export type SettleFault = 'unreadable' | 'unreadableText' | 'nothingTyped' | 'oneValue';

interface Side {
  field: OutsideField;
  plain(from: ContactRecord): OutsideValue[];
  there: OutsideValue[];
}

function sideOf(line: SyncLine, { theirs, capabilities, context }: DisputedPair): Side {
  const field = outsideField(line, capabilities.fields);
  if (line.stageLabels)
    return { field, plain: (from) => stageLabel(from, line), there: stageLabelsThere(line, theirs) };
  return {
    field,
    plain: (from) => project(from, line, field, context).map(({ outside }) => outside),
    there: theirs.fields[line.outside] ?? [],
  };
}

/** Both values of a line as they stand now, as a question shows them. */
export function standingOf(line: SyncLine, pair: DisputedPair): { ours: OutsideValue[]; theirs: OutsideValue[] } {
  const { field, plain, there } = sideOf(line, pair);
  if (line.stageLabels) return { ours: plain(pair.record), theirs: there };
  const several = line.field !== WHOLE_NAME && pair.context.catalogue.find(line.field)?.several;
  const items = itemsOf(there, line, field, pair.context);
  return {
    ours: plain(pair.record),
    theirs: (several ? items : items.slice(0, 1)).map(({ outside }) => outside),
  };
}

/**
 * What a decision about one line writes here, and what counts as agreed on afterwards, as a pass would write it: what has to
 * go out is left to the next pass as any other change. Errors: a value that cannot be read.
 */
export function settleLine(
  line: SyncLine,
  decision: ValueDecision,
  pair: DisputedPair,
): Result<PairWrite, SettleFault> {
  const { link, record, theirs, context } = pair;
  const { plain, there } = sideOf(line, pair);
  const settled = (operations: Operation[], base: Base | null): Result<PairWrite, SettleFault> =>
    ok(settledWrite({ ...link, base }, operations, pair.version, pair.others));
  // "Agreed" on what stands there: then only our side moved, and goes out.
  const outward: Base = { ...link.base, [line.id]: { o: there } };
  switch (decision.take) {
    case 'ours':
      return settled(
        [],
        line.direction === 'in' ? { ...link.base, [line.id]: { o: plain(record), t: there } } : outward,
      );
    case 'theirs': {
      const operations = operationsFrom(line, pair, theirs);
      if (!operations.length && !saysTheSame(line, pair)) return err('unreadable');
      // Agreed on as it stands: a change that follows before the next pass is then the only one, and goes out.
      return settled(operations, { ...link.base, [line.id]: { o: plain(applied(record, operations)), t: there } });
    }
    case 'both': {
      if (line.field === WHOLE_NAME || line.stageLabels || !context.catalogue.find(line.field)?.several)
        return err('oneValue');
      const { [line.id]: _gone, ...rest } = link.base ?? {};
      return settled([], rest);
    }
    case 'typed': {
      const text = decision.text.trim();
      if (!text) return err('nothingTyped');
      const type = context.catalogue.find(line.field)?.type ?? 'text';
      if (line.field !== WHOLE_NAME && !line.stageLabels && !readOutside(type, { v: text }, context))
        return err('unreadableText');
      return settled(operationsFrom(line, pair, withTyped(line, pair, text)), outward);
    }
  }
}

/** What a record over there would change in this line here, if it were right in any case. */
function operationsFrom(line: SyncLine, pair: DisputedPair, theirs: OutsideRecord): Operation[] {
  const { contactId, record, capabilities, context, run } = pair;
  return planPair({
    id: contactId,
    record,
    stopped: [],
    changedAtMs: () => 0,
    theirs,
    base: { [line.id]: { o: sideOf(line, pair).plain(record) } },
    lines: [{ ...line, direction: 'in', rule: 'replace', wins: 'there' }],
    capabilities,
    context,
    clock: { aheadMs: 0, errorMs: 0 },
    run,
  }).operations;
}

/** The record over there as if the text that was typed stood in it, beside what both sides have. */
function withTyped(
  line: SyncLine,
  { record, theirs, capabilities, context }: DisputedPair,
  text: string,
): OutsideRecord {
  if (line.stageLabels) return { ...theirs, labels: [wordTable(line.stageLabels)[text] ?? text] };
  if (line.outside === LABELS) return { ...theirs, fields: { ...theirs.fields, [LABELS]: [] } };
  const field = outsideField(line, capabilities.fields);
  const ours = new Set(project(record, line, field, context).map(({ key }) => key));
  const common = itemsOf(theirs.fields[line.outside] ?? [], line, field, context).filter(({ key }) => ours.has(key));
  const label = theirs.fields[line.outside]?.[0]?.label;
  const typed: OutsideValue = label ? { v: text, label } : { v: text };
  return {
    ...theirs,
    fields: { ...theirs.fields, [line.outside]: [...common.map(({ outside }) => outside), typed] },
  };
}

function saysTheSame(line: SyncLine, { record, theirs, capabilities, context }: DisputedPair): boolean {
  if (line.stageLabels) return true;
  const field = outsideField(line, capabilities.fields);
  const ours = new Set(project(record, line, field, context).map(({ key }) => key));
  return itemsOf(theirs.fields[line.outside] ?? [], line, field, context).every(({ key }) => ours.has(key));
}

function stageLabelsThere(line: SyncLine, { labels }: OutsideRecord): OutsideValue[] {
  const stages = stagesByLabel(line);
  return labels.filter((label) => stages.has(label.toLowerCase())).map((v) => ({ v }));
}

function stageLabel(record: ContactRecord, line: SyncLine): OutsideValue[] {
  const label = line.stageLabels?.[String(record.f[line.field]?.[0]?.v ?? '')];
  return label ? [{ v: label }] : [];
}

/** The link is looked at again in the next pass, whatever changed. */
function settledWrite(
  link: Link,
  operations: Operation[],
  version: number | null,
  conflicts: readonly PlannedConflict[],
): PairWrite {
  return { link: { ...link, dirty: true }, operations, version, stop: [], changes: [], conflicts: [...conflicts] };
}

/** What a person says of a list that somebody over there changed by hand: it is put right by the next pass (ours), or left (theirs). */
export function settleList(
  line: ListLine,
  take: 'ours' | 'theirs',
  { link, theirs, version, others }: Pick<DisputedPair, 'link' | 'theirs' | 'version' | 'others'>,
): PairWrite {
  const stands = theirs.labels.some((label) => label.toLowerCase() === line.label.toLowerCase());
  const kept = link.base?.[LISTS];
  const ids = (values: readonly OutsideValue[] = []) => new Set(values.map(({ v }) => String(v)));
  const base = { wanted: ids(kept?.o), stood: ids(kept?.t ?? kept?.o) };
  const { wanted, stood } = settledList(base, { line, wants: !stands, take });
  const entry = { o: wanted.map((v) => ({ v })), t: stood.map((v) => ({ v })) };
  return settledWrite({ ...link, base: { ...link.base, [LISTS]: entry } }, [], version, others);
}

export type WhoDecision = { take: 'contact'; contactId: number } | { take: 'new' } | { take: 'leave' };

/** What a person says who a record over there is; the next pass goes on from it. */
export function settleWho(link: Link, decision: WhoDecision): PairWrite {
  const open: Link = { ...link, candidates: [], band: null };
  switch (decision.take) {
    case 'contact':
      return settledWrite({ ...open, state: 'linked', contactId: decision.contactId, base: null }, [], null, []);
    case 'new':
      return settledWrite({ ...open, state: 'fresh' }, [], null, []);
    case 'leave':
      return leftApart(open);
  }
}

/** A record over there that a person leaves out; the second one of a merged contact is in step again when the merge is taken back. */
export function leftApart(link: Link, apart: 'person' | 'merged' = 'person'): PairWrite {
  const write = settledWrite({ ...link, state: 'apart', apart, asks: null }, [], null, []);
  return { ...write, link: { ...write.link, dirty: false }, conflicts: [], event: 'apart' };
}

/** A record over there that was to be removed stays in step. */
export function staysInStep(link: Link): PairWrite {
  return settledWrite({ ...link, state: 'linked', asks: null }, [], null, []);
}

/** A record over there goes by a person's word: written with the steps of a pass. */
export function removalOf(link: Link, reason: ApartReason): PassItem {
  return {
    link: { ...link, asks: null },
    person: null,
    plan: null,
    action: 'removeThere',
    operations: [],
    event: 'removedThere',
    apart: reason,
  };
}
