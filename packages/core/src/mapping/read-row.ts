import { CUSTOM_PREFIX, type Catalogue } from '../fields';
import { holdsRow, KIND, type AddressValue, type Issue, type IssuePath } from '../model';
import type { Candidate, CandidateValue } from '../writing';
import type { ColumnMapping, Mapping } from './mapping';
import { readCell, type CellReading, type ReadAs, type ReadingContext } from './read-cell';
import { isAddressPart, mappingTargets } from './targets';
import { applyTransforms, fillsEmpty, isOfCellAlone, type Transform } from './transform';

export interface RowReading {
  candidate: Candidate;
  issues: Issue[];
  /** Whether an issue keeps the row out. */
  held: boolean;
}

interface CompiledColumn {
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
  private readonly columns: CompiledColumn[];
  private readonly expected: number;
  private readonly header: readonly string[] | null;

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
      .filter((column) => column.target !== null)
      .map((column) => {
        const field = catalogue.find(column.target ?? '');
        const transforms = column.transforms ?? [];
        return {
          mapping: column,
          as: field ?? { type: targets.get(column.target ?? '')?.type ?? 'text' },
          path: { column: column.column, name: column.header || `Column ${column.column + 1}` },
          kept: isOfCellAlone(transforms) ? new Map<string, CellReading>() : null,
          transforms,
          fillsEmpty: fillsEmpty(transforms),
        };
      });
    this.expected = shape.columnCount;
    this.header = shape.headers.some((header) => header) ? shape.headers.map((header) => header ?? '') : null;
  }

  /** Reads one cell alone, for the preview; the same code as for whole rows. */
  cell(column: number, cells: readonly string[], row: number): CellReading {
    const compiled = this.columns.find((candidate) => candidate.mapping.column === column);
    if (!compiled) return { values: [], issues: [] };
    const text = applyTransforms(cells[column] ?? '', compiled.transforms, cells);
    const { values, issues } = readCell(text, compiled.mapping, compiled.as, this.context, compiled.path);
    return { values, issues: issues.map((issue) => ({ ...issue, path: { ...issue.path, row } })) };
  }

  /** Cells of columns that say the same again and again (towns, tags) are read once. What is kept is never changed. */
  private readKept(column: CompiledColumn, raw: string, cells: readonly string[]): CellReading {
    const { kept, transforms } = column;
    const known = kept?.get(raw);
    if (known) return known;
    const text = transforms.length ? applyTransforms(raw, transforms, cells) : raw;
    const reading = readCell(text, column.mapping, column.as, this.context, column.path);
    if (kept) {
      if (kept.size >= KEPT_READINGS) column.kept = null;
      else kept.set(raw, reading);
    }
    return reading;
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
    for (const column of this.columns) {
      const raw = cells[column.mapping.column] ?? '';
      if (!raw && !column.fillsEmpty) continue;
      const reading = this.readKept(column, raw, cells);
      for (const issue of reading.issues) {
        if (column.mapping.onBad === 'drop' && holdsRow(issue)) continue;
        issues.push({ ...issue, path: { ...issue.path, row } });
      }
      for (const [field, value] of reading.values) {
        if (isAddressPart(field)) {
          const { label, nth } = column.mapping;
          const key = nth ? `${label ?? ''}\n${nth}` : (label ?? '');
          const address = addresses.get(key) ?? {};
          address[field] = String(value.v);
          addresses.set(key, address);
        } else add(candidate, field, value);
      }
    }
    for (const [key, address] of addresses) {
      const [label] = key.split('\n');
      add(candidate, 'adr', label ? { v: address, label } : { v: address });
    }
    if (!hasIdentity(candidate)) issues.push({ code: 'noIdentity', path: { row } });
    else this.addWholeFile(candidate);
    return { candidate, issues, held: issues.some(holdsRow) };
  }

  private isHeader(cells: readonly string[]): boolean {
    const { header } = this;
    return (
      header !== null && header.length === cells.length && header.every((name, i) => name === (cells[i] ?? '').trim())
    );
  }

  private addWholeFile(candidate: Candidate): void {
    const { tags, source, stage, owner } = this.mapping.wholeFile;
    for (const tag of tags) add(candidate, 'tags', { v: tag });
    if (source && !candidate.source) candidate.source = [{ v: source }];
    if (stage && !candidate.stage) candidate.stage = [{ v: stage }];
    if (owner && !candidate.owner) candidate.owner = [{ v: owner }];
  }
}

function add(candidate: Candidate, field: string, value: CandidateValue): void {
  const list = candidate[field];
  if (list) list.push(value);
  else candidate[field] = [value];
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
