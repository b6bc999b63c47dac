import type { OutsideWrite, OutsideWritten } from '@gray-loom/core/syncing';
import { NoAnswer } from './guarded-request';

export type Putting = Exclude<OutsideWrite, { kind: 'remove' }>;

/** What a tool without conditional writes can do; `Kept` is a record as it keeps it. */
export interface PlainWriter<Kept> {
  /** Records as they are now, by their ids; one that is gone is left out. */
  find(ids: readonly string[]): Promise<ReadonlyMap<string, Kept>>;
  versionOf(now: Kept): string;
  remove(now: Kept): Promise<OutsideWritten>;
  /** Makes and changes records, with an answer for each in their order. */
  put(writes: readonly Putting[], before: ReadonlyMap<string, Kept>): Promise<OutsideWritten[]>;
}

/** Where no answer came nobody knows whether it was written. */
export const unsure = (error: unknown): OutsideWritten => {
  if (!(error instanceof NoAnswer)) throw error;
  return { ok: false, why: 'unknown', text: error.message };
};

/**
 * Writes over there for a tool without conditional writes: each record is read before, and one that is not as it was is a clash. Between
 * the two a change over there can be lost; the tool leaves no other way.
 */
export async function readBeforeWrite<Kept>(
  writes: readonly OutsideWrite[],
  tool: PlainWriter<Kept>,
): Promise<OutsideWritten[]> {
  const before = await tool.find(writes.map(({ id }) => id));
  const results = new Map<OutsideWrite, OutsideWritten>();
  const putting: Putting[] = [];
  for (const write of writes) {
    const now = before.get(write.id);
    const wrong = against(write, now && tool.versionOf(now));
    if (wrong) results.set(write, wrong);
    else if (write.kind !== 'remove') putting.push(write);
    else if (now) results.set(write, await tool.remove(now).catch(unsure));
  }
  if (putting.length) {
    const written = await tool.put(putting, before).catch((error: unknown) => putting.map(() => unsure(error)));
    putting.forEach((write, i) => results.set(write, written[i] ?? { ok: false, why: 'unknown', text: 'no answer' }));
  }
  return writes.map((write) => results.get(write) as OutsideWritten);
}

/** What stands against a write, by the version that the record has now; undefined where it is not there. */
export function against(write: OutsideWrite, version: string | undefined): OutsideWritten | null {
  if (write.kind === 'create')
    return version === undefined ? null : { ok: false, why: 'clash', text: 'It is there already.' };
  if (version === undefined)
    return write.kind === 'remove' ? { ok: true, record: null } : { ok: false, why: 'gone', text: 'It is gone.' };
  return version === write.version ? null : { ok: false, why: 'clash', text: 'It was changed meanwhile.' };
}
