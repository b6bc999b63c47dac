import { groupOf, isGroupLabel } from './card-labels';
import { contentLine, lineText, type ContentLine } from './card-lines';
import type { CardProperty, CardText } from './card-text';

interface Entry {
  raw: string;
  property: CardProperty | null;
}

/**
 * A card in which single lines are written anew. Every line that nobody writes stays as it was, byte for byte, in its place. Needs a card
 * whose lines are known.
 */
export class CardEdit {
  private readonly entries: Entry[];
  private readonly end: string;

  constructor(private readonly card: CardText & Required<Pick<CardText, 'lines'>>) {
    const byLine = new Map(card.properties.map((property) => [property.line, property]));
    this.entries = card.lines.map(({ raw }, i) => ({ raw, property: byLine.get(i) ?? null }));
    this.end = card.lines.some(({ raw }) => raw.endsWith('\r\n')) ? '\r\n' : '\n';
  }

  /** The line of a property, taken apart. */
  lineOf({ line }: CardProperty): ContentLine {
    const parted = contentLine(this.card.lines[line ?? -1]?.text ?? '');
    if (!parted) throw new Error('a property of a card stands in no line of it');
    return parted;
  }

  /** Writes the line of a property anew; other pieces of it stay as they are written. */
  rewrite(property: CardProperty, change: Partial<ContentLine>): void {
    const entry = this.entryOf(property);
    if (entry) entry.raw = lineText({ ...this.lineOf(property), ...change }, this.end);
  }

  /** Takes a property out, with what names it in its group. */
  remove(property: CardProperty): void {
    const group = groupOf(property);
    for (const entry of this.entries)
      if (entry.property && (entry.property === property || (group && this.names(entry.property, group))))
        entry.raw = '';
  }

  /** Takes out what names a property in its group. */
  removeGroupLabel(property: CardProperty): void {
    const group = groupOf(property);
    for (const entry of this.entries) if (group && entry.property && this.names(entry.property, group)) entry.raw = '';
  }

  private names(property: CardProperty, group: string): boolean {
    return isGroupLabel(property) && groupOf(property) === group;
  }

  /** Adds a line behind a property, or at the end where none is given. */
  add(line: ContentLine, behind?: CardProperty): void {
    const at = behind ? this.entries.findIndex(({ property }) => property === behind) + 1 : this.endOfCard;
    this.insert(line, at);
  }

  private insert(line: ContentLine, at: number): Entry {
    const entry = { raw: lineText(line, this.end), property: null };
    this.entries.splice(at, 0, entry);
    return entry;
  }

  /**
   * Puts properties of one kind, and new lines of it, into an order. Properties take the places that they have between them; a new line
   * comes right behind the one before it, or before the first, or at the end of the card where there is none.
   */
  arrange(wanted: readonly (CardProperty | ContentLine)[]): void {
    const isLine = (one: CardProperty | ContentLine): one is ContentLine => 'group' in one;
    this.order(wanted.filter((one): one is CardProperty => !isLine(one)));
    const first = wanted.find((one): one is CardProperty => !isLine(one));
    let last: Entry | undefined;
    for (const one of wanted) {
      if (!isLine(one)) {
        last = this.entryOf(one) ?? last;
        continue;
      }
      const before = last || !first ? undefined : this.entryOf(first);
      const at = last ? this.entries.indexOf(last) + 1 : before ? this.entries.indexOf(before) : this.endOfCard;
      last = this.insert(one, at);
    }
  }

  /** Puts properties into an order; each takes the place of one of them. */
  private order(properties: readonly CardProperty[]): void {
    const places = properties
      .map((property) => this.entries.findIndex((entry) => entry.property === property))
      .filter((place) => place >= 0)
      .sort((a, b) => a - b);
    const moved = properties.map((property) => this.entryOf(property));
    places.forEach((place, i) => {
      const entry = moved[i];
      if (entry) this.entries[place] = entry;
    });
  }

  /** The card as it is now. */
  text(): string {
    return this.entries.map(({ raw }) => raw).join('');
  }

  private get endOfCard(): number {
    const at = this.card.lines.findIndex(({ text }) => /^END:VCARD/i.test(text));
    // Lines that were added stand before it.
    return at < 0 ? this.entries.length : at + (this.entries.length - this.card.lines.length);
  }

  private entryOf(property: CardProperty): Entry | undefined {
    return this.entries.find((entry) => entry.property === property);
  }
}
