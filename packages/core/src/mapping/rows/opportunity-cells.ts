import { currencyIn, foldText, parseDate, parseMoney, tidyText, TEXT_LIMIT, type Pipeline } from '../../fields';
import { isMoney, type Issue, type IssuePath } from '../../model';
import type { Candidate, CandidateValue } from '../../writing';
import type { ColumnMapping } from '../mapping';

/** What a column can say of an opportunity that stands in the row of its contact. */
export const OPPORTUNITY_TARGETS = [
  ['opportunityId', 'Opportunity: outside id', 'text'],
  ['opportunityName', 'Opportunity', 'text'],
  ['opportunityPipeline', 'Opportunity: pipeline', 'text'],
  ['opportunityStage', 'Opportunity: stage', 'text'],
  ['opportunityValue', 'Opportunity: value', 'money'],
  ['opportunityCurrency', 'Opportunity: currency', 'text'],
  ['opportunityCloseDate', 'Opportunity: expected on', 'date'],
  ['opportunityOwner', 'Opportunity: owner', 'text'],
  ['opportunityNote', 'Opportunity: note', 'longText'],
] as const;

export type OpportunityTarget = (typeof OPPORTUNITY_TARGETS)[number][0];

const TARGETS: ReadonlySet<string | null> = new Set(OPPORTUNITY_TARGETS.map(([target]) => target));

export function isOpportunityTarget(key: string | null): key is OpportunityTarget {
  return TARGETS.has(key);
}

export interface OpportunityCell {
  target: OpportunityTarget;
  text: string;
  column: ColumnMapping;
  path: IssuePath;
}

/** The pipelines there are, and what is taken where a row names none. Null where nobody has any yet: then every stage goes. */
export interface OpportunityContext {
  pipelines: readonly Pipeline[] | null;
  currency: string;
}

const same = (a: string, b: string) => (foldText(a) || a.trim()) === (foldText(b) || b.trim());

/** Finds pipeline and stage of a row; a stage alone is looked for in every pipeline, the first one before the others. */
function stageOf(
  pipeline: OpportunityCell | undefined,
  stage: OpportunityCell | undefined,
  pipelines: readonly Pipeline[],
): { pipeline: string; stage: string } | Issue {
  const named = pipeline ? pipelines.filter(({ name }) => same(name, pipeline.text)) : pipelines;
  const [first] = named;
  if (!first)
    return pipeline
      ? {
          code: 'unknownChoice',
          value: pipeline.text,
          choices: pipelines.map(({ name }) => name),
          path: pipeline.path,
        }
      : { code: 'unknownStage', value: stage?.text ?? '', stages: [], path: stage?.path ?? {} };
  if (!stage) return { pipeline: first.name, stage: first.stages[0]?.label ?? '' };
  for (const one of named) {
    const found = one.stages.find(({ label }) => same(label, stage.text));
    if (found) return { pipeline: one.name, stage: found.label };
  }
  return {
    code: 'unknownStage',
    value: stage.text,
    stages: first.stages.map(({ label }) => label),
    path: stage.path,
  };
}

/**
 * Reads the opportunity of a row from its cells; null where the row has none. A name is made of what there is where none is
 * given. Issues hold the row, as those of any cell do.
 */
export function readOpportunity(
  cells: readonly OpportunityCell[],
  context: OpportunityContext,
): { candidate: Candidate | null; issues: Issue[] } {
  const filled = cells.filter(({ text }) => text.trim() !== '');
  const cell = (target: OpportunityTarget) => filled.find((one) => one.target === target);
  // A currency or an owner alone is no opportunity.
  if (!filled.some(({ target }) => target !== 'opportunityCurrency' && target !== 'opportunityOwner'))
    return { candidate: null, issues: [] };
  const issues: Issue[] = [];
  const candidate: Candidate = {};
  const put = (field: string, v: Candidate[string][number]['v']) => (candidate[field] = [{ v }]);
  const id = cell('opportunityId');
  const name = cell('opportunityName');
  for (const one of [id, name])
    if (one && one.text.length > TEXT_LIMIT)
      issues.push({ code: 'valueTooLong', length: one.text.length, limit: TEXT_LIMIT, path: one.path });
  put('opportunityName', tidyText(name?.text ?? '') || `Opportunity ${tidyText(id?.text ?? '')}`.trim());
  if (id) put('externalId', tidyText(id.text));
  if (context.pipelines) {
    const found = stageOf(cell('opportunityPipeline'), cell('opportunityStage'), context.pipelines);
    if ('code' in found) issues.push(found);
    else {
      put('opportunityPipeline', found.pipeline);
      put('opportunityStage', found.stage);
    }
  } else {
    const pipeline = cell('opportunityPipeline');
    const stage = cell('opportunityStage');
    if (pipeline) put('opportunityPipeline', tidyText(pipeline.text));
    if (stage) put('opportunityStage', tidyText(stage.text));
  }
  const value = cell('opportunityValue');
  if (value) {
    const currency = tidyText(cell('opportunityCurrency')?.text ?? '').toUpperCase();
    const fallback = /^[A-Z]{3}$/.test(currency) ? currency : context.currency;
    const money = parseMoney(value.text, value.column.decimal, fallback);
    if (!money) issues.push({ code: 'invalidNumber', value: value.text, path: value.path });
    else put('opportunityValue', money);
  }
  const close = cell('opportunityCloseDate');
  if (close) {
    const date = parseDate(close.text, close.column.dateOrder);
    if (!date.ok) issues.push({ code: 'invalidDate', value: close.text, why: date.error, path: close.path });
    else if (date.value.startsWith('--')) issues.push({ code: 'dateWithoutYear', value: close.text, path: close.path });
    else put('opportunityCloseDate', date.value);
  }
  const owner = cell('opportunityOwner');
  if (owner) put('owner', tidyText(owner.text).slice(0, 80));
  const note = cell('opportunityNote');
  if (note) put('note', note.text.trim().slice(0, 20_000));
  return { candidate, issues };
}

/** Fields of an opportunity that are called otherwise as a meaning of a column. */
const FIELD_OF: Partial<Record<OpportunityTarget, string>> = {
  opportunityId: 'externalId',
  opportunityOwner: 'owner',
  opportunityNote: 'note',
};

/** What one cell says of an opportunity, by itself. An amount has no currency here but one that stands in the cell. */
export function readOpportunityCell(
  cell: OpportunityCell,
  context: OpportunityContext,
): { values: [OpportunityTarget, CandidateValue][]; issues: Issue[] } {
  const { target, text } = cell;
  const { candidate, issues } = readOpportunity([cell], context);
  const read = candidate?.[FIELD_OF[target] ?? target]?.[0]?.v ?? text;
  const v = isMoney(read) && !currencyIn(text, '') ? read.amount : read;
  return { values: [[target, { v }]], issues };
}
