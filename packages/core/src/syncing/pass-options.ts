import type { BrakeReason, PassTotals } from './brake';
import type { ItemCodec, ItemShelf } from './item-shelf';
import type { Capabilities } from './outside';
import type { SyncContext } from './project';

/** What a pass would do. */
export interface PassPlan {
  items: ItemShelf;
  totals: PassTotals;
  /** Reasons to wait that follow from the whole and not from counts. */
  reasons: BrakeReason[];
  cursors: { theirs: string | null; ours: string };
}

export interface PassOptions {
  run: number;
  context: SyncContext;
  /** Nonce of ids that are made over there: unlike in every run. */
  nonce: string;
  /** What the other side can do, where it was asked already. */
  capabilities?: Capabilities | undefined;
  /** Only these contacts, and whom they are linked to. */
  only?: readonly number[] | undefined;
  /** With `only`: these records over there as well. */
  onlyThere?: readonly string[] | undefined;
  /** Records that a colleague over there sent over by hand: they take part, and are made here, whatever the scopes say. */
  pushed?: ReadonlySet<string> | undefined;
  /** Packs what was planned until it is written; left out, it is kept as it is. */
  codec?: ItemCodec | undefined;
  /** Waits so many ms for a job over there; left out, by the clock. */
  pause?: ((ms: number) => Promise<void>) | undefined;
  /** Called between batches; false ends the pass there, and the next one goes on. */
  goOn?: ((done: number, total: number, totals: PassTotals) => Promise<boolean>) | undefined;
}
