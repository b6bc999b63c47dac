import { opportunityHeading, type HeaderReading, type OpportunityReading, type OpportunityRole } from '../../formats';
import { NONE, type Opinion } from './column-opinion';
import type { ColumnProfile } from './column-values';
import type { OpportunityTarget } from '../rows/opportunity-cells';

const TARGET_OF: Partial<Record<OpportunityRole, OpportunityTarget>> = {
  id: 'opportunityId',
  name: 'opportunityName',
  pipeline: 'opportunityPipeline',
  stage: 'opportunityStage',
  value: 'opportunityValue',
  closeDate: 'opportunityCloseDate',
  note: 'opportunityNote',
};
const ROLE_OF = new Map(Object.entries(TARGET_OF).map(([role, target]) => [target, role as OpportunityRole]));
/** Roles whose heading alone shows that a table is one of opportunities, where it speaks of one. */
const TELLING: ReadonlySet<OpportunityRole> = new Set(['id', 'name', 'stage', 'value', 'closeDate']);

/** What a heading says of an opportunity, by the tables of headings or by its words. */
function roleOf(header: string | null, { target }: HeaderReading): OpportunityReading | null {
  const role = ROLE_OF.get(target as OpportunityTarget);
  const said = header ? opportunityHeading(header) : null;
  if (said && (said.isSure || !role)) return said;
  if (role) return { role, isSure: role !== 'value' && role !== 'closeDate' };
  return target === 'phase' ? { role: 'stage', isSure: false } : null;
}

/** Whether the cells of a column can be what its heading says. */
function fits({ role }: OpportunityReading, profile: ColumnProfile): boolean {
  const { filled, number01, longText01 } = profile;
  if (filled === 0) return true;
  // Amounts may be the numbers of days as well.
  const date01 = role === 'value' && profile.dateOrder === 'serial' ? 0 : profile.date01;
  if (role === 'value') return number01 > 0.4 && date01 <= 0.5;
  if (role === 'closeDate') return date01 > 0.4;
  if (role === 'stage' || role === 'pipeline') return number01 <= 0.5 && date01 <= 0.5 && longText01 < 0.2;
  return date01 <= 0.5;
}

/**
 * Settles which columns are an opportunity's. A table has opportunities where a heading speaks of one, where a project, an
 * offer or the like stands beside a stage and an amount or a day, or a stage beside both; in any other they are the person's.
 */
export function settleOpportunities(
  headers: readonly (string | null)[],
  readings: readonly HeaderReading[],
  opinions: Opinion[],
  profiles: readonly ColumnProfile[],
): void {
  const roles = readings.map((reading, i) => {
    const role = roleOf(headers[i] ?? null, reading);
    const profile = profiles[i];
    return role && profile && fits(role, profile) ? role : null;
  });
  opinions.forEach(({ target }, i) => {
    if (ROLE_OF.has(target as OpportunityTarget)) opinions[i] = NONE;
  });
  const first = firstOf(roles);
  if (first < 0) return;
  for (const [role, target] of Object.entries(TARGET_OF)) {
    const at = columnOf(role as OpportunityRole, roles, opinions, first);
    if (at >= 0) opinions[at] = { target, certainty01: roles[at]?.isSure ? 0.9 : 0.75 };
  }
  opinions.forEach(({ target }, i) => {
    if (target === 'owner') opinions[i] = NONE;
  });
  if (opinions.some(({ target }) => target === 'opportunityValue')) return;
  const amount = opinions.findIndex(
    ({ target }, i) => i > first && !target && !roles[i] && (profiles[i]?.number01 ?? 0) > 0.5,
  );
  if (amount >= 0) opinions[amount] = { target: 'opportunityValue', certainty01: 0.75 };
}

/** The first column of opportunities, or -1 where the table has none. */
function firstOf(roles: readonly (OpportunityReading | null)[]): number {
  const sure = roles.findIndex((one) => one?.isSure && TELLING.has(one.role));
  const thing = roles.findIndex((one) => one?.role === 'name' || one?.role === 'id');
  if (sure >= 0) return thing >= 0 ? Math.min(sure, thing) : sure;
  const find = (role: OpportunityRole) => roles.findIndex((one, i) => one?.role === role && i > thing);
  const [stage, value, day] = [find('stage'), find('value'), find('closeDate')];
  if (stage < 0 || (value < 0 && day < 0)) return -1;
  // A project with a status and an amount may have been paid for; one that closes some day has not.
  if (day < 0 && roles[stage]?.isStatus) return -1;
  if (thing >= 0) return thing;
  return value >= 0 && day >= 0 && !roles[stage]?.isStatus ? Math.min(stage, value, day) : -1;
}

/** The column of a role: one whose heading is sure, else the first behind the opportunity's name, else one that means nothing else. */
function columnOf(
  role: OpportunityRole,
  roles: readonly (OpportunityReading | null)[],
  opinions: readonly Opinion[],
  first: number,
): number {
  const sure = roles.findIndex((one) => one?.role === role && one.isSure);
  if (sure >= 0) return sure;
  const behind = roles.findIndex((one, i) => one?.role === role && i >= first);
  return behind >= 0 ? behind : roles.findIndex((one, i) => one?.role === role && !opinions[i]?.target);
}
