import { NO_TOTALS, type BrakeReason, type PassTotals } from './brake';
import { LISTS } from './kept-lists';
import { stagesByLabel } from './lines';
import type { Capabilities, OutsideRecord } from './outside';
import type { SyncSetup } from './pass-item';
import type { Base, PairPlan } from './plan-pair';

/** How often a label must be gone before it counts as renamed. */
const RENAMED_FROM = 3;

/** What a pass has planned so far: its counts, and who is dealt with already. */
export class PassTally {
  totals: PassTotals = { ...NO_TOTALS };
  /** Ids over there that are dealt with in this pass. */
  readonly planned = new Set<string>();
  /** Contacts that are linked, or asked about, in this very pass. */
  readonly claimed = new Set<number>();
  private readonly lostLabels = new Map<string, { lost: number; kept: number }>();

  begin(): void {
    this.totals = { ...NO_TOTALS };
    this.planned.clear();
    this.claimed.clear();
    this.lostLabels.clear();
  }

  count(plan: PairPlan): void {
    this.totals.conflicts += plan.conflicts.length;
    for (const { side, kind } of plan.changes) {
      if (kind === 'change') this.totals[side === 'here' ? 'overwrittenHere' : 'overwrittenThere']++;
      if (kind === 'remove') this.totals[side === 'here' ? 'clearedHere' : 'clearedThere']++;
    }
  }

  /** A label that stands for a stage and is gone from everybody at once was renamed rather than taken off. */
  countLabels(
    { lines, lists = [] }: Pick<SyncSetup, 'lines' | 'lists'>,
    base: Base | null,
    record: OutsideRecord,
  ): void {
    const stood = new Set((base?.[LISTS]?.t ?? base?.[LISTS]?.o ?? []).map(({ v }) => String(v)));
    for (const { id, label } of lists)
      if (stood.has(id))
        this.countLabel(
          label,
          record.labels.some((one) => one.toLowerCase() === label.toLowerCase()),
          false,
        );
    for (const line of lines) {
      if (!line.stageLabels) continue;
      for (const { v } of base?.[line.id]?.t ?? base?.[line.id]?.o ?? []) {
        const kept = record.labels.some((label) => label.toLowerCase() === String(v).toLowerCase());
        const stages = stagesByLabel(line);
        const others = record.labels.some((label) => stages.has(label.toLowerCase()));
        this.countLabel(String(v), kept, others);
      }
    }
  }

  /** @param others whether another label took its place */
  private countLabel(label: string, isKept: boolean, others: boolean): void {
    const seen = this.lostLabels.get(label) ?? { lost: 0, kept: 0 };
    if (isKept) seen.kept++;
    else if (!others) seen.lost++;
    this.lostLabels.set(label, seen);
  }

  /** Reasons to wait that follow from the pass as a whole: a label that is gone from everybody, a book that would be too full. */
  reasons({ knownLabels, mostRecords, records }: Capabilities): BrakeReason[] {
    const known = new Set(knownLabels.map((label) => label.toLowerCase()));
    const reasons: BrakeReason[] = [];
    for (const [label, { lost, kept }] of this.lostLabels)
      if (lost >= RENAMED_FROM && kept === 0 && !known.has(label.toLowerCase()))
        reasons.push({ code: 'labelGone', count: lost, limit: 0, label });
    const after = (records ?? 0) + this.totals.madeThere - this.totals.removedThere;
    if (mostRecords !== null && records !== null && this.totals.madeThere > 0 && after > mostRecords)
      reasons.push({ code: 'tooMany', count: after - mostRecords, limit: mostRecords });
    return reasons;
  }
}
