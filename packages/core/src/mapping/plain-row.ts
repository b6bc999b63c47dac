import {
  foldText,
  formatPhone,
  isPlaceholderDate,
  joinName,
  postalKey,
  summaryOfName,
  WORTH_HAVING,
  type Catalogue,
  type ContactSummary,
  type FieldDefinition,
} from '../fields';
import {
  keyHash,
  mailboxKey,
  organizationWords,
  phoneBlock,
  preparePerson,
  soundKeys,
  usefulPhone,
  wholeNameKeys,
} from '../matching';
import { KIND, type AddressValue } from '../model';
import { contentKey, type CandidateValue } from '../writing';
import type { Mapping } from './mapping';
import { isOpportunityTarget } from './opportunity-cells';
import type { CompiledColumn, RowReader } from './read-row';
import { externalKey, type IdentityCard, type IdentityKey } from './recognise';
import { isAddressPart, type AddressPart } from './targets';

/** A value as it is said: its JSON with content, normal form and label, without the closing bracket. */
export interface SaidValue {
  value: CandidateValue;
  said: string;
}

/** The values that a row has for one field, several only where the field may have several. */
export interface PlainField {
  key: string;
  several: boolean;
  values: SaidValue[];
}

/**
 * A row that reads without a doubt and names one person, with everything that is made of it when that person is new: what
 * the long way makes through candidate, record and summary.
 */
export interface PlainRow {
  /** In the order in which the record has them. */
  fields: PlainField[];
  summary: ContactSummary;
  address: AddressValue | null;
  /** What somebody here or in the file is recognised by. */
  keys: IdentityKey[];
  /** Numbers of the look-up keys, each once. */
  hashes: number[];
  card: IdentityCard;
}

/** Fields that take part in how somebody is called; where one of them is filled a row goes the long way. */
const NAME_BESIDE: ReadonlySet<string> = new Set(['fullName', 'additionalNames', 'suffix', 'nickname', KIND]);
/** One word in plain letters; of those, a placeholder has been found out as a cell. */
const WORD = /^[A-Za-z]{2,60}$/;
const TEXTS_KEPT = 5000;

/** What a cell says. */
interface PlainCell {
  /** Whether the row has to go the long way. */
  isLong: boolean;
  /** The values of its field; null where it says nothing. */
  field: PlainField | null;
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

/** Places of the fields that are more than values. */
const LOOKED_AT = [
  'givenName',
  'familyName',
  'email',
  'tel',
  'adr',
  'organization',
  'bday',
  'externalId',
  'tags',
  'stage',
  'source',
  'owner',
] as const;
type LookedAt = (typeof LOOKED_AT)[number];

/** Texts worked out before, forgotten all at once when they become many. */
class Kept<T> {
  private readonly known = new Map<string, T>();

  constructor(private readonly make: (text: string) => T) {}

  of(text: string): T {
    const known = this.known.get(text);
    if (known !== undefined) return known;
    const made = this.make(text);
    if (this.known.size >= TEXTS_KEPT) this.known.clear();
    this.known.set(text, made);
    return made;
  }
}

interface PersonName {
  given: string[];
  givenText: string;
  family: string[];
  familyText: string;
  foldedGiven: string;
  foldedFamily: string;
  generation: string;
  script: IdentityCard['script'];
  unreadable: boolean;
}

/**
 * Reads the rows of a file that leave nothing to decide at a third of the cost of the long way, straight into what is
 * written for a new person. Whatever else a row has (an issue, a name in one piece, two values for one place) sends it the
 * long way, through RowReader; law: both ways come to the same person, to the letter.
 */
export class PlainReader {
  private readonly columns: PlainColumn[];
  private readonly places = new Map<string, number>();
  private readonly definitions: (FieldDefinition | undefined)[] = [];
  private readonly placeOf = {} as Record<LookedAt, number>;
  private readonly worth: number[];
  private readonly ofFile: { place: number; field: PlainField }[];
  private readonly label: string | null;
  /** Where among the values of the row at hand those of each field are; -1 for none. */
  private readonly at: Int32Array;
  private readonly foldedText = new Kept(foldText);
  private readonly postal = new Kept(postalKey);
  private readonly organization = new Kept((text: string) => {
    const words = organizationWords(text).join('');
    return { words, hash: words ? keyHash(`o:${words}`) : null };
  });
  private readonly hashOfText = new Kept(keyHash);

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
      targets.includes('givenName') &&
      targets.includes('familyName') &&
      columns.every(({ mapping: { nth, labelFrom } }) => !nth && labelFrom === undefined) &&
      !targets.some(isOpportunityTarget);
    return isPlain ? new PlainReader(mapping, catalogue, reader, labels[0] ?? null) : null;
  }

  private constructor(
    private readonly mapping: Mapping,
    private readonly catalogue: Catalogue,
    private readonly reader: RowReader,
    label: string | null,
  ) {
    this.label = label;
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
    for (const column of columns) {
      const { compiled, part, place } = column;
      const raw = cells[compiled.mapping.column] ?? '';
      if (!raw && !compiled.fillsEmpty) continue;
      const cell = this.cellOf(column, raw, cells);
      if (cell.isLong) return null;
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
    for (const { place, field } of this.ofFile) {
      const isThere = (at[place] ?? -1) >= 0;
      if (isThere && !field.several) continue;
      if (!this.add(fields, place, field)) return null;
    }
    return this.rowOf(fields, address);
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
      if (kept.size < TEXTS_KEPT) kept.set(raw, cell);
      else if (column.hits < TEXTS_KEPT) column.kept = null;
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
    if (part) return { isLong: false, field: PART, text: String(first[1].v) };
    return {
      isLong: false,
      field: this.fieldOf(
        target,
        values.map(([, value]) => value),
      ),
      text: '',
    };
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

  private rowOf(fields: PlainField[], address: AddressValue | null): PlainRow | null {
    const { at, placeOf } = this;
    const valuesOf = (key: LookedAt) => fields[at[placeOf[key]] ?? -1]?.values ?? NONE;
    const textOf = (key: LookedAt) => {
      const v = valuesOf(key)[0]?.value.v;
      return typeof v === 'string' ? v : '';
    };
    const given = textOf('givenName');
    const family = textOf('familyName');
    if (!given || !family) return null;
    const name = this.nameOf(given, family);
    if (!name) return null;
    const emails = valuesOf('email');
    const tels = valuesOf('tel');
    const ids = valuesOf('externalId');
    const tags = valuesOf('tags').map(({ value }) => String(value.v));
    const organizationText = textOf('organization');
    const organization = organizationText ? this.organization.of(organizationText) : null;
    const boxes: string[] = [];
    for (const { value } of emails) {
      const box = mailboxKey(normOf(value));
      if (box) boxes.push(box);
    }
    const phones: string[] = [];
    for (const { value } of tels) {
      const phone = usefulPhone(normOf(value));
      if (phone && !phones.includes(phone)) phones.push(phone);
    }
    const bday = textOf('bday');
    // Written out, since an object that is spread and added to costs twenty times as much.
    const card: IdentityCard = {
      given: name.given,
      givenText: name.givenText,
      nickname: '',
      unreadable: name.unreadable,
      script: name.script,
      family: name.family,
      familyText: name.familyText,
      familyInferred: false,
      generation: name.generation,
      postal: address?.postalCode ? this.postal.of(address.postalCode) : '',
      locality: address?.locality ? this.foldedText.of(address.locality) : '',
      bday: bday && !isPlaceholderDate(bday) ? bday : '',
      organizationText: organization?.words ?? '',
      phones,
      hasMailbox: boxes.length > 0,
    };
    const { keys, hashes } = this.keysOf(card, boxes, ids);
    if (organization?.hash) addOnce(hashes, organization.hash);
    for (const { value } of ids) addOnce(hashes, keyHash(externalKey(String(value.v))));
    for (const tag of tags) addOnce(hashes, this.hashOfText.of(`t:${tag.toLowerCase()}`));
    let filled = 0;
    for (const place of this.worth) if ((at[place] ?? -1) >= 0) filled++;
    const [tel] = tels;
    const summary = summaryOfName({
      displayName:
        ASCII.test(given) && ASCII.test(family)
          ? `${given} ${family}`
          : joinName({ givenName: given, familyName: family }),
      given,
      family,
      foldedGiven: name.foldedGiven,
      foldedFamily: name.foldedFamily,
      emails: emails.map(({ value }) => normOf(value)),
      phones: tels.map(({ value }) => normOf(value)),
      email: emails[0] ? String(emails[0].value.v) : '',
      tel: tel ? (tel.value.norm ? formatPhone(tel.value.norm) : String(tel.value.v)) : '',
      organization: organizationText,
      foldedOrganization: organizationText ? this.foldedText.of(organizationText) : '',
      stage: textOf('stage'),
      source: textOf('source'),
      owner: textOf('owner'),
      tags,
      filled,
    });
    return { fields, summary, address, keys, hashes, card };
  }

  /** The name prepared for comparison; null where nothing of it is left, and the mailbox might tell it. */
  private nameOf(given: string, family: string): PersonName | null {
    if (WORD.test(given) && WORD.test(family)) {
      const givenText = given.toLowerCase();
      const familyText = family.toLowerCase();
      return {
        given: [givenText],
        givenText,
        family: [familyText],
        familyText,
        foldedGiven: givenText,
        foldedFamily: familyText,
        generation: '',
        script: '',
        unreadable: false,
      };
    }
    const person = preparePerson({ givenName: given, familyName: family });
    if (!person.given.length || !person.family.length) return null;
    const { givenText, familyText, generation, script, unreadable } = person;
    return {
      given: person.given,
      givenText,
      family: person.family,
      familyText,
      foldedGiven: foldText(given),
      foldedFamily: foldText(family),
      generation,
      script,
      unreadable,
    };
  }

  private keysOf(
    card: IdentityCard,
    boxes: readonly string[],
    ids: readonly SaidValue[],
  ): { keys: IdentityKey[]; hashes: number[] } {
    const mailboxes = boxes.map((box): IdentityKey => keyOf('email', `e:${box}`, box));
    const lines = card.phones.map((phone): IdentityKey => keyOf('tel', `p:${phoneBlock(phone)}`, phone));
    const names = wholeNameKeys(card).map((key): IdentityKey =>
      keyOf('name', key, `${card.given[0]} ${card.familyText}`),
    );
    const keys: IdentityKey[] = [];
    for (const by of this.mapping.recognise) {
      if (by === 'email') keys.push(...mailboxes);
      else if (by === 'tel') keys.push(...lines);
      else if (by === 'name') keys.push(...names);
      else for (const { value } of ids) keys.push(keyOf('externalId', externalKey(String(value.v)), String(value.v)));
    }
    const hashes: number[] = [];
    for (const { hash } of mailboxes) addOnce(hashes, hash);
    for (const { hash } of lines) addOnce(hashes, hash);
    for (const key of soundKeys(card)) addOnce(hashes, keyHash(key));
    for (const { hash } of names) addOnce(hashes, hash);
    return { keys, hashes };
  }
}

function keyOf(by: IdentityKey['by'], key: string, shown: string): IdentityKey {
  return { by, key, hash: keyHash(key), shown };
}

function addOnce(hashes: number[], hash: number): void {
  if (!hashes.includes(hash)) hashes.push(hash);
}

const normOf = ({ v, norm }: CandidateValue): string => norm ?? String(v);
const NONE: readonly SaidValue[] = [];
const LONG: PlainCell = { isLong: true, field: null, text: '' };
const NOTHING: PlainCell = { isLong: false, field: null, text: '' };
/** Stands for a part of an address, which is no field of its own. */
const PART: PlainField = { key: 'adr', several: true, values: [] };

const ASCII = /^[\x20-\x7e]*$/;
const PLAIN_TEXT = /^[\x20\x21\x23-\x5b\x5d-\x7e]*$/;

function textJson(text: string): string {
  return PLAIN_TEXT.test(text) ? `"${text}"` : JSON.stringify(text);
}

function saidOf(value: CandidateValue): SaidValue {
  const { v, norm, label } = value;
  let said = `{"v":${typeof v === 'string' ? textJson(v) : JSON.stringify(v)}`;
  if (norm !== undefined) said += `,"norm":${textJson(norm)}`;
  if (label) said += `,"label":${textJson(label)}`;
  return { value, said };
}
