import { grown, KeyNumbers } from '../../matching';
import { clearlyDiffer, COMMON_KEY, initialsOf, type Hit, type IdentityCard, type IdentityKey } from './recognise';

const CHUNK = 1 << 20;
/** Of people who share a key, no more than these are kept. */
const MOST_SHARING = 50;

/**
 * People of one file by their keys, so that rows of one person fold together. A whole file's people are kept, so their cards
 * lie as bytes in chunks and their keys in typed arrays: some 100 bytes a person, and nothing for the collector to visit.
 */
export class FoldIndex {
  private readonly keys = new KeyNumbers(1 << 14);
  /** First entry of each key, from 1 on; entries of a key form a chain. */
  private firstOf = new Int32Array(1 << 14);
  private personOf = new Int32Array(1 << 14);
  private nextOf = new Int32Array(1 << 14);
  private entries = 0;
  /** Where a person's card lies: row, chunk, first byte and bytes. */
  private places = new Int32Array(1 << 14);
  private initials = new Int32Array(1 << 14);
  private people = 0;
  private readonly chunks: Uint8Array[] = [];
  private used = CHUNK;
  private readonly encoder = new TextEncoder();
  private readonly decoder = new TextDecoder();

  /** Who of the file has one of these keys of a person, but for those who clearly are not them by a phone or name alone. */
  find(keys: readonly IdentityKey[], card: IdentityCard): Hit<number>[] {
    const hits: Hit<number>[] = [];
    const initials = initialsOf(card);
    for (const { by, hash, shown } of keys) {
      const key = this.keys.find(hash);
      if (key < 0) continue;
      const people: number[] = [];
      for (let at = this.firstOf[key] ?? 0; at > 0; at = this.nextOf[at] ?? 0) people.push(this.personOf[at] ?? 0);
      if (by === 'tel' && people.length > COMMON_KEY) continue;
      for (const person of people) {
        if ((by === 'tel' || by === 'name') && clearlyDiffer(initials, this.initials[person] ?? 0)) continue;
        const { id, card: other } = this.read(person);
        hits.push({ id, card: other, by, shown });
      }
    }
    return hits;
  }

  /** Whether anybody has one of these keys. */
  knows(keys: readonly IdentityKey[]): boolean {
    for (const { hash } of keys) if (this.keys.find(hash) >= 0) return true;
    return false;
  }

  add(row: number, card: IdentityCard, keys: readonly IdentityKey[]): void {
    if (!keys.length) return;
    const person = this.write(row, packCard(card));
    if (person >= this.initials.length) this.initials = grown(this.initials);
    this.initials[person] = initialsOf(card);
    for (const { hash } of keys) {
      const key = this.keys.of(hash);
      if (key >= this.firstOf.length) this.firstOf = grown(this.firstOf);
      let last = this.firstOf[key] ?? 0;
      let sharing = last > 0 ? 1 : 0;
      for (let next = this.nextOf[last] ?? 0; last > 0 && next > 0; next = this.nextOf[last] ?? 0) {
        last = next;
        sharing++;
      }
      if (sharing >= MOST_SHARING || (last > 0 && this.personOf[last] === person)) continue;
      const entry = ++this.entries;
      if (entry >= this.nextOf.length) [this.nextOf, this.personOf] = [grown(this.nextOf), grown(this.personOf)];
      this.personOf[entry] = person;
      if (last > 0) this.nextOf[last] = entry;
      else this.firstOf[key] = entry;
    }
  }

  private write(row: number, packed: string): number {
    // A UTF-16 unit takes at most three bytes.
    const most = packed.length * 3;
    if (this.used + most > (this.chunks.at(-1)?.length ?? 0)) {
      this.chunks.push(new Uint8Array(Math.max(CHUNK, most)));
      this.used = 0;
    }
    const chunk = this.chunks.length - 1;
    const { written } = this.encoder.encodeInto(packed, this.chunks[chunk]?.subarray(this.used) ?? new Uint8Array());
    const person = this.people++;
    if (person * 4 >= this.places.length) this.places = grown(this.places);
    this.places.set([row, chunk, this.used, written], person * 4);
    this.used += written;
    return person;
  }

  private read(person: number): { id: number; card: IdentityCard } {
    const [row = 0, chunk = 0, from = 0, bytes = 0] = this.places.subarray(person * 4, person * 4 + 4);
    const text = this.decoder.decode(this.chunks[chunk]?.subarray(from, from + bytes));
    return { id: row, card: unpackCard(text) };
  }
}

const wordsOf = (words: readonly string[]): string => (words.length === 1 ? (words[0] ?? '') : words.join(' '));

function packCard(card: IdentityCard): string {
  const given = `${wordsOf(card.given)}\u0001${card.givenText}\u0001${card.nickname}\u0001${card.unreadable ? 1 : ''}\u0001${card.script}`;
  const families = `${wordsOf(card.family)}\u0001${card.familyText}\u0001${card.familyInferred ? 1 : ''}\u0001${card.generation}`;
  const place = `${card.postal}\u0001${card.locality}\u0001${card.bday}`;
  const rest = [card.organizationText, card.hasMailbox ? 1 : '', wordsOf(card.phones), card.ids.join('\u0002')];
  return [given, families, place, ...rest].join('\u0001');
}

function unpackCard(packed: string): IdentityCard {
  const [
    given = '',
    givenText = '',
    nickname = '',
    unreadable,
    script = '',
    family = '',
    familyText = '',
    inferred,
    generation = '',
    postal = '',
    locality = '',
    bday = '',
    organizationText = '',
    hasMailbox,
    phones = '',
    ids = '',
  ] = packed.split('\u0001');
  const words = (text: string) => (text ? text.split(' ') : []);
  return {
    given: words(given),
    givenText,
    nickname,
    unreadable: unreadable === '1',
    script: script as IdentityCard['script'],
    family: words(family),
    familyText,
    familyInferred: inferred === '1',
    generation,
    postal,
    locality,
    bday,
    organizationText,
    hasMailbox: hasMailbox === '1',
    phones: words(phones),
    ids: ids ? ids.split('\u0002') : [],
  };
}
