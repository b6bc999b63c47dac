import {
  CUSTOM_PREFIX,
  isFirm,
  isReportLine,
  parseDate,
  repairCase,
  splitName,
  tidyText,
  type Catalogue,
  type DateOrder,
} from '../../fields';
import type { Activity } from '../../activity';
import { labelWord } from '../../formats';
import { holdsRow, KIND, type AddressValue, type Issue, type IssuePath } from '../../model';
import type { Candidate, CandidateValue } from '../../writing';
import { NO_COLUMN, type ColumnMapping, type Mapping } from '../mapping';
import {
  isPermissionTarget,
  PERMISSIONS,
  readPermissions,
  showPermissionCell,
  type PermissionCell,
} from './permission-cells';
import { isActivityTarget, readActivities, type ActivityCell } from './activity-cells';
import { isOpportunityTarget, readOpportunity, type OpportunityCell } from './opportunity-cells';
import { ANY_STAGE, readCell, type CellReading, type ReadAs, type ReadingContext } from './read-cell';
import { kindSaid } from '../columns/kind-words';
import { isAddressPart, mappingTargets } from '../targets';
import { NAME_PARTS } from '../write-rules';
import { applyTransforms, fillsEmpty, isOfCellAlone, type Transform } from './transform';

export interface RowReading {
  candidate: Candidate;
  /** The opportunity of the contact that stands in the row. */
  opportunity: Candidate | null;
  /** What happened with the contact, as the row tells. */
  activities: Activity[];
  issues: Issue[];
  /** Whether an issue keeps the row out. */
  held: boolean;
}

/** A column of a mapping made ready to be read. */
export interface CompiledColumn {
  /** Place in the mapping. */
  at: number;
  mapping: ColumnMapping;
  as: ReadAs;
  path: IssuePath;
  /** Readings by cell; null in a column of many different cells, where keeping them gains nothing. */
  kept: Map<string, CellReading> | null;
  transforms: readonly Transform[];
  /** Whether an empty cell has to be looked at. */
  fillsEmpty: boolean;
}

const KEPT_READINGS = 2000;

/** A mapping made ready to read rows; make it once per file. */
export class RowReader {
  readonly columns: readonly CompiledColumn[];
  private readonly expected: number;
  private readonly header: readonly string[] | null;
  /** Columns that say which kind a row is. */
  private readonly kinds: readonly CompiledColumn[];
  /** The column with the country of a row's first address, where there is one. */
  private readonly country: CompiledColumn | null;
  private readonly contexts = new Map<string, ReadingContext>();

  constructor(
    private readonly mapping: Mapping,
    catalogue: Catalogue,
    private readonly context: ReadingContext,
    shape: { columnCount: number; headers: readonly (string | null)[] },
  ) {
    const targets = new Map(
      mappingTargets(catalogue.fields.filter((field) => field.key.startsWith(CUSTOM_PREFIX))).map((target) => [
        target.key,
        target,
      ]),
    );
    this.columns = mapping.columns
      .map((column, at) => ({ column, at }))
      .filter(({ column }) => column.target !== null)
      .map(({ column, at }) => {
        const field = catalogue.find(column.target ?? '');
        const transforms = column.transforms ?? [];
        return {
          at,
          mapping: column,
          as: field ?? { type: targets.get(column.target ?? '')?.type ?? 'text' },
          path:
            column.column === NO_COLUMN
              ? { name: 'The value for every row' }
              : { column: column.column, name: column.header || `Column ${column.column + 1}` },
          kept: isOfCellAlone(transforms) ? new Map<string, CellReading>() : null,
          transforms,
          fillsEmpty: fillsEmpty(transforms),
        };
      });
    this.kinds = this.columns.filter(({ mapping: { target } }) => target === KIND);
    this.country = this.columns.find(({ mapping: { target } }) => target === 'country') ?? null;
    this.expected = shape.columnCount;
    this.header = shape.headers.some((header) => header) ? shape.headers.map((header) => header ?? '') : null;
  }

  /** Reads one cell alone as one entry of the mapping does, for the preview; the same code as for whole rows. */
  cell(at: number, cells: readonly string[], row: number): CellReading {
    const compiled = this.columns.find((candidate) => candidate.at === at);
    if (!compiled) return { values: [], issues: [] };
    const text = applyTransforms(cells[compiled.mapping.column] ?? '', compiled.transforms, cells);
    const { target } = compiled.mapping;
    if (isPermissionTarget(target)) {
      const shown = showPermissionCell(permissionCell(compiled, cells[compiled.mapping.column] ?? '', cells));
      return {
        values: shown.text ? [[target, { v: shown.text }]] : [],
        issues: shown.issues.map((issue) => ({ ...issue, path: { ...issue.path, row } })),
      };
    }
    const context = compiled.mapping.target === 'tel' ? this.contextOf(cells) : this.context;
    const { values, issues } = readCell(text, compiled.mapping, compiled.as, context, compiled.path);
    return { values, issues: issues.map((issue) => ({ ...issue, path: { ...issue.path, row } })) };
  }

  /** Whether a record has as many cells as the file has columns and is not the heading once more. */
  isWhole(cells: readonly string[]): boolean {
    return cells.length === this.expected && !this.isHeader(cells);
  }

  /**
   * Reads one cell of a row. Cells of columns that say the same again and again (towns, tags) are read once. What is kept is
   * never changed.
   */
  readColumn(column: CompiledColumn, raw: string, cells: readonly string[]): CellReading {
    const { kept, transforms } = column;
    const context = column.mapping.target === 'tel' ? this.contextOf(cells) : this.context;
    const key = context === this.context ? raw : `${context.rowCountry ?? ''} ${raw}`;
    const known = kept?.get(key);
    if (known) return known;
    const text = transforms.length ? applyTransforms(raw, transforms, cells) : raw;
    const reading = readCell(text, column.mapping, column.as, context, column.path);
    if (kept) {
      if (kept.size >= KEPT_READINGS) column.kept = null;
      else kept.set(key, reading);
    }
    return reading;
  }

  /** What a phone of a row is read against: its own country, where a column says it. */
  private contextOf(cells: readonly string[]): ReadingContext {
    const { country } = this;
    const cell = country ? (cells[country.mapping.column] ?? '') : '';
    if (!country || !cell) return this.context;
    const known = this.contexts.get(cell);
    if (known) return known;
    const read = this.readColumn(country, cell, cells).values[0]?.[1].v;
    const rowCountry = typeof read === 'string' && /^[A-Z]{2}$/.test(read) ? read : undefined;
    const context = rowCountry && rowCountry !== this.context.country ? { ...this.context, rowCountry } : this.context;
    if (this.contexts.size < KEPT_READINGS) this.contexts.set(cell, context);
    return context;
  }

  /** Reads one data record into a candidate with its issues. Pure; cost linear in its cells. */
  read(cells: readonly string[], row: number): RowReading {
    const candidate: Candidate = {};
    const issues: Issue[] = [];
    if (this.isHeader(cells)) issues.push({ code: 'repeatedHeading', path: { row } });
    if (cells.length > this.expected && cells.slice(this.expected).some((cell) => cell.trim() !== '')) {
      issues.push({ code: 'tooManyCells', found: cells.length, expected: this.expected, path: { row } });
    } else if (cells.length < this.expected)
      issues.push({ code: 'tooFewCells', found: cells.length, expected: this.expected, path: { row } });
    const addresses = new Map<string, AddressValue>();
    const ofOpportunity: OpportunityCell[] = [];
    const ofActivity: ActivityCell[] = [];
    const ofPermissions: PermissionCell[] = [];
    const ofWholeName: CellReading['values'] = [];
    const ofOrganization: string[] = [];
    const isOrganization = this.saysOrganization(cells);
    let beside = '';
    for (const column of this.columns) {
      const raw = cells[column.mapping.column] ?? '';
      if (!raw && !column.fillsEmpty) continue;
      const { target } = column.mapping;
      if (isOpportunityTarget(target)) {
        const text = column.transforms.length ? applyTransforms(raw, column.transforms, cells) : raw;
        ofOpportunity.push({ target, text, column: column.mapping, path: column.path });
        continue;
      }
      if (isActivityTarget(target)) {
        const text = column.transforms.length ? applyTransforms(raw, column.transforms, cells) : raw;
        ofActivity.push({ target, text, column: column.mapping, path: column.path });
        continue;
      }
      if (isPermissionTarget(target)) {
        ofPermissions.push(permissionCell(column, raw, cells));
        continue;
      }
      // What an organization is called stands where people have their names.
      if (NAME_COLUMNS.has(target ?? '') && (isOrganization || (target === 'fullName' && isFirm(tidyText(raw))))) {
        ofOrganization.push(tidyText(raw));
        continue;
      }
      const reading = labelled(this.readColumn(column, raw, cells), column.mapping, cells);
      for (const issue of reading.issues) {
        if (column.mapping.onBad === 'drop' && holdsRow(issue)) continue;
        issues.push({ ...issue, path: { ...issue.path, row } });
      }
      beside ||= reading.beside ?? '';
      for (const [field, value] of reading.values) {
        if (target === 'fullName') ofWholeName.push([field, value]);
        else if (isAddressPart(field)) {
          const { nth } = column.mapping;
          const label = labelOf(column.mapping, cells);
          const key = nth ? `${label ?? ''}\n${nth}` : (label ?? '');
          const address = addresses.get(key) ?? {};
          address[field] = joinLines(field, address[field], String(value.v));
          addresses.set(key, address);
        } else add(candidate, field, value);
      }
    }
    for (const [key, address] of addresses) {
      const [label] = key.split('\n');
      add(candidate, 'adr', label ? { v: address, label } : { v: address });
    }
    // Where columns of their own say given and family name, a whole name beside them is only how it was written.
    const hasParts = Boolean(candidate.givenName && candidate.familyName);
    for (const [field, value] of ofWholeName) if (!hasParts || field === 'fullName') add(candidate, field, value);
    if (beside && !NAMES.some((field) => candidate[field])) addName(candidate, beside);
    settleOrganization(candidate, ofOrganization, issues);
    const line = reportLine(candidate);
    if (line !== null) issues.push({ code: 'notAPerson', value: line, path: { row } });
    const opportunity = this.readOpportunity(ofOpportunity, issues, row);
    const activities = this.readActivities(ofActivity, issues, row);
    if (ofPermissions.length) this.addPermissions(candidate, ofPermissions, issues, row);
    this.addChangedAt(candidate, cells);
    if (!hasIdentity(candidate)) issues.push({ code: 'noIdentity', path: { row } });
    else this.addWholeFile(candidate);
    return { candidate, opportunity, activities, issues, held: issues.some(holdsRow) };
  }

  private readActivities(cells: readonly ActivityCell[], issues: Issue[], row: number): Activity[] {
    if (!cells.length) return [];
    const { currency } = this.context.opportunities ?? ANY_STAGE;
    const found = readActivities(cells, { kind: this.mapping.activityKind ?? 'purchase', currency });
    this.addIssues(found.issues, issues, row);
    return found.activities;
  }

  /** What is wrong with cells, but for those whose column drops what cannot be read. */
  private addIssues(found: readonly Issue[], issues: Issue[], row: number): void {
    for (const issue of found) {
      const onBad = this.columns.find(({ mapping }) => mapping.column === issue.path.column)?.mapping.onBad;
      if (onBad !== 'drop') issues.push({ ...issue, path: { ...issue.path, row } });
    }
  }

  private readOpportunity(cells: readonly OpportunityCell[], issues: Issue[], row: number): Candidate | null {
    if (!cells.length) return null;
    const found = readOpportunity(cells, this.context.opportunities ?? ANY_STAGE);
    this.addIssues(found.issues, issues, row);
    return found.candidate;
  }

  /** Whether a column of the row says that it is an organization. */
  private saysOrganization(cells: readonly string[]): boolean {
    return this.kinds.some(({ mapping: { column } }) => kindSaid(cells[column] ?? '') === 'organization');
  }

  private addPermissions(candidate: Candidate, cells: readonly PermissionCell[], issues: Issue[], row: number): void {
    const found = readPermissions(cells);
    this.addIssues(found.issues, issues, row);
    if (found.values.length) candidate[PERMISSIONS] = found.values;
  }

  private isHeader(cells: readonly string[]): boolean {
    const { header } = this;
    return (
      header !== null && header.length === cells.length && header.every((name, i) => name === (cells[i] ?? '').trim())
    );
  }

  /** Gives every value of the row the time at which the row was last changed, where a column says it. */
  private addChangedAt(candidate: Candidate, cells: readonly string[]): void {
    const { changedColumn, columns } = this.mapping;
    if (changedColumn === undefined || changedColumn === null) return;
    const atMs = readMoment(
      cells[changedColumn] ?? '',
      columns.find(({ column }) => column === changedColumn)?.dateOrder,
    );
    if (atMs === null) return;
    for (const [field, values] of Object.entries(candidate))
      candidate[field] = values.map((value) => ({ ...value, atMs: value.atMs ?? atMs }));
  }

  private addWholeFile(candidate: Candidate): void {
    const { tags, source, stage, owner } = this.mapping.wholeFile;
    for (const tag of tags) add(candidate, 'tags', { v: tag });
    if (source && !candidate.source) candidate.source = [{ v: source }];
    if (stage && !candidate.stage) candidate.stage = [{ v: stage }];
    if (owner && !candidate.owner) candidate.owner = [{ v: owner }];
  }
}

function permissionCell(column: CompiledColumn, raw: string, cells: readonly string[]): PermissionCell {
  const { mapping, transforms, path } = column;
  const text = transforms.length ? applyTransforms(raw, transforms, cells) : raw;
  return { target: mapping.target ?? '', text, dateOrder: mapping.dateOrder, path };
}

/** What somebody can be called by. */
const NAMES = ['givenName', 'familyName', 'fullName', 'nickname', 'organization'];

/** Columns of which an organization has its name. */
const NAME_COLUMNS: ReadonlySet<string> = new Set(['fullName', 'givenName', 'familyName']);
/** What makes a row that of a person. */
const OF_PERSONS = ['givenName', 'familyName', 'fullName', 'nickname'];

/**
 * A row that names an organization and no person is one of an organization: it never fills somebody who has its phone or mailbox.
 * Who could not be read (two people, a stand-in for a name) stays what it was to be.
 */
function settleOrganization(candidate: Candidate, names: readonly string[], issues: readonly Issue[]): void {
  if (names.length && !candidate.organization) candidate.organization = [{ v: names.join(' ') }];
  if (candidate[KIND] || !candidate.organization) return;
  const isUnread = issues.some(({ code }) => code === 'twoPeople' || code === 'notAPerson');
  if (!isUnread && !OF_PERSONS.some((field) => candidate[field])) candidate[KIND] = [{ v: 'organization' }];
}

/** The name that stands beside the mailbox of a row that has no other; a firm's or two people's is left. */
function addName(candidate: Candidate, text: string): void {
  const { name, fault } = splitName(repairCase(text));
  if (fault) return;
  for (const field of NAME_PARTS) if (name[field]) add(candidate, field, { v: name[field] });
  add(candidate, 'fullName', { v: text });
}

const CLOCK = /[T\s](\d{1,2}):(\d{2})(?::(\d{2}))?\s*(am|pm)?/i;
const ZONED = /^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}.*(?:Z|[+-]\d{2}:?\d{2})$/;

/**
 * The moment a cell names, in ms since 1970 UTC: a day, or a day with a time of day, by the column's order of day and month.
 * Without a zone it is taken as UTC. Null for what is no full date.
 */
export function readMoment(text: string, order: DateOrder = 'iso'): number | null {
  const plain = text.trim();
  if (ZONED.test(plain)) {
    const ms = Date.parse(plain.replace(' ', 'T'));
    return Number.isNaN(ms) ? null : ms;
  }
  const clock = CLOCK.exec(plain);
  const day = parseDate(clock ? plain.slice(0, clock.index) : plain, order);
  if (!day.ok || !/^\d{4}-\d{2}-\d{2}$/.test(day.value)) return null;
  const [, hours = '0', minutes = '0', seconds = '0', half] = clock ?? [];
  const hour = half ? (Number(hours) % 12) + (half.toLowerCase() === 'pm' ? 12 : 0) : Number(hours);
  return Date.parse(`${day.value}T00:00:00Z`) + ((hour * 60 + Number(minutes)) * 60 + Number(seconds)) * 1000;
}

/** What two columns of one part come to: a house number goes with its street, anything else is another line of it. */
function joinLines(part: string, before: string | undefined, text: string): string {
  if (!before || before === text) return text;
  if (part !== 'street') return before;
  if (/^[a-z]$/i.test(text) && /\d$/.test(before)) return `${before}${text}`;
  const number = /^\d{1,5}\s?[a-z]?(?:\s?[-/]\s?\d{1,5}\s?[a-z]?)?$/i;
  return number.test(text) || number.test(before) ? `${before} ${text}` : `${before}\n${text}`;
}

const LABEL_LIMIT = 40;

/** The label that a column's values get in a row: that of the row, else that of the column. */
function labelOf({ label, labelFrom }: ColumnMapping, cells: readonly string[]): string | null {
  const own =
    labelFrom === undefined
      ? ''
      : (cells[labelFrom] ?? '')
          .replace(/^\s*\*/, '')
          .trim()
          .slice(0, LABEL_LIMIT);
  return (own && (labelWord(own) ?? own)) || label;
}

/** A reading with the row's own label. What was kept of a cell is copied and not changed. */
function labelled(reading: CellReading, mapping: ColumnMapping, cells: readonly string[]): CellReading {
  const label = mapping.labelFrom === undefined ? null : labelOf(mapping, cells);
  if (!label) return reading;
  return { ...reading, values: reading.values.map(([field, value]) => [field, { ...value, label }]) };
}

function add(candidate: Candidate, field: string, value: CandidateValue): void {
  const list = candidate[field];
  if (list) list.push(value);
  else candidate[field] = [value];
}

/** What a row says of whom it is, where that is a line of a report and nobody ("Total" in the column of ids); else null. */
function reportLine(candidate: Candidate): string | null {
  if (candidate.email || candidate.tel || (candidate.givenName && candidate.familyName)) return null;
  const [first] = ['externalId', ...NAMES].flatMap((field) => candidate[field] ?? []);
  const text = first ? String(first.v) : '';
  return isReportLine(text) ? text : null;
}

/** Whether anybody could be told by these values: a mailbox, an outside id, a whole name, or a name with something beside it. */
function hasIdentity(candidate: Candidate): boolean {
  if (candidate.email || candidate.externalId) return true;
  if (candidate[KIND] && candidate.organization) return true;
  const named = candidate.givenName || candidate.familyName || candidate.organization;
  if (candidate.givenName && candidate.familyName) return true;
  return Boolean(
    named &&
    (candidate.tel || candidate.adr || (candidate.organization && (candidate.givenName || candidate.familyName))),
  );
}
