import { seesPart } from '../../db/actor';
import type { Database } from '../../db/connect';
import { contactConditions } from './contact-filter';
import type { Order } from './contact-order';
import type { ReadyFilter } from './ready-filter';
import { countBetween, everyNth } from './statements/filtered-contacts';

/** Rows between two marks. A page at depth reads at most this many index entries too many. */
const STEP = 500;
/** The same within a remit, where most entries that are passed over are of others. */
const STEP_WITHIN = 50;
const stepFor = ({ actor }: Sight): number => (seesPart(actor) ? STEP_WITHIN : STEP);
/** Lists whose marks are kept. */
const KEPT = 40;
/** Marks of a list that changed are good enough for so long; a place may be off by what came in since. */
const STALE_MS = 20_000;

/** A list in its order. */
type OrderedFilter = ReadyFilter & { order: Order };

type Sight = Pick<Database, 'pool' | 'actor'>;

export interface PlaceMark {
  place: number;
  position: string;
  id: number;
}

interface Marks {
  made: number;
  changes: number;
  marks: Promise<PlaceMark[]>;
  renewing: boolean;
}

/**
 * Place marks of lists: every five-hundredth row, so that a page deep in a list is a step and not a walk (at a million,
 * OFFSET 500,000 takes 958 ms and a mark 1). Kept per list; what has changed is marked anew in the background while the old marks serve.
 */
export class PlaceMarks {
  private readonly lists = new Map<string, Marks>();
  private changes = 0;

  /** Says that contacts changed, so that marks are looked at anew when they are next used. */
  changed(): void {
    this.changes++;
  }

  /** The last mark at or before a place; null before the first. */
  async before(database: Sight, filter: OrderedFilter, place: number): Promise<PlaceMark | null> {
    const marks = await this.marksOf(database, filter);
    return marks[Math.min(marks.length - 1, Math.floor(place / stepFor(database)))] ?? null;
  }

  /** The place of the first row whose sorting text is not before `text`. */
  async placeOf(database: Sight, filter: OrderedFilter, text: string): Promise<number> {
    const marks = await this.marksOf(database, filter);
    let low = 0;
    let high = marks.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((marks[middle]?.position ?? '') < text) low = middle + 1;
      else high = middle;
    }
    const mark = marks[low - 1];
    if (!mark) return 0;
    const { rows } = await countBetween(database.pool, contactConditions(filter), filter.order.column, mark, text);
    return mark.place + (rows[0]?.n ?? 0);
  }

  /** Everybody with a remit has marks of their own, since each list is another. */
  private marksOf(database: Sight, filter: OrderedFilter): Promise<PlaceMark[]> {
    const { actor } = database;
    const { find, condition, surroundings, kind, deleted, order } = filter;
    const key = JSON.stringify([
      find,
      condition,
      surroundings.today,
      kind,
      deleted,
      order,
      seesPart(actor) && [actor.accountId, actor.remit],
    ]);
    const kept = this.lists.get(key);
    if (kept) {
      this.lists.delete(key);
      this.lists.set(key, kept);
      if (kept.changes !== this.changes && Date.now() - kept.made > STALE_MS && !kept.renewing) {
        kept.renewing = true;
        const marks = this.mark(database, filter);
        const renewed: Marks = { made: Date.now(), changes: this.changes, marks, renewing: false };
        void marks.then(
          () => this.lists.set(key, renewed),
          () => (kept.renewing = false),
        );
      }
      return kept.marks;
    }
    const made: Marks = {
      made: Date.now(),
      changes: this.changes,
      marks: this.mark(database, filter),
      renewing: false,
    };
    made.marks.catch(() => this.lists.delete(key));
    this.lists.set(key, made);
    for (const oldest of this.lists.keys()) {
      if (this.lists.size <= KEPT) break;
      this.lists.delete(oldest);
    }
    return made.marks;
  }

  private async mark(database: Sight, filter: OrderedFilter): Promise<PlaceMark[]> {
    const { rows } = await everyNth(database.pool, contactConditions(filter), filter.order, stepFor(database));
    return rows;
  }
}
