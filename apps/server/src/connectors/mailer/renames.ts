import type { OutsideWritten } from '@gray-loom/core/syncing';
import { keyOf } from './entries';

/** An entry that is to get another address, with what else is written to it. */
export interface Rename {
  from: string;
  to: string;
}

/**
 * Gives entries other addresses in an order in which none meets one that another of them still has. Where they want each other's, one
 * waits at an address of nobody.
 *
 * @param move gives one its address, and writes what else there is; `from` is where it is by now
 * @param aside an address of nobody, under a domain that never has mail (RFC 2606)
 */
export async function renameAll<One extends Rename>(
  renames: readonly One[],
  move: (one: One, from: string) => Promise<OutsideWritten>,
  stepAside: (one: One, to: string) => Promise<OutsideWritten>,
  aside: () => string,
): Promise<Map<One, OutsideWritten>> {
  const answers = new Map<One, OutsideWritten>();
  const pending = new Set(renames);
  const now = new Map(renames.map((one) => [one, keyOf(one.from)]));
  /** Who stands at an address that is wanted; one that was not taken stays there. */
  const standing = new Map(renames.map((one) => [keyOf(one.from), one]));
  const answer = (one: One, written: OutsideWritten) => {
    answers.set(one, written);
    pending.delete(one);
    if (written.ok) standing.delete(now.get(one) ?? '');
  };
  while (pending.size) {
    const [first] = pending;
    const next = [...pending].find((one) => {
      const other = standing.get(keyOf(one.to));
      return !other || other === one || !pending.has(other);
    });
    if (next) {
      const other = standing.get(keyOf(next.to));
      if (other && other !== next)
        answer(next, { ok: false, why: 'refused', text: `Another entry has the address ${next.to}.` });
      else answer(next, await move(next, now.get(next) ?? next.from));
    } else if (first) {
      const to = aside();
      const written = await stepAside(first, to);
      if (!written.ok) answer(first, written);
      else {
        standing.delete(now.get(first) ?? '');
        now.set(first, to);
      }
    }
  }
  return answers;
}
