import { STANDARD_FIELDS } from '../../fields';
import { KIND, wordTable } from '../../model';
import type { CardCell, ReadCard } from './read-card';

export interface CardColumn {
  header: string;
  /** What it means without label and place: a field's or a property's name. */
  name: string;
  target: string | null;
  label: string | null;
  nth: number;
}

const NAMES = wordTable({
  ...Object.fromEntries(STANDARD_FIELDS.map((field) => [field.key, field.name])),
  [KIND]: 'Kind',
  street: 'Street',
  locality: 'Town',
  region: 'Region',
  postalCode: 'Postal code',
  country: 'Country',
});
const ADDRESS = ['street', 'locality', 'region', 'postalCode', 'country'];
const ORDER = [
  KIND,
  ...'prefix givenName additionalNames familyName suffix nickname gender fullName organization department title email tel adr'.split(
    ' ',
  ),
  ...'url language bday anniversary related tags note tz photo externalId'.split(' '),
];
const PICTURE: CardCell = { target: 'photo', name: 'photo', label: null, nth: 0, text: '' };

const byRank = (a: number[], b: number[]): number => a.reduce((order, x, i) => order || x - (b[i] ?? 0), 0);

const keyOf = ({ target, name, label, nth }: CardCell) => JSON.stringify([target, target ? '' : name, label, nth]);

/** The columns of a file of cards: one for every meaning, label and place that occurs. Cards are passed twice: first `learn`, then `row`. */
export class CardTable {
  private readonly byKey = new Map<string, CardColumn & { rank: number[] }>();
  /** Addresses by label and place, in the order in which they occur: their parts stand together. */
  private readonly addresses = new Map<string, number>();
  private sorted: [string, CardColumn & { rank: number[] }][] | null = null;
  private unreadable = false;

  learn(card: ReadCard | null): void {
    this.sorted = null;
    if (!card) this.unreadable = true;
    for (const cell of card?.cells ?? []) this.add(cell);
    if (card?.picture) this.add(PICTURE);
  }

  private add(cell: CardCell): void {
    const key = keyOf(cell);
    if (this.byKey.has(key)) return;
    const { target, name, label, nth } = cell;
    const part = ADDRESS.indexOf(target ?? '');
    const place = ORDER.indexOf(part >= 0 ? 'adr' : (target ?? ''));
    const address = JSON.stringify([label, nth]);
    if (part >= 0 && !this.addresses.has(address)) this.addresses.set(address, this.addresses.size);
    const shown = target ? (NAMES[target] ?? target) : name;
    this.byKey.set(key, {
      header: `${shown}${label ? `, ${label}` : ''}${nth ? ` ${nth + 1}` : ''}`,
      name: shown,
      target,
      label,
      nth,
      rank: [place < 0 ? ORDER.length : place, part >= 0 ? (this.addresses.get(address) ?? 0) : this.byKey.size, part],
    });
  }

  get columns(): CardColumn[] {
    this.sorted ??= [...this.byKey].sort(([, a], [, b]) => byRank(a.rank, b.rank));
    const columns: CardColumn[] = this.sorted.map(([, { rank: _rank, ...column }]) => column);
    return this.unreadable
      ? [...columns, { header: UNREADABLE, name: UNREADABLE, target: null, label: null, nth: 0 }]
      : columns;
  }

  /** The cells of a card in the order of the columns. `picture` is what stands for its picture; `broken` the text of one that cannot be read. */
  row(card: ReadCard | null, picture: string, broken = ''): string[] {
    void this.columns;
    const texts = new Map((card?.cells ?? []).map((cell) => [keyOf(cell), cell.text]));
    if (card?.picture) texts.set(keyOf(PICTURE), picture);
    const cells = (this.sorted ?? []).map(([key]) => texts.get(key) ?? '');
    return this.unreadable ? [...cells, broken] : cells;
  }
}

const UNREADABLE = 'Card that cannot be read';
