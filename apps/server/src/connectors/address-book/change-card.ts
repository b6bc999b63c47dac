import {
  ADR,
  addressOfParts,
  CARD_FIELDS,
  CardEdit,
  cutWritten,
  firstOfProperty,
  genderParts,
  lineText,
  NAME_PARTS,
  plainText,
  readCardText,
  typesFor,
  withoutParams,
  written,
  writtenLike,
  type CardProperty,
  type CardText,
} from '@gray-loom/core/formats';
import { countryName } from '@gray-loom/core/fields';
import type { OutsideFields, OutsideValue } from '@gray-loom/core/syncing';
import { contentOf, heldOf, NAME_PLACES, type CardContent, type Held } from './card-fields';

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
const single = (fields: OutsideFields, key: string) => String(fields[key]?.[0]?.v ?? '');

/** The whole name of a card that says nothing else of it. */
function wholeName(fields: OutsideFields): string {
  const parts = ['prefix', 'given', 'additional', 'family', 'suffix'].map((key) => single(fields, key));
  const whole = parts.filter(Boolean).join(' ');
  return whole || single(fields, 'org') || single(fields, 'email') || single(fields, 'tel') || 'No name';
}

const FIELD = new Map(CARD_FIELDS.map((field) => [field.key, field]));
const SEVERAL = new Set(CARD_FIELDS.filter(({ several }) => several).map(({ key }) => key));
const IN_ORG = new Set(CARD_FIELDS.filter(({ property }) => property['4.0'] === 'org').map(({ key }) => key));

/** A value as its property has it. */
const writtenAs = (key: string, text: string): string =>
  FIELD.get(key)?.shape === 'gender' ? genderParts(text).map(written).join(';').replace(/;$/, '') : written(text);

/** Encodings of values that are written anew as they are. */
const ENCODED = ['ENCODING', 'CHARSET'] as const;

/** Writes new values of some fields into a card, line by line. */
class ContentEdit {
  private readonly edit: CardEdit;
  private readonly before: CardContent;
  private readonly held: Map<string, Held[]>;

  constructor(
    private readonly card: CardText & Required<Pick<CardText, 'lines'>>,
    private readonly fields: OutsideFields,
  ) {
    this.edit = new CardEdit(card);
    this.before = contentOf(card);
    this.held = heldOf(card);
  }

  text(labels: readonly string[] | null): string {
    const changed = Object.keys(this.fields).filter(
      (key) => !same(this.fields[key] ?? [], this.before.fields[key] ?? []),
    );
    if (changed.some((key) => NAME_PLACES.has(key) || key === 'org')) this.writeName(changed);
    if (changed.some((key) => IN_ORG.has(key))) this.writeOrganization(changed);
    for (const key of changed) {
      if (NAME_PLACES.has(key) || IN_ORG.has(key)) continue;
      if (SEVERAL.has(key)) this.writeSeveral(key);
      else this.writeOne(key);
    }
    if (labels) this.writeLabels(labels);
    return this.edit.text();
  }

  private get now(): OutsideFields {
    return { ...this.before.fields, ...this.fields };
  }

  private named(name: string): CardProperty | undefined {
    return this.card.properties.find((property) => property.name === name);
  }

  /** The parts of the name that changed, and the whole name where it says the same. */
  private writeName(changed: readonly string[]): void {
    const parts = changed.filter((key) => NAME_PLACES.has(key));
    const structured = this.named('n');
    const whole = this.named('fn');
    if (parts.length && structured) {
      const { value, params } = this.edit.lineOf(structured);
      const pieces = cutWritten(value, ';');
      while (pieces.length < NAME_PARTS.length) pieces.push('');
      for (const key of parts) {
        const place = NAME_PLACES.get(key) ?? 0;
        pieces[place] = writtenLike(single(this.fields, key), pieces[place] ?? '');
      }
      this.edit.rewrite(structured, { value: pieces.join(';'), params: withoutParams(params, ...ENCODED) });
    } else if (!structured && NAME_PARTS.some((key) => single(this.now, key))) {
      // Also where the whole name was all it had: beside an organization it would say nothing any more.
      const pieces = NAME_PARTS.map((key) => written(single(this.now, key)));
      this.edit.add({ group: '', name: 'N', params: [], value: pieces.join(';') }, whole);
    }
    const shown = wholeName(this.now);
    if (!whole) return this.edit.add({ group: '', name: 'FN', params: [], value: written(shown) }, structured);
    const said = firstOfProperty(whole);
    const next = this.wholeNameNow(said, parts);
    if (next !== said)
      this.edit.rewrite(whole, {
        value: written(next),
        params: withoutParams(this.edit.lineOf(whole).params, ...ENCODED),
      });
  }

  /** A whole name that was put together of the parts is put together anew; in one that somebody wrote the parts that changed change. */
  private wholeNameNow(said: string, parts: readonly string[]): string {
    if (said === wholeName(this.before.fields)) return wholeName(this.now);
    let next = said;
    for (const key of parts) {
      const [before, now] = [single(this.before.fields, key), single(this.fields, key)];
      if (before && next.includes(before))
        next = next
          .replace(before, () => now)
          .replace(/ {2,}/g, ' ')
          .trim();
    }
    return next || wholeName(this.now);
  }

  private writeOne(key: string): void {
    const [there] = this.held.get(key) ?? [];
    const text = single(this.fields, key);
    if (!there) {
      const params = this.kindOfText(key, text);
      if (text) this.edit.add({ group: '', name: this.nameOf(key), params, value: writtenAs(key, text) });
      return;
    }
    if (!text) return this.edit.remove(there.property);
    const { params, value } = this.edit.lineOf(there.property);
    // What it was, a date, an address, is not what it is now.
    const isOther = FIELD.get(key)?.shape === 'date' || params.some((param) => /^VALUE=(?!text)/i.test(param));
    this.edit.rewrite(there.property, {
      value: key === 'nickname' ? writtenLike(text, value) : writtenAs(key, text),
      params: [
        ...withoutParams(params, ...ENCODED, ...(isOther ? ['VALUE'] : [])),
        ...this.kindOfText(key, text, params),
      ],
    });
  }

  /** What tells a time zone by its name from a distance of hours, in version 3 (RFC 2426, 3.4.1). */
  private kindOfText(key: string, text: string, params: readonly string[] = []): string[] {
    const isNamed = key === 'tz' && this.card.version === '3.0' && !/^[-+]\d/.test(text);
    return isNamed && !params.some((param) => /^VALUE=text/i.test(param)) ? ['VALUE=text'] : [];
  }

  /** The organization and its units, in one line; units that nobody changed stay as they are written. */
  private writeOrganization(changed: readonly string[]): void {
    const [there] = this.held.get('org') ?? this.held.get('department') ?? [];
    const { params, value } = there ? this.edit.lineOf(there.property) : { params: [], value: '' };
    let [organization = '', ...units] = cutWritten(value, ';');
    if (changed.includes('org')) organization = written(single(this.fields, 'org'));
    if (changed.includes('department')) {
      const department = single(this.fields, 'department');
      units = department ? [written(department)] : [];
    }
    const next = [organization, ...units].join(';');
    if (!there) return this.edit.add({ group: '', name: 'ORG', params: [], value: next });
    if (![organization, ...units].some(Boolean)) return this.edit.remove(there.property);
    this.edit.rewrite(there.property, { value: next, params: withoutParams(params, ...ENCODED) });
  }

  /** Lines that say the same stay; one whose value changed is written in its place. */
  private writeSeveral(key: string): void {
    const values = this.fields[key] ?? [];
    const there = [...(this.held.get(key) ?? [])];
    const found = new Map<OutsideValue, Held>();
    const take = (value: OutsideValue, fits: (one: Held, i: number) => boolean) => {
      const at = found.has(value)
        ? -1
        : there.findIndex((one, i) => ![...found.values()].includes(one) && fits(one, i));
      const one = there[at];
      if (one) found.set(value, one);
    };
    for (const value of values) take(value, (one) => same(one.value, value));
    for (const value of values) take(value, (one) => same(one.value.v, value.v));
    if (values.length === there.length) values.forEach((value, i) => take(value, (_one, at) => at === i));
    const kept = values.flatMap((value) => found.get(value) ?? []);
    for (const one of there) if (!kept.includes(one)) this.edit.remove(one.property);
    for (const [value, one] of found) this.rewriteValue(key, one, value);
    this.edit.arrange(
      values.map((value) => {
        const types = typesFor(value.label ?? null);
        const params = types.length ? [`TYPE=${types.join(',')}`] : [];
        const line = { group: '', name: key.toUpperCase(), params, value: this.writtenValue(key, value, '') };
        return found.get(value)?.property ?? line;
      }),
    );
  }

  private rewriteValue(key: string, { property, value: before }: Held, value: OutsideValue): void {
    if (same(before, value)) return;
    const { params, value: writtenBefore } = this.edit.lineOf(property);
    let kept = params;
    if (!same(before.label, value.label)) {
      this.edit.removeGroupLabel(property);
      const types = typesFor(value.label ?? null, property);
      kept = [...withoutParams(params, 'TYPE'), ...(types.length ? [`TYPE=${types.join(',')}`] : [])];
    }
    if (same(before.v, value.v)) return this.edit.rewrite(property, { params: kept });
    const isUri = key === 'tel' && /^tel:/i.test(writtenBefore);
    this.edit.rewrite(property, {
      // As a letter has it, it would say the old address.
      params: withoutParams(kept, ...ENCODED, ...(key === 'adr' ? ['LABEL'] : [])),
      value: isUri ? telUri(String(value.v)) : this.writtenValue(key, value, writtenBefore),
    });
  }

  private writtenValue(key: string, { v }: OutsideValue, before: string): string {
    if (typeof v === 'string') return key === 'url' ? v : written(v);
    const pieces = cutWritten(before, ';');
    while (pieces.length < Object.keys(ADR).length) pieces.push('');
    const old = addressOfParts(pieces.map(plainList));
    const put = (place: number, text: string) => {
      pieces[place] = writtenLike(text, pieces[place] ?? '');
    };
    if ((v.street ?? '') !== (old.street ?? '')) {
      // Lines that are the extended address or the box stay where they are.
      const lines = (v.street ?? '').split('\n');
      for (const place of [ADR.extended, ADR.box]) {
        const text = plainList(pieces[place] ?? '');
        const at = text ? lines.indexOf(text) : -1;
        if (at >= 0) lines.splice(at, 1);
        else pieces[place] = '';
      }
      put(ADR.street, lines.join('\n'));
    }
    for (const part of ['locality', 'region', 'postalCode'] as const)
      if ((v[part] ?? '') !== (old[part] ?? '')) put(ADR[part], v[part] ?? '');
    const country = v.country ?? '';
    if (country !== (old.country ?? ''))
      put(ADR.country, country.length === 2 ? countryName(country) || country : country);
    return pieces.join(';');
  }

  private writeLabels(labels: readonly string[]): void {
    if (same([...labels].sort(), [...this.before.labels].sort())) return;
    const wanted = new Set(labels);
    const lines = this.card.properties.filter(({ name }) => name === 'categories');
    const left = new Map(
      lines.map((property) => {
        const pieces = cutWritten(this.edit.lineOf(property).value, ',');
        return [property, pieces.filter((piece) => wanted.has(plainText(piece).trim()))] as const;
      }),
    );
    const added = labels.filter((label) => !this.before.labels.includes(label)).map(written);
    const [into] = [...left.keys()].filter((property) => left.get(property)?.length);
    for (const [property, pieces] of left) {
      const all = property === into ? [...pieces, ...added] : pieces;
      const { value } = this.edit.lineOf(property);
      if (!all.length) this.edit.remove(property);
      else if (all.join(',') !== value) this.edit.rewrite(property, { value: all.join(',') });
    }
    if (!into && added.length) this.edit.add({ group: '', name: 'CATEGORIES', params: [], value: added.join(',') });
  }

  private nameOf(key: string): string {
    return (FIELD.get(key)?.property[this.card.version] ?? key).toUpperCase();
  }
}

/** The same of a piece that may be a list. */
const plainList = (piece: string): string =>
  cutWritten(piece, ',')
    .map((one) => plainText(one).trim())
    .join(', ');

const telUri = (text: string): string => {
  const [number = '', extension] = text.split(/ ?ext\. ?/);
  return `tel:${number.replace(/\s+/g, '-')}${extension ? `;ext=${extension}` : ''}`;
};

/** A card with other values of some fields; every line that says something else stays as it was, byte for byte. */
export function changedCard(card: CardText, fields: OutsideFields | null, labels: readonly string[] | null): string {
  const { lines } = card;
  if (!lines) throw new Error('a card whose lines are not known is not written');
  return new ContentEdit({ ...card, lines }, fields ?? {}).text(labels);
}

export function newCard(uid: string, fields: OutsideFields, labels: readonly string[]): string {
  const line = (name: string, value: string) => lineText({ group: '', name, params: [], value }, '\r\n');
  const named = [
    line('UID', written(uid)),
    line('N', NAME_PARTS.map((key) => written(single(fields, key))).join(';')),
    line('FN', written(wholeName(fields))),
  ];
  const read = readCardText(`BEGIN:VCARD\r\nVERSION:3.0\r\n${named.join('')}END:VCARD\r\n`);
  if (!read.ok) throw new Error(read.error);
  return changedCard(read.value, fields, labels);
}
