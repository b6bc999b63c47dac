/** A count of one week by kind of thread. */
export interface WeekCount {
  /** Its Monday, ISO 8601. */
  start: string;
  byThread: Record<string, number>;
}

export interface Worklist {
  contacts: number;
  certain: number;
  likely: number;
  possible: number;
  held: { total: number; files: { runId: number; intakeId: number; name: string; count: number }[] };
  unfinished: { intakeId: number; name: string; rowCount: number; createdAt: string }[];
  syncs: {
    /** Values that both sides changed, and questions who somebody is. */
    conflicts: number;
    braked: { connectionId: number; name: string; reason: string }[];
    troubled: { connectionId: number; name: string; trouble: string }[];
  };
  failed: { runId: number; title: string }[];
  /** New contacts per week and kind of thread, oldest week first. */
  weeks: WeekCount[];
  completeness: { mean: number; bands: number[] };
  freshness: { withinYear: number; older: number };
}
