import type { ActivityKind } from '../activity';
import type { DateOrder, DecimalMark, FieldType, NameOrder } from '../fields';
import type { WriteRule } from '../writing';
import type { FileConsent } from './files/file-consent';
import type { Transform } from './rows/transform';

/** A field that a mapping makes on the spot for a column nobody knows. */
export interface NewField {
  name: string;
  type: FieldType;
  choices: string[];
  /** Made although something of nearly the same name is here. */
  despite?: boolean | undefined;
}

/** The place of a value that no column has: the same in every row, made by a fixed step. */
export const NO_COLUMN = -1;

/** What one column means and how its cells are read. A column that means several things has several of these. */
export interface ColumnMapping {
  /** Place of the column in the file, from 0, or NO_COLUMN. */
  column: number;
  header: string | null;
  /** Key of a mapping target, or null to leave the column out. */
  target: string | null;
  label: string | null;
  /** Column whose cells say the label, row by row. */
  labelFrom?: number;
  /** Which of several addresses of one label a part belongs to, from 0. */
  nth?: number;
  dateOrder: DateOrder;
  /** Which part whole names begin with; the given name where it is not said. */
  nameOrder?: NameOrder;
  /** Small letters that are titles before whole names here and initials elsewhere, such as "m" for the M. of French. */
  letterTitles?: string;
  /** Whether a street is a whole address in one cell, to be taken apart. */
  wholeAddress?: boolean;
  decimal: DecimalMark;
  separator: string | null;
  newField: NewField | null;
  /** What is done to a cell's text before it is read. */
  transforms?: Transform[];
  /** What its field does to a value that is there; without one the file's rule holds. */
  rule?: WriteRule;
  /** A cell that cannot be read holds its row, or is dropped with a note. */
  onBad: 'hold' | 'drop';
}

/** `engine` is the matching of duplicates as a whole; the others are single marks. */
export const RECOGNISERS = ['externalId', 'email', 'tel', 'name', 'engine'] as const;
export type Recogniser = (typeof RECOGNISERS)[number];

/** Everything that decides what a file does: meanings, whole-file settings, what may happen. */
export interface Mapping {
  columns: ColumnMapping[];
  wholeFile: {
    tags: string[];
    source: string | null;
    stage: string | null;
    owner: string | null;
    consent?: FileConsent | null;
    /** New people without an owner are given out once the file is in: in turn, or by area. */
    give?: 'inTurn' | 'byArea' | null;
    /** Name of a segment that finds everybody the file brought or touched, for ever. */
    segment?: string | null;
  };
  allowNew: boolean;
  allowChange: boolean;
  /** What the file may do with opportunities; both where it is not said. */
  opportunities?: { allowNew: boolean; allowChange: boolean };
  /** What entries of activity are where no column says it. */
  activityKind?: ActivityKind;
  writeRule: WriteRule;
  /** Column that says when a row was last changed where it comes from; what the rule 'newest' goes by. */
  changedColumn?: number | null;
  recognise: Recogniser[];
  /** Column with the number of the contact here, of a table that was taken out here; whoever has it is that one, before all marks. */
  numberColumn?: number;
  /** ISO country that national phone numbers are read in. */
  country: string;
}

export const WHOLE_FILE = ['tags', 'source', 'stage', 'owner'] as const;

/** One thing that every row of a file gets, whatever its columns say. */
export interface WholeFileSetting {
  what: (typeof WHOLE_FILE)[number];
  value: string;
}

/** What every row of a file gets, one by one. Permissions are said for each file anew, and are none of these. */
export function wholeFileSettings({ tags, source, stage, owner }: Mapping['wholeFile']): WholeFileSetting[] {
  const one = (what: WholeFileSetting['what'], value: string | null | undefined): WholeFileSetting[] =>
    value ? [{ what, value }] : [];
  return [
    ...tags.map((value): WholeFileSetting => ({ what: 'tags', value })),
    ...one('source', source),
    ...one('stage', stage),
    ...one('owner', owner),
  ];
}

/** Without one of these. */
export function withoutSetting(
  wholeFile: Mapping['wholeFile'],
  { what, value }: WholeFileSetting,
): Mapping['wholeFile'] {
  return what === 'tags'
    ? { ...wholeFile, tags: wholeFile.tags.filter((tag) => tag !== value) }
    : { ...wholeFile, [what]: null };
}
