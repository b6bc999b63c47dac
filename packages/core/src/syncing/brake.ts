/** How much a pass would do, in records and values. */
export interface PassTotals {
  looked: number;
  madeHere: number;
  madeThere: number;
  linked: number;
  asked: number;
  conflicts: number;
  changedHere: number;
  changedThere: number;
  /** Pairs with a stop that one side did not know. */
  stops: number;
  /** Values that stand and would be replaced. */
  overwrittenHere: number;
  overwrittenThere: number;
  /** Values that would go without another in their place. */
  clearedHere: number;
  clearedThere: number;
  goneThere: number;
  removedThere: number;
  leftScope: number;
  /** Not there, since somebody else has the record of their address. */
  shared: number;
  failed: number;
}

export const NO_TOTALS: PassTotals = {
  looked: 0,
  madeHere: 0,
  madeThere: 0,
  linked: 0,
  asked: 0,
  conflicts: 0,
  changedHere: 0,
  changedThere: 0,
  stops: 0,
  overwrittenHere: 0,
  overwrittenThere: 0,
  clearedHere: 0,
  clearedThere: 0,
  goneThere: 0,
  removedThere: 0,
  leftScope: 0,
  shared: 0,
  failed: 0,
};

export interface BrakeLimits {
  /** Values or records that one pass may take away on either side. */
  removals: number;
  /** Values that one pass may overwrite on either side. */
  overwrites: number;
}

export const DEFAULT_LIMITS: BrakeLimits = { removals: 25, overwrites: 200 };

export interface BrakeReason {
  code:
    | 'gone'
    | 'removed'
    | 'clearedHere'
    | 'clearedThere'
    | 'overwrittenHere'
    | 'overwrittenThere'
    | 'labelGone'
    | 'fieldGone'
    | 'tooMany';
  count: number;
  limit: number;
  label?: string;
}

/** Why a pass has to wait for a person; empty where it may go on. */
export function brakeReasons(totals: PassTotals, limits: BrakeLimits): BrakeReason[] {
  const over = (code: BrakeReason['code'], count: number, limit: number): BrakeReason[] =>
    count > limit ? [{ code, count, limit }] : [];
  return [
    ...over('gone', totals.goneThere, limits.removals),
    ...over('removed', totals.removedThere, limits.removals),
    ...over('clearedHere', totals.clearedHere, limits.removals),
    ...over('clearedThere', totals.clearedThere, limits.removals),
    ...over('overwrittenHere', totals.overwrittenHere, limits.overwrites),
    ...over('overwrittenThere', totals.overwrittenThere, limits.overwrites),
  ];
}

export function wordBrake({ code, count, limit, label }: BrakeReason): string {
  const n = count.toLocaleString('en-GB');
  const most = `the limit is ${limit.toLocaleString('en-GB')}`;
  switch (code) {
    case 'gone':
      return `${n} records are gone over there at once; ${most}.`;
    case 'removed':
      return `${n} records would be removed over there; ${most}.`;
    case 'clearedHere':
      return `${n} values here would be taken away; ${most}.`;
    case 'clearedThere':
      return `${n} values over there would be taken away; ${most}.`;
    case 'overwrittenHere':
      return `${n} values here would be replaced; ${most}.`;
    case 'overwrittenThere':
      return `${n} values over there would be replaced; ${most}.`;
    case 'labelGone':
      return `The label or list "${label}" is gone from all ${n} who had it. Was it renamed over there?`;
    case 'fieldGone':
      return (
        `The field over there that ${label} is kept in step with is gone. What is here stays as it is. ` +
        'Choose another field in the set-up, or take the line out; let it run, and it goes on without that line.'
      );
    case 'tooMany':
      return `The book over there has room for ${limit.toLocaleString('en-GB')}; ${n} are more than that.`;
  }
}
