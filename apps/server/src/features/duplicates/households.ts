import { and, eq, inArray } from 'drizzle-orm';
import { householdLine, householdName, salutation } from '@gray-loom/core/fields';
import { firstValue, isAddress, type AddressValue, type ContactRecord } from '@gray-loom/core/model';
import { addressesAgree } from '@gray-loom/core/writing';
import type { HouseholdEntry, HouseholdRequest, Households } from '@gray-loom/wire';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { household, run } from '../../db/schema';
import { tell } from '../../feed/events';
import { refuseHousehold } from './refusals';
import { memberKey } from './match-groups';
import { handThread, startRun } from '../../runs/runs';
import {
  membersWithRoots,
  countProposed,
  homesOfPeople,
  deleteSameHousehold,
  homesWithMembers,
} from './statements/households';

type Row = typeof household.$inferSelect;

/** A household before and after a change, for taking it back. */
interface Change {
  id: number;
  before: Row | null;
  after: Row | null;
}

interface Member {
  id: number;
  name: string;
  email: string;
  tel: string;
  record: ContactRecord;
}

type Queries = Database['pool'] | Tx['client'];

const LISTED = 500;

/** Whoever stands for the asked ids now: the taker of a merged one; nobody for one that was deleted. */
async function membersOf(client: Queries, ids: readonly number[]): Promise<Map<number, Member>> {
  if (!ids.length) return new Map();
  const rows = await membersWithRoots(client, [...new Set(ids)]);
  return new Map(rows.map(({ asked, display_name: name, ...row }) => [Number(asked), { ...row, name }]));
}

function livingOf({ memberIds }: Row, members: ReadonlyMap<number, Member>): Member[] {
  const living = new Map(memberIds.flatMap((id) => members.get(Number(id)) ?? []).map((one) => [one.id, one]));
  return [...living.values()];
}

const addressOf = (record: ContactRecord): AddressValue | null => {
  const value = firstValue(record, 'adr')?.v;
  return isAddress(value) ? value : null;
};

/** The line above the address of some of a household. */
export const lineOfHousehold = ({ name }: { name: string }, members: readonly { record: ContactRecord }[]) =>
  householdLine(
    members.map(({ record }) => record),
    name || null,
  );

function entryOf(row: Row, members: readonly Member[], joins: HouseholdEntry['joins']): HouseholdEntry {
  const address = members.map(({ record }) => addressOf(record)).find((one) => one !== null);
  const uses = new Map<string, { text: string; by: Set<Member> }>();
  for (const member of members)
    for (const field of ['tel', 'email'])
      for (const { norm, v } of member.record.f[field] ?? []) {
        const use = uses.get(norm ?? String(v)) ?? { text: String(v), by: new Set() };
        uses.set(norm ?? String(v), { ...use, by: use.by.add(member) });
      }
  return {
    id: row.id,
    name: row.name || householdName(members.map(({ record }) => record)),
    named: row.name !== '',
    members: members.map(({ id, name, email, tel }) => ({ id, name, email, tel })),
    address: address ? [address.street, address.locality, address.postalCode].filter(Boolean).join(', ') : '',
    shared: [...uses.values()].flatMap(({ text, by }) => (by.size > 1 ? [text] : [])),
    line: lineOfHousehold(row, members),
    joins,
  };
}

/** Households that wait for a person, and those that are kept. */
export async function listHouseholds(database: Database): Promise<Households> {
  const rows = await database.db
    .select()
    .from(household)
    .where(inArray(household.state, ['proposed', 'kept']))
    .orderBy(household.id)
    .limit(LISTED * 2);
  const members = await membersOf(
    database.pool,
    rows.flatMap(({ memberIds }) => memberIds.map(Number)),
  );
  const keptOf = new Map<number, Row>();
  for (const row of rows) if (row.state === 'kept') for (const { id } of livingOf(row, members)) keptOf.set(id, row);
  const answer: Households = { proposed: [], kept: [] };
  for (const row of rows) {
    const living = livingOf(row, members);
    if (row.state === 'kept') {
      answer.kept.push(entryOf(row, living, null));
      continue;
    }
    const homes = new Set(living.flatMap(({ id }) => keptOf.get(id) ?? []));
    // Nothing to decide where all of them are in one home by now, or fewer than two are left.
    const [home] = homes;
    if (living.length < 2 || homes.size > 1 || (home && living.every(({ id }) => keptOf.get(id) === home))) continue;
    const joins = home ? { id: home.id, name: entryOf(home, livingOf(home, members), null).name } : null;
    answer.proposed.push(entryOf(row, living, joins));
  }
  return answer;
}

/** Puts what a scan found in the place of what waited before; what was kept or refused is not asked again. */
export async function proposeHouseholds(tx: Tx, found: readonly (readonly number[])[]): Promise<number> {
  await tx.db.delete(household).where(eq(household.state, 'proposed'));
  for (let i = 0; i < found.length; i += 1000)
    await tx.db
      .insert(household)
      .values(
        found.slice(i, i + 1000).map((ids) => ({
          state: 'proposed' as const,
          memberKey: memberKey(ids),
          memberIds: [...ids],
        })),
      )
      .onConflictDoNothing();
  const { rows } = await countProposed(tx.client);
  return rows[0]?.n ?? 0;
}

async function requireHousehold(tx: Tx, id: number): Promise<Row> {
  const [row] = await tx.db.select().from(household).where(eq(household.id, id)).for('update');
  if (!row || row.state === 'refused') throw refuseHousehold.noHousehold();
  return row;
}

/** Writes changes and a run that they can be taken back by. */
async function note(tx: Tx, title: string, changes: Change[]): Promise<number> {
  const runId = await startRun(tx, {
    kind: 'household',
    state: 'done',
    threadId: await handThread(tx),
    title,
    detail: { households: changes },
  });
  await tell(tx.client, { topic: 'groups' });
  return runId;
}

async function put(tx: Tx, row: Row | null, id: number): Promise<void> {
  if (!row) await tx.db.delete(household).where(eq(household.id, id));
  else await tx.db.insert(household).values(row).onConflictDoUpdate({ target: household.id, set: row });
}

/** Kept households that one of these people is in, other than one. */
async function homesOf(tx: Tx, ids: readonly number[], exceptId: number | null): Promise<Row[]> {
  const { rows } = await homesOfPeople(tx.client, ids, exceptId);
  return rows.length
    ? tx.db
        .select()
        .from(household)
        .where(
          inArray(
            household.id,
            rows.map(({ id }) => id),
          ),
        )
        .for('update')
    : [];
}

/** Keeps people as a household: one that was proposed, one that is kept with other people or another name, or a new one. */
export async function keepHousehold(
  database: Database,
  id: number | null,
  { memberIds, name }: HouseholdRequest,
): Promise<{ id: number; runId: number }> {
  return inTransaction(database, async (tx) => {
    const before = id === null ? null : await requireHousehold(tx, id);
    const members = await membersOf(tx.client, memberIds);
    const living = new Map([...members.values()].map((one) => [one.id, one]));
    const gone = memberIds.filter((one) => !members.has(one));
    if (gone.length) throw refuseHousehold.gone();
    const others = await homesOf(tx, [...living.keys()], id);
    if (others.length > 1) throw refuseHousehold.severalHomes();
    const [home] = others;
    // Whoever is in a household already brings the others along.
    const ids = new Map([...(home?.memberIds ?? []).map(Number), ...living.keys()].map((one) => [one, true]));
    if (!home && living.size < 2) throw refuseHousehold.tooFew({ field: 'memberIds' });
    const kept = { state: 'kept' as const, memberIds: [...ids.keys()], memberKey: memberKey([...ids.keys()]) };
    const named = home ? home.name : name.trim();
    const changes: Change[] = [];
    let after: Row;
    const same = await tx.db.select().from(household).where(eq(household.memberKey, kept.memberKey)).for('update');
    // What was proposed or refused for just these people gives way.
    for (const row of same.filter((one) => one.id !== before?.id && one.id !== home?.id)) {
      changes.push({ id: row.id, before: row, after: null });
      await put(tx, null, row.id);
    }
    if (home) {
      if (before && before.id !== home.id) {
        changes.push({ id: before.id, before, after: null });
        await put(tx, null, before.id);
      }
      after = { ...home, ...kept };
      changes.push({ id: home.id, before: home, after });
      await put(tx, after, home.id);
    } else if (before) {
      after = { ...before, ...kept, name: named };
      changes.push({ id: before.id, before, after });
      await put(tx, after, before.id);
    } else {
      const [made] = await tx.db
        .insert(household)
        .values({ ...kept, name: named })
        .returning();
      if (!made) throw new Error('the household was not made');
      after = made;
      changes.push({ id: made.id, before: null, after: made });
    }
    const all = await membersOf(tx.client, after.memberIds.map(Number));
    const called = entryOf(after, livingOf(after, all), null).name;
    const was = before?.state === 'kept' || home;
    const runId = await note(tx, `${was ? 'Changed' : 'Household'}: ${called}`, changes);
    return { id: after.id, runId };
  });
}

/** Says that people are no household, or ends one that was kept. What was refused is not proposed again. */
export async function endHousehold(database: Database, id: number): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const before = await requireHousehold(tx, id);
    const members = await membersOf(tx.client, before.memberIds.map(Number));
    const after: Row = { ...before, state: 'refused' };
    await put(tx, after, id);
    const { name } = entryOf(before, livingOf(before, members), null);
    const title = before.state === 'kept' ? `Ended: ${name}` : `No household: ${name}`;
    return { runId: await note(tx, title, [{ id, before, after }]) };
  });
}

const isSame = (a: Row, b: Row | null) => a.state === b?.state && a.name === b.name && a.memberKey === b.memberKey;

/** Takes back what a run did to households, or does it again where the run took it back. */
export async function undoHouseholds(
  tx: Tx,
  target: { id: number; kind: string; undoOf: number | null },
): Promise<void> {
  const back = target.kind !== 'undo';
  const id = back ? target.id : target.undoOf;
  if (id === null) return;
  const [of] = await tx.db
    .select({ detail: run.detail })
    .from(run)
    .where(and(eq(run.id, id), eq(run.kind, 'household')));
  const changes = (of?.detail as { households?: Change[] } | undefined)?.households ?? [];
  for (const { id: householdId, before, after } of changes) {
    const [now] = await tx.db.select().from(household).where(eq(household.id, householdId)).for('update');
    const [from, to] = back ? [after, before] : [before, after];
    // A proposal that the next scan renewed is not in the way.
    if (now && now.state !== 'proposed' && !isSame(now, from)) throw refuseHousehold.changedSince();
    if (to) await deleteSameHousehold(tx.client, to.memberKey, to.id);
    await put(tx, to, householdId);
  }
}

/** The household a contact is in, with the line for letters and the salutation of those who live at its address. */
export async function householdOf(
  database: Pick<Database, 'pool'>,
  contactId: number,
): Promise<{
  id: number;
  name: string;
  named: boolean;
  members: { id: number; name: string }[];
  line: string;
  greeting: string;
} | null> {
  const found = (await householdsOf(database, [contactId])).get(contactId);
  if (!found) return null;
  const { row, members } = found;
  const own = members.find(({ id }) => id === contactId);
  const together = own ? livingTogether(own, members) : [];
  const [first, ...rest] = together;
  return {
    id: row.id,
    name: row.name || householdName(members.map(({ record }) => record)),
    named: row.name !== '',
    members: members.map(({ id, name }) => ({ id, name })),
    line: together.length > 1 ? lineOfHousehold(row, together) : '',
    greeting: first && rest.length ? salutation(first.record, ...rest.map(({ record }) => record)) : '',
  };
}

/** Those of a household who have a member's address, or none of their own. */
export function livingTogether(own: Member, members: readonly Member[]): Member[] {
  const home = addressOf(own.record);
  return members.filter(({ id, record }) => {
    const address = addressOf(record);
    return id === own.id || !home || !address || addressesAgree(home, address);
  });
}

/** Kept households by the contacts that are in them. */
export async function householdsOf(
  database: Pick<Database, 'pool'>,
  contactIds: readonly number[],
): Promise<Map<number, { row: Row; members: Member[] }>> {
  const { rows } = await homesWithMembers(database.pool, contactIds);
  const members = await membersOf(
    database.pool,
    rows.flatMap((row) => row.member_ids.map(Number)),
  );
  return new Map(
    rows.map(({ root, id, name, state, member_key, member_ids }) => {
      const row: Row = { id, name, state, memberKey: member_key, memberIds: member_ids.map(Number) };
      return [Number(root), { row, members: livingOf(row, members) }];
    }),
  );
}
