import { NO_TOTALS, type BrakeReason, type PassTotals } from './brake';
import { stagesByLabel, type SyncLine } from './lines';
import type { Capabilities, OutsideRecord } from './outside';
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
  countLabels(lines: readonly SyncLine[], base: Base | null, record: OutsideRecord): void {
    for (const line of lines) {
      if (!line.stageLabels) continue;
      for (const { v } of base?.[line.id]?.t ?? base?.[line.id]?.o ?? []) {
        const seen = this.lostLabels.get(String(v)) ?? { lost: 0, kept: 0 };
        const kept = record.labels.some((label) => label.toLowerCase() === String(v).toLowerCase());
        const stages = stagesByLabel(line);
        const others = record.labels.some((label) => stages.has(label.toLowerCase()));
        if (kept) seen.kept++;
        else if (!others) seen.lost++;
        this.lostLabels.set(String(v), seen);
      }
    }
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
