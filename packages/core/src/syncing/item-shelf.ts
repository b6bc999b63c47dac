import { AT_ONCE, type PassItem } from './pass-item';

/** Makes something smaller of planned items, and them of it again. */
export interface ItemCodec {
  pack(items: readonly PassItem[]): Uint8Array;
  unpack(packed: Uint8Array): PassItem[];
}

/** A page that was filled, as it is kept: gives its items. */
type Page = () => readonly PassItem[];

const isStop = ({ plan }: PassItem) => plan !== null && plan.stopHere.length + plan.stopThere.length > 0;

/**
 * Keeps what a pass has planned until it is written, in pages: those of a whole book do not fit in memory as they are planned. Whoever
 * said stop goes before everybody else, on both sides: what ends early has done that.
 */
export class ItemShelf {
  /** Items so far. */
  length = 0;
  private readonly first: Pages;
  private readonly others: Pages;

  /** @param codec packs full pages; left out, they are kept as they are */
  constructor(codec: ItemCodec | null = null) {
    this.first = new Pages(codec);
    this.others = new Pages(codec);
  }

  put(items: readonly PassItem[]): void {
    for (const item of items) (isStop(item) ? this.first : this.others).put(item);
    this.length += items.length;
  }

  /** All that was put, a page at a time; it can be gone through more than once. */
  *pages(): Generator<readonly PassItem[]> {
    yield* this.first.all();
    yield* this.others.all();
  }

  /** The same item by item, for those who look at a few. */
  *[Symbol.iterator](): Generator<PassItem> {
    for (const page of this.pages()) yield* page;
  }
}

/** Of a person only what an item is written by: the rest cannot be packed. */
const bare = ({ person, ...item }: PassItem): PassItem => ({
  ...item,
  person: person && { id: person.id, version: person.version, record: person.record },
});

const keptPage =
  (items: readonly PassItem[]): Page =>
  () =>
    items;

/** A page by itself, so that nothing holds what it was packed from. */
function packedPage(codec: ItemCodec, items: readonly PassItem[]): Page {
  const packed = codec.pack(items.map(bare));
  return () => codec.unpack(packed);
}

class Pages {
  private readonly full: Page[] = [];
  private open: PassItem[] = [];

  constructor(private readonly codec: ItemCodec | null) {}

  put(item: PassItem): void {
    this.open.push(item);
    if (this.open.length < AT_ONCE) return;
    this.full.push(this.codec ? packedPage(this.codec, this.open) : keptPage(this.open));
    this.open = [];
  }

  *all(): Generator<readonly PassItem[]> {
    for (const page of this.full) yield page();
    if (this.open.length) yield this.open;
  }
}
