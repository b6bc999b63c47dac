import { WORTH_HAVING, type Catalogue, type FieldDefinition } from '../../fields';
import { KIND, type AddressValue } from '../../model';
import { contentKey, type CandidateValue } from '../../writing';
import type { Mapping } from '../mapping';
import { isActivityTarget } from './activity-cells';
import { isOpportunityTarget } from './opportunity-cells';
import { isPermissionTarget } from './permission-cells';
import { LOOKED_AT, PlainPeople, type LookedAt, type PlainField, type PlainRow, type SaidValue } from './plain-person';
import type { CompiledColumn, RowReader } from './read-row';
import { isAddressPart, type AddressPart } from '../targets';
import { NAME_PARTS } from '../write-rules';

/** Fields that take part in how somebody is called; where one of them is filled a row goes the long way. */
const NAME_BESIDE: ReadonlySet<string> = new Set(['additionalNames', 'suffix', 'nickname', KIND]);
/** Cells kept of a column, and of all columns together. */
const CELLS_KEPT = 5000;
const ALL_CELLS_KEPT = 100_000;

/** What a cell says. */
interface PlainCell {
  /** Whether the row has to go the long way. */
  isLong: boolean;
  /** The values of its field; null where it says nothing, or says a whole name. */
  field: PlainField | null;
  /** The parts of a whole name, and how it is written. */
  name: { place: number; field: PlainField }[] | null;
  /** The part of an address that it says. */
  text: string;
}

interface PlainColumn {
  compiled: CompiledColumn;
  /** The part of an address that it says; null for a field. */
  part: AddressPart | null;
  /** Place of its field among those of the file. */
  place: number;
  /** Cells read before; null where cells hardly ever repeat, or say another thing in another row. */
  kept: Map<string, PlainCell> | null;
  hits: number;
}

/**
 * Reads the rows of a file that leave nothing to decide at a third of the cost of the long way, straight into what is
 * written for a new person. Whatever else a row has (an issue, a suffix, two values for one place) sends it the long way, through
 * RowReader; law: both ways come to the same person, to the letter.
 */
export class PlainReader {
  private readonly columns: PlainColumn[];
  private readonly places = new Map<string, number>();
  private readonly definitions: (FieldDefinition | undefined)[] = [];
  private readonly placeOf = {} as Record<LookedAt, number>;
  /** Places of the fields worth having. */
  private readonly worth: number[];
  private readonly people: PlainPeople;
  private readonly ofFile: { place: number; field: PlainField }[];
  private readonly label: string | null;
  /** Cells kept of a column. */
  private readonly most: number;
  /** Where among the values of the row at hand those of each field are; -1 for none. */
  private readonly at: Int32Array;
  /** A reader for a file, or null where every row has something that goes the long way. */
  static of(mapping: Mapping, catalogue: Catalogue, reader: RowReader): PlainReader | null {
    const { columns } = reader;
    const targets = columns.map(({ mapping: { target } }) => target ?? '');
    const labels = columns.flatMap(({ mapping: { label } }, i) => (isAddressPart(targets[i] ?? '') ? [label] : []));
    const isPlain =
      mapping.allowNew &&
      !mapping.recognise.includes('engine') &&
      (mapping.changedColumn ?? null) === null &&
      catalogue.uniqueFields.length === 0 &&
      new Set(labels).size < 2 &&
      (targets.includes('fullName') || (targets.includes('givenName') && targets.includes('familyName'))) &&
      columns.every(({ mapping: { nth, labelFrom } }) => !nth && labelFrom === undefined) &&
      !targets.some((target) => isOpportunityTarget(target) || isActivityTarget(target) || isPermissionTarget(target));
    return isPlain ? new PlainReader(mapping, catalogue, reader, labels[0] ?? null) : null;
  }

  private constructor(
    mapping: Mapping,
    private readonly catalogue: Catalogue,
    private readonly reader: RowReader,
    label: string | null,
  ) {
    this.label = label;
    this.most = Math.min(CELLS_KEPT, Math.ceil(ALL_CELLS_KEPT / reader.columns.length));
    this.people = new PlainPeople(mapping.recognise);
    for (const key of LOOKED_AT) this.placeOf[key] = this.place(key);
    this.columns = reader.columns.map((compiled): PlainColumn => {
      const target = compiled.mapping.target ?? '';
      return {
        compiled,
        part: isAddressPart(target) ? target : null,
        place: this.place(target),
        kept: compiled.kept && target !== 'tel' ? new Map<string, PlainCell>() : null,
        hits: 0,
      };
    });
    const { tags, source, stage, owner } = mapping.wholeFile;
    const ofFile = [...tags.map((v) => ['tags', v]), ['source', source], ['stage', stage], ['owner', owner]] as const;
    this.ofFile = ofFile.flatMap(([key = '', v]) =>
      v ? [{ place: this.place(key), field: this.fieldOf(key, [{ v }]) }] : [],
    );
    this.worth = WORTH_HAVING.map((key) => this.place(key));
    for (const key of NAME_PARTS) this.place(key);
    this.at = new Int32Array(this.places.size);
  }

  private place(key: string): number {
    const known = this.places.get(key);
    if (known !== undefined) return known;
    this.definitions.push(this.catalogue.find(key));
    this.places.set(key, this.places.size);
    return this.places.size - 1;
  }

  /** What a row says, or null where it has to go the long way. */
  read(cells: readonly string[]): PlainRow | null {
    if (!this.reader.isWhole(cells)) return null;
    const { at, columns, placeOf } = this;
    at.fill(-1);
    const fields: PlainField[] = [];
    let address: AddressValue | null = null;
    let whole: PlainCell['name'] = null;
    for (const column of columns) {
      const { compiled, part, place } = column;
      const raw = cells[compiled.mapping.column] ?? '';
      if (!raw && !compiled.fillsEmpty) continue;
      const cell = this.cellOf(column, raw, cells);
      if (cell.isLong) return null;
      if (cell.name) {
        if (whole) return null;
        whole = cell.name;
      }
      if (!cell.field) continue;
      if (part) {
        address ??= {};
        if (address[part] !== undefined) return null;
        (address as Record<AddressPart, string>)[part] = cell.text;
      } else if (!this.add(fields, place, cell.field)) return null;
    }
    if (address) {
      const { label } = this;
      this.add(fields, placeOf.adr, this.fieldOf('adr', [label ? { v: address, label } : { v: address }]));
    }
    // Where columns of their own say given and family name, a whole name beside them is only how it was written.
    const hasParts = this.has('givenName') && this.has('familyName');
    for (const { place, field } of whole ?? []) {
      if (hasParts && field.key !== 'fullName') continue;
      if (!this.add(fields, place, field)) return null;
    }
    for (const { place, field } of this.ofFile) {
      const isThere = (at[place] ?? -1) >= 0;
      if (isThere && !field.several) continue;
      if (!this.add(fields, place, field)) return null;
    }
    let filled = 0;
    for (const place of this.worth) if ((at[place] ?? -1) >= 0) filled++;
    return this.people.rowOf(fields, (key) => fields[at[placeOf[key]] ?? -1], address, filled);
  }

  private has(key: LookedAt): boolean {
    return (this.at[this.placeOf[key]] ?? -1) >= 0;
  }

  private cellOf(column: PlainColumn, raw: string, cells: readonly string[]): PlainCell {
    const { kept } = column;
    const known = kept?.get(raw);
    if (known) {
      column.hits++;
      return known;
    }
    const cell = this.readCell(column, raw, cells);
    if (kept) {
      if (kept.size < this.most) kept.set(raw, cell);
      else if (column.hits < this.most) column.kept = null;
      else {
        kept.clear();
        column.hits = 0;
      }
    }
    return cell;
  }

  private readCell({ compiled, part, place }: PlainColumn, raw: string, cells: readonly string[]): PlainCell {
    const { values, issues, beside } = this.reader.readColumn(compiled, raw, cells);
    if (issues.length || beside) return LONG;
    const [first] = values;
    if (!first) return NOTHING;
    const target = compiled.mapping.target ?? '';
    if (NAME_BESIDE.has(target) || (!part && !this.definitions[place])) return LONG;
    if (part && values.length > 1) return LONG;
    if (part) return { isLong: false, field: PART, name: null, text: String(first[1].v) };
    if (target === 'fullName') {
      if (values.some(([field]) => NAME_BESIDE.has(field))) return LONG;
      const name = values.map(([field, value]) => ({ place: this.place(field), field: this.fieldOf(field, [value]) }));
      return { isLong: false, field: null, name, text: '' };
    }
    const said = values.map(([, value]) => value);
    return { isLong: false, field: this.fieldOf(target, said), name: null, text: '' };
  }

  private fieldOf(key: string, values: readonly CandidateValue[]): PlainField {
    return { key, several: this.catalogue.find(key)?.several ?? false, values: values.map(saidOf) };
  }

  /** Adds values; false where they are more for a place of one, or say what is there already. */
  private add(fields: PlainField[], place: number, field: PlainField): boolean {
    const index = this.at[place] ?? -1;
    const there = fields[index];
    if (!there) {
      this.at[place] = fields.length;
      fields.push(field);
      return field.several || field.values.length === 1;
    }
    const type = this.definitions[place]?.type;
    if (!field.several || !type) return false;
    const contentOf = ({ value }: SaidValue) => contentKey(type, value);
    const known = there.values.map(contentOf);
    if (field.values.some((value) => known.includes(contentOf(value)))) return false;
    fields[index] = { key: field.key, several: true, values: [...there.values, ...field.values] };
    return true;
  }
}

const LONG: PlainCell = { isLong: true, field: null, name: null, text: '' };
const NOTHING: PlainCell = { isLong: false, field: null, name: null, text: '' };
/** Stands for a part of an address, which is no field of its own. */
const PART: PlainField = { key: 'adr', several: true, values: [] };

const PLAIN_TEXT = /^[\x20\x21\x23-\x5b\x5d-\x7e]*$/;

/** A text as JSON; most need no escapes. */
export function textJson(text: string): string {
  return PLAIN_TEXT.test(text) ? `"${text}"` : JSON.stringify(text);
}

function saidOf(value: CandidateValue): SaidValue {
  const { v, norm, label } = value;
  let said = `{"v":${typeof v === 'string' ? textJson(v) : JSON.stringify(v)}`;
  if (norm !== undefined) said += `,"norm":${textJson(norm)}`;
  if (label) said += `,"label":${textJson(label)}`;
  return { value, said };
}
