import { accountIdOf, seesPart } from '../../db/actor';
import { eq, sql } from 'drizzle-orm';
import { displayNameOf, formatPhone } from '@gray-loom/core/fields';
import { explainPair, factsOf, lineOf, preparePerson, scorePair, type MatchPerson } from '@gray-loom/core/matching';
import { planMerge } from '@gray-loom/core/merging';
import type { Value } from '@gray-loom/core/model';
import type { GroupList, GroupLook, GroupSummary, MatchBoard } from '@gray-loom/wire';
import { inTransaction, wholeBook, type Database, type Tx } from '../../db/connect';
import { tell } from '../../feed/events';
import { matchGroup, run } from '../../db/schema';
import { refuseGroup } from './refusals';
import { runsIn, threadsOf } from '../../book/run-threads';
import { partedBySight } from '../../book/seen';
import { stopsKept } from '../../book/statements/merged-stops';
import { withNames } from '../../book/related-contacts';
import { mergeRules, weighingOf } from './match-setup';
import { currentModel, type FrozenModel } from './match-groups';
import { organizationReasons } from './match-organizations';
import { loadCatalogue } from '../../book/picks';
import {
  countGroups,
  liveIds,
  proposedGroups,
  countDecided,
  groupsLookedAt,
  lookAtGroup,
  leaveOtherGroups,
  whoLooksAt,
  liveMembers,
  whoDecidedRun,
  type LiveRow,
} from './statements/match-board';

export type { LiveRow } from './statements/match-board';

type GroupRow = typeof matchGroup.$inferSelect;

function summaryOf(
  row: GroupRow,
  { busyWith = null, proposedBy = null }: Partial<Pick<GroupSummary, 'busyWith' | 'proposedBy'>> = {},
): GroupSummary {
  return {
    busyWith,
    proposedBy,
    id: row.id,
    kind: row.kind,
    name: row.name,
    size: row.memberIds.length,
    band: row.band,
    probability01: row.probability01,
    state: row.state,
  };
}

const GROUPS_LISTED = 2000;

/** Open groups, surest first; those put off come last. The first of them where there are very many. */
export async function listGroups({ db, pool, actor }: Database): Promise<GroupList> {
  const rows = await db
    .select()
    .from(matchGroup)
    .where(sql`${matchGroup.state} in ('open', 'later')`)
    .orderBy(
      sql`${matchGroup.state} = 'later', ${matchGroup.proposedBy} is null, ${matchGroup.bits} desc, ${matchGroup.id}`,
    )
    .limit(GROUPS_LISTED);
  // Counted over all, since a large book has more groups than a list can hold.
  const waiting = await countGroups(pool);
  const counts = { certain: 0, likely: 0, possible: 0 };
  let later = 0;
  for (const { state, band, n } of waiting.rows) {
    if (state === 'open') counts[band] = n;
    else later += n;
  }
  const decided = await countDecided(pool);
  const busy = await groupsLookedAt(pool, accountIdOf(actor));
  const busyWith = new Map(busy.rows.map(({ id, name }) => [id, name]));
  const { rows: proposed } = await proposedGroups(pool);
  const proposers = new Map(proposed.map(({ id, name }) => [id, name]));
  const scans = await db
    .select({ id: run.id, state: run.state, finishedAt: run.finishedAt })
    .from(run)
    .where(sql`${run.kind} = 'scan' and not ${run.detail} ? 'ofRun'`)
    .orderBy(sql`${run.id} desc`)
    .limit(5);
  return {
    groups: rows.map((row) =>
      summaryOf(row, { busyWith: busyWith.get(row.id) ?? null, proposedBy: proposers.get(row.id) ?? null }),
    ),
    counts,
    later,
    decided: decided.rows[0]?.n ?? 0,
    lately: decided.rows[0]?.lately ?? 0,
    scannedAt: scans.find((scan) => scan.state === 'done')?.finishedAt?.toISOString() ?? null,
    scanning: scans.find((scan) => scan.state === 'queued' || scan.state === 'running')?.id ?? null,
  };
}

/** The group of an id; refused where there is none. */
export async function requireGroup(tx: { db: Tx['db'] }, id: number): Promise<GroupRow> {
  const [group] = await tx.db.select().from(matchGroup).where(eq(matchGroup.id, id));
  if (!group) throw refuseGroup.noSuchGroup();
  return group;
}

export function timeTeller(threads: Record<number, { at: string }>): (value: Value) => number {
  return (value) => value.atMs ?? Date.parse(threads[value.run]?.at ?? '') ?? 0;
}

/**
 * Gives a group to whoever looks at it, unless somebody else has it, and says so. Nothing is locked: it only keeps two from one
 * work. Of two who ask at once one gets it.
 */
export async function takeGroup(database: Database, groupId: number): Promise<GroupLook> {
  const accountId = accountIdOf(database.actor);
  return inTransaction(database, async ({ client }) => {
    const taken = await lookAtGroup(client, groupId, accountId);
    await leaveOtherGroups(client, groupId, accountId);
    if (taken.rows[0]) {
      if (taken.rows[0].was !== accountId) await tell(client, { topic: 'looks' });
      return { waits: true, busyWith: null };
    }
    const { rows } = await whoLooksAt(client, groupId);
    return { waits: rows.length > 0, busyWith: rows[0]?.name ?? null };
  });
}

/** E-mails and phones that two records of a group have in common, as they are compared and as they are shown. */
function linesInCommon(people: readonly MatchPerson[]): MatchBoard['lines'] {
  const users = new Map<string, { shown: string; n: number }>();
  for (const person of people) {
    const own = new Map([
      ...person.emails.map((box) => [box.key, box.key] as const),
      ...person.phones.map((phone) => [lineOf(phone), formatPhone(phone)] as const),
    ]);
    for (const [line, shown] of own) {
      const known = users.get(line);
      if (known) known.n++;
      else users.set(line, { shown, n: 1 });
    }
  }
  return [...users].flatMap(([line, { shown, n }]) => (n > 1 ? [{ line, shown }] : []));
}

/** Everything the match board shows of one group. */
export async function matchBoard(database: Database, groupId: number): Promise<MatchBoard> {
  const group = await requireGroup(database, groupId);
  const rows = await liveMembers(database.pool, group.memberIds);
  const elsewhere = await membersElsewhere(database, group);
  const { rows: proposed } = await proposedGroups(database.pool, groupId);
  const summary = summaryOf(group, { proposedBy: proposed[0]?.name ?? null });
  const threads = await threadsOf(
    database,
    rows.flatMap((row) => [...runsIn(row.record), row.last_run]),
  );
  const stale =
    group.state === 'merged'
      ? `${await whoDecided(database, group)} merged this group.`
      : group.state === 'apart'
        ? `${await whoDecided(database, group)} kept these apart.`
        : rows.length + elsewhere < 2
          ? 'Fewer than two of these records are still here; somebody merged or deleted them meanwhile.'
          : null;
  if (rows.length < 2)
    return {
      group: summary,
      elsewhere,
      members: rows.map((row) => memberOf(row, threads)),
      keepId: rows[0]?.id ?? 0,
      rows: [],
      reasons: [],
      lines: [],
      stopsKept: [],
      threads,
      stale,
    };
  const ids = rows.map(({ id }) => id);
  const frozen = await currentModel(database.db);
  const plan = planMerge({
    members: rows,
    choices: {},
    catalogue: await loadCatalogue(database.db),
    timeOf: timeTeller(threads),
    ...weighingOf(await mergeRules(database.db), threads, frozen?.model),
    run: 0,
  });
  const named = await withNames(
    database,
    plan.rows.flatMap((row) => [...row.result, ...row.cells.flatMap((cell) => cell.values)]),
  );
  return {
    group: summary,
    elsewhere,
    members: rows.map((row) => memberOf(row, threads)),
    keepId: plan.keepId,
    rows: plan.rows.map((row) => ({
      ...row,
      result: row.result.map(named),
      cells: row.cells.map((cell) => ({ ...cell, values: cell.values.map(named) })),
    })),
    reasons:
      group.kind === 'organization'
        ? await organizationReasons(wholeBook(database), rows)
        : frozen
          ? reasonsOf(frozen, rows)
          : [],
    lines: group.kind === 'person' ? linesInCommon(rows.map((row) => preparePerson(factsOf(row.record)))) : [],
    stopsKept: (await stopsKept(database.pool, ids)).rows.map(({ channel, at, allowed_at: allowedAt }) => ({
      channel,
      at: at.toISOString(),
      allowedAt: allowedAt.toISOString(),
    })),
    threads,
    stale,
  };
}

/** How many live records of a group are outside the remit of whoever asks. */
async function membersElsewhere(database: Pick<Database, 'roots' | 'actor'>, { memberIds }: GroupRow): Promise<number> {
  if (!seesPart(database.actor)) return 0;
  const whole = wholeBook(database);
  const { rows } = await liveIds(whole.pool, memberIds);
  const { others } = await partedBySight(whole, rows, ({ id }) => id);
  return others.length;
}

/** Refuses to decide on a group of which whoever asks does not see every record. */
export async function requireWholeGroup(database: Pick<Database, 'roots' | 'actor'>, group: GroupRow): Promise<void> {
  const count = await membersElsewhere(database, group);
  if (count) throw refuseGroup.outsideRemit({ count });
}

/**
 * Says that the records of a group are one, to whoever may merge them: for somebody who does not see all of them. Nothing is written
 * to a contact.
 */
export async function proposeMerge(database: Database, groupId: number): Promise<void> {
  const by = accountIdOf(database.actor);
  const proposed = await database.db
    .update(matchGroup)
    .set({ proposedBy: by })
    .where(sql`${matchGroup.id} = ${groupId} and ${matchGroup.state} in ('open', 'later')`)
    .returning({ id: matchGroup.id });
  if (!proposed.length) throw refuseGroup.noSuchGroup();
  await tell(database.pool, { topic: 'groups' });
}

async function whoDecided({ pool }: Database, { decidedRun }: GroupRow): Promise<string> {
  const { rows } = await whoDecidedRun(pool, decidedRun);
  return rows[0]?.name ?? 'Somebody';
}

function memberOf(row: LiveRow, threads: MatchBoard['threads']): MatchBoard['members'][number] {
  const written = runsIn(row.record).sort((a, b) => b - a)[0];
  return {
    id: row.id,
    version: row.version,
    name: displayNameOf(row.record),
    thread: threads[written ?? row.last_run] ?? null,
    touchedAt: row.touched_at.toISOString(),
  };
}

/** Why people are taken for one, under a frozen model. */
export function reasonsOf(frozen: FrozenModel, rows: readonly LiveRow[]): MatchBoard['reasons'] {
  const people = rows.map((row) => ({ id: row.id, person: preparePerson(factsOf(row.record)) }));
  const reasons: MatchBoard['reasons'] = [];
  people.forEach((x, i) => {
    for (const y of people.slice(i + 1)) {
      reasons.push({
        a: x.id,
        b: y.id,
        bits: scorePair(frozen.model, x.person, y.person).bits,
        reasons: explainPair(frozen.model, x.person, y.person),
      });
    }
  });
  return reasons;
}
