import { activityOf, isRealMoment, ROW_KINDS, type Activity, type ActivityKind } from '../../activity';
import { currencyIn, foldText, parseDate, parseMoney, parseNumber, tidyText, unguardText } from '../../fields';
import { activityKindIn } from '../../formats';
import type { Issue, IssuePath } from '../../model';
import type { CandidateValue } from '../../writing';
import type { ColumnMapping } from '../mapping';

/** What a column can say of something dated that happened with the contact of its row. */
export const ACTIVITY_TARGETS = [
  ['activityDate', 'Activity: when', 'date'],
  ['activityKind', 'Activity: kind', 'text'],
  ['activityWhat', 'Activity: what', 'text'],
  ['activityAmount', 'Activity: amount', 'money'],
  ['activityCurrency', 'Activity: currency', 'text'],
  ['activityQuantity', 'Activity: quantity', 'number'],
  ['activityId', 'Activity: outside id', 'text'],
  ['activityText', 'Activity: remark', 'longText'],
  ['datedNote', 'Note with its date', 'longText'],
] as const;
export type ActivityTarget = (typeof ACTIVITY_TARGETS)[number][0];

const TARGETS: ReadonlySet<string | null> = new Set(ACTIVITY_TARGETS.map(([target]) => target));

export const isActivityTarget = (key: string | null): key is ActivityTarget => TARGETS.has(key);

export interface ActivityCell {
  target: ActivityTarget;
  text: string;
  column: ColumnMapping;
  path: IssuePath;
}

export interface ActivityContext {
  /** What entries are where no cell says it. */
  kind: ActivityKind;
  /** Of amounts that name none (ISO 4217). */
  currency: string;
}

/** Cells that make an entry by themselves; a day or a remark alone makes none. */
const MAKING: ReadonlySet<string> = new Set(['activityWhat', 'activityAmount', 'activityQuantity', 'activityId']);
const TIME_OF_DAY = /[T\s]\d{1,2}[:.]\d{2}.*$/;
const LONGEST = { what: 300, text: 20_000, id: 200 };

function kindOf(text: string, fallback: ActivityKind): ActivityKind {
  const folded = foldText(text);
  return ROW_KINDS.find((kind) => kind === folded) ?? activityKindIn(text) ?? fallback;
}

/** A day in a cell, with or without a time behind it; the time is kept only where it is one of UTC (ISO 8601), as we write it ourselves. */
function dayOf(cell: ActivityCell): { day: string | null; issue: Issue | null } {
  const text = cell.text.trim();
  if (isRealMoment(text)) return { day: new Date(text).toISOString(), issue: null };
  const date = parseDate(text.replace(TIME_OF_DAY, ''), cell.column.dateOrder);
  if (!date.ok)
    return { day: null, issue: { code: 'invalidDate', value: cell.text, why: date.error, path: cell.path } };
  return date.value.startsWith('--')
    ? { day: null, issue: { code: 'dateWithoutYear', value: cell.text, path: cell.path } }
    : { day: date.value, issue: null };
}

/**
 * Reads what happened with the contact of a row from its cells: an entry, a note with its date, or both; none where no cell says
 * enough. Issues hold the row, as those of any cell do.
 */
export function readActivities(
  cells: readonly ActivityCell[],
  context: ActivityContext,
): { activities: Activity[]; issues: Issue[] } {
  const filled = cells.map((one) => ({ ...one, text: unguardText(one.text) })).filter(({ text }) => text.trim() !== '');
  const cell = (target: ActivityTarget) => filled.find((one) => one.target === target);
  const text = (target: ActivityTarget, most: number) => tidyText(cell(target)?.text ?? '').slice(0, most);
  const issues: Issue[] = [];
  const date = cell('activityDate');
  const { day, issue } = date ? dayOf(date) : { day: null, issue: null };
  if (issue) issues.push(issue);
  const activities: Activity[] = [];
  // A remark makes one only where it says of what kind it is.
  if (filled.some(({ target }) => MAKING.has(target)) || (cell('activityKind') && cell('activityText'))) {
    const amount = cell('activityAmount');
    const currency = text('activityCurrency', 3).toUpperCase();
    const money = amount
      ? parseMoney(amount.text, amount.column.decimal, /^[A-Z]{3}$/.test(currency) ? currency : context.currency)
      : null;
    if (amount && !money) issues.push({ code: 'invalidNumber', value: amount.text, path: amount.path });
    const quantity = cell('activityQuantity');
    const number = quantity ? parseNumber(quantity.text, quantity.column.decimal) : null;
    if (quantity && number === null) issues.push({ code: 'invalidNumber', value: quantity.text, path: quantity.path });
    activities.push(
      activityOf(kindOf(cell('activityKind')?.text ?? '', context.kind), {
        at: day,
        what: text('activityWhat', LONGEST.what),
        text: (cell('activityText')?.text ?? '').trim().slice(0, LONGEST.text),
        amount: money,
        quantity: number,
        outsideId: text('activityId', LONGEST.id),
        // What a file tells of is over.
        isOpen: false,
      }),
    );
  }
  const note = cell('datedNote');
  if (note) activities.push(activityOf('note', { at: day, text: note.text.trim().slice(0, LONGEST.text) }));
  return { activities, issues };
}

/** What one cell says, by itself, for showing it. */
export function readActivityCell(
  cell: ActivityCell,
  context: ActivityContext,
): { values: [ActivityTarget, CandidateValue][]; issues: Issue[] } {
  const { target, text } = cell;
  if (!text.trim()) return { values: [], issues: [] };
  if (target === 'activityDate') {
    const { day, issue } = dayOf(cell);
    return { values: day ? [[target, { v: day }]] : [], issues: issue ? [issue] : [] };
  }
  if (target === 'activityKind') return { values: [[target, { v: kindOf(text, context.kind) }]], issues: [] };
  const { activities, issues } = readActivities([cell], context);
  const [found] = activities;
  const amount = found?.amount ?? null;
  if (target === 'activityAmount' && amount)
    return { values: [[target, { v: currencyIn(text, '') ? amount : amount.amount }]], issues };
  if (target === 'activityQuantity' && found?.quantity !== null && found?.quantity !== undefined)
    return { values: [[target, { v: found.quantity }]], issues };
  return { values: issues.length ? [] : [[target, { v: text.trim() }]], issues };
}
