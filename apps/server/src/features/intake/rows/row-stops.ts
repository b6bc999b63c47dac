import { PERMISSIONS } from '@gray-loom/core/mapping';
import type { Issue } from '@gray-loom/core/model';
import type { Candidate, Channel } from '@gray-loom/core/writing';
import type { Queryable } from '../../../db/connect';
import { stopsSaid } from '../../contacts';

/** When somebody said stop who has not taken it back, by channel, in ms since 1970 UTC. */
export type SaidStops = ReadonlyMap<Channel, number>;

const allowedIn = (candidate: Candidate) => (candidate[PERMISSIONS] ?? []).filter(({ v }) => v === 'allowed');

/** What rows may not lift: a file never lets somebody be written to or called again who said stop; a person does, who looks at the row. */
export class RowStops {
  private readonly ofRow = new Map<number, SaidStops>();

  constructor(private readonly pool: Queryable) {}

  /** Stops of those whom rows may be about; null where no row lets anybody be written to or called. */
  async among(
    candidates: readonly Candidate[],
    contactIds: () => number[],
  ): Promise<ReadonlyMap<number, SaidStops> | null> {
    return candidates.some((one) => allowedIn(one).length > 0) ? stopsSaid(this.pool, contactIds()) : null;
  }

  /** Keeps whom the first row of somebody is about, for further rows of theirs. */
  first(row: number, stops: SaidStops | undefined): void {
    if (stops?.size) this.ofRow.set(row, stops);
  }

  /** What stands against a further row of somebody. */
  further(firstRow: number, candidate: Candidate): Omit<Extract<Issue, { code: 'wouldAllow' }>, 'contactId'> | null {
    return this.against(candidate, this.ofRow.get(firstRow));
  }

  /** What stands against a row of somebody with these stops: a word that would lift one of them. */
  against(
    candidate: Candidate,
    stops: SaidStops | undefined,
  ): Omit<Extract<Issue, { code: 'wouldAllow' }>, 'contactId'> | null {
    for (const { label, atMs } of stops ? allowedIn(candidate) : []) {
      const channel = label as Channel;
      const saidMs = stops?.get(channel);
      // What was allowed before the stop was lifted by it.
      if (saidMs !== undefined && (atMs ?? Infinity) >= saidMs)
        return { code: 'wouldAllow', channel, on: new Date(saidMs).toISOString().slice(0, 10), path: {} };
    }
    return null;
  }

  /** The same row when a person has said that it counts: what it allows without a day is allowed today. */
  static byPerson(candidate: Candidate): Candidate {
    const said = candidate[PERMISSIONS];
    if (!said) return candidate;
    const atMs = Date.now();
    return { ...candidate, [PERMISSIONS]: said.map((one) => (one.v === 'allowed' ? { atMs, ...one } : one)) };
  }
}
