import { activityKindIn, activityRoles, type ActivityRole } from '../../formats';
import type { ActivityKind } from '../../activity';
import { isOpportunityTarget } from '../rows/opportunity-cells';
import type { ActivityTarget } from '../rows/activity-cells';
import { NONE, type Opinion } from './column-opinion';
import type { ColumnProfile } from './column-values';

const TARGET_OF: Record<ActivityRole, ActivityTarget> = {
  amount: 'activityAmount',
  date: 'activityDate',
  what: 'activityWhat',
  id: 'activityId',
  quantity: 'activityQuantity',
  currency: 'activityCurrency',
  kind: 'activityKind',
};
const CERTAINTY01 = 0.8;

/** Whether the cells of a column can be what its heading says. */
function fits(role: ActivityRole, { filled, number01, date01, longText01, yesNo01, distinct }: ColumnProfile): boolean {
  if (filled === 0) return false;
  switch (role) {
    case 'amount':
      return number01 > 0.6 && yesNo01 <= 0.5;
    case 'date':
      return date01 > 0.6;
    case 'quantity':
      return number01 > 0.6;
    case 'id':
      return longText01 < 0.2 && distinct > filled * 0.9;
    case 'currency':
    case 'kind':
      return number01 <= 0.5 && date01 <= 0.5 && longText01 < 0.2;
    case 'what':
      return number01 <= 0.5 && date01 <= 0.5;
  }
}

/** Meanings that give way to an entry's: what a heading such as "Ref" or "Donation" is taken for where nothing else is known. */
const WEAK: ReadonlySet<string | null> = new Set([null, 'externalId', 'source', 'note', 'organization', 'title']);

/** Whether people stand in several rows, by what they are told apart by. */
function peopleRepeat(opinions: readonly Opinion[], profiles: readonly ColumnProfile[]): boolean {
  const told = opinions.findIndex(({ target }) => target === 'email' || target === 'externalId');
  const at = told >= 0 ? told : opinions.findIndex(({ target }) => target === 'fullName');
  const profile = profiles[at];
  return profile !== undefined && profile.filled >= 4 && profile.distinct <= profile.filled * 0.8;
}

/**
 * Settles which columns tell of something dated: a table has such entries where an amount or a quantity stands beside a day, both under
 * headings that say so, or where people stand in several rows with a thing and a day; and where no opportunity does.
 */
export function settleActivities(
  headers: readonly (string | null)[],
  opinions: Opinion[],
  profiles: readonly ColumnProfile[],
): void {
  if (opinions.some(({ target }) => isOpportunityTarget(target))) return;
  const roles = headers.map((header, i): ActivityRole | null => {
    const profile = profiles[i];
    const { target = null, certainty01 = 0 } = opinions[i] ?? NONE;
    if (!header || !profile || !WEAK.has(target) || (target !== null && certainty01 > 0.85)) return null;
    return activityRoles(header).find((role) => fits(role, profile)) ?? null;
  });
  const first = (role: ActivityRole) => roles.indexOf(role);
  const isCounted = first('amount') >= 0 || first('quantity') >= 0;
  if (first('date') < 0 || !(isCounted || (first('what') >= 0 && peopleRepeat(opinions, profiles)))) return;
  for (const role of Object.keys(TARGET_OF) as ActivityRole[]) {
    const at = first(role);
    if (at >= 0) opinions[at] = { target: TARGET_OF[role], certainty01: CERTAINTY01 };
  }
}

/** What the entries of a table are, by its headings; purchases where they speak of nothing. */
export function activityKindOf(headers: readonly (string | null)[]): ActivityKind {
  for (const header of headers) {
    const kind = header ? activityKindIn(header) : null;
    if (kind === 'gift' || kind === 'purchase' || kind === 'enrolment') return kind;
  }
  return 'purchase';
}
