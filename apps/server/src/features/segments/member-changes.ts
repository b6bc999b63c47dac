import {
  looksAt,
  NOTHING_ELSE,
  predicateOf,
  type Condition,
  type Predicate,
  type Subject,
} from '@gray-loom/core/segments';
import type { Tx } from '../../db/connect';
import { tell } from '../../feed/events';
import type { Consumer } from '../../feed/consumer';
import type { Change } from '../../feed/read-changes';
import { Refusal } from '../../http/refusal';
import { countConditions, readyCondition, today, wholeCondition } from '../contacts';
import { factsOfContacts, meetingAmong, membersAmong, writeMoves, type Move } from './statements/members';
import { allSegments, lockMembers, stampOf } from './statements/segments';

/** A segment made ready to be asked of contacts that changed. */
interface Ready {
  id: number;
  kind: 'person' | 'organization';
  condition: Condition;
  looksAt: ReadonlySet<string>;
  /** Null where only the database can tell. */
  predicate: Predicate | null;
}

/** Subjects that the facts and columns of a contact answer. */
const KNOWN: ReadonlySet<string> = new Set(['@created', '@changed', '@complete', '@area']);
/** Subjects that any change of a contact may move. */
const MOVED_BY_ALL: ReadonlySet<string> = new Set(['@changed', '@complete', '@run', '@thread', '@find', '@overdue']);
/** Subjects that an activity moves. */
const OF_ACTIVITY = ['@activity', '@touch', '@touchBy', '@overdue'];
/** Fields by which everybody may enter or leave. */
const OF_ALL: ReadonlySet<string> = new Set(['lifecycle', 'kind']);

class ReadySegments {
  private stamp = '';
  private segments: Ready[] = [];
  private byField = new Map<string, Ready[]>();
  private ofEveryChange: Ready[] = [];

  /** Reads the segments, where they are others than they were. */
  async load({ client }: Tx): Promise<void> {
    const day = today();
    const { rows } = await stampOf(client);
    const stamp = `${day}/${rows[0]?.stamp}`;
    if (stamp === this.stamp) return;
    const segments: Ready[] = [];
    for (const { id, kind, condition, reviewed_at } of (await allSegments(client)).rows) {
      // Everybody is about to be held against it anyway.
      if (!reviewed_at) continue;
      const whole = await wholeOrNothing(client, condition, id);
      if (!whole) continue;
      const fields = looksAt(whole);
      const isKnown = [...fields].every((field) => !field.startsWith('@') || KNOWN.has(field));
      segments.push({
        id,
        kind,
        condition: whole,
        looksAt: fields,
        predicate: isKnown ? predicateOf(whole, day) : null,
      });
    }
    this.byField = new Map();
    for (const one of segments)
      for (const field of one.looksAt) this.byField.set(field, [...(this.byField.get(field) ?? []), one]);
    this.ofEveryChange = segments.filter((one) => [...one.looksAt].some((field) => MOVED_BY_ALL.has(field)));
    this.segments = segments;
    this.stamp = stamp;
  }

  /** Segments that a change can move somebody into or out of. */
  touchedBy({ kind, fields }: Change): readonly Ready[] {
    if (kind === 'permission') return this.byField.get('@permission') ?? [];
    if (kind === 'activity') return [...new Set(OF_ACTIVITY.flatMap((field) => this.byField.get(field) ?? []))];
    if (fields === null || fields.some((field) => OF_ALL.has(field))) return this.segments;
    const touched = new Set(this.ofEveryChange);
    const add = (field: string) => this.byField.get(field)?.forEach((one) => touched.add(one));
    for (const field of fields) {
      add(field);
      if (field === 'adr') add('@area');
      if (field === 'email' || field === 'tel') add('@permission');
    }
    return [...touched];
  }
}

/** The condition with its segments in their place; null of one that cannot be worked out. */
async function wholeOrNothing(client: Tx['client'], condition: Condition, id: number): Promise<Condition | null> {
  try {
    return await wholeCondition(client, condition, [id]);
  } catch (error) {
    if (error instanceof Refusal) return null;
    throw error;
  }
}

const ready = new ReadySegments();

/** Works out who entered and who left by some changes, and writes it with the change that caused it. */
async function followChanges(tx: Tx, changes: readonly Change[]): Promise<void> {
  const { client } = tx;
  // Before the segments are read: none may be changed and reviewed between that and what is written here.
  await lockMembers(client);
  await ready.load(tx);
  // The last change of somebody that can have moved them.
  const asked = new Map<Ready, Map<number, Change>>();
  for (const change of changes)
    for (const one of ready.touchedBy(change)) {
      const by = asked.get(one) ?? new Map<number, Change>();
      asked.set(one, by.set(change.contactId, change));
    }
  if (!asked.size) return;
  const contactIds = [...new Set([...asked.values()].flatMap((by) => [...by.keys()]))];
  const kept = new Set(
    (
      await membersAmong(
        client,
        [...asked.keys()].map(({ id }) => id),
        contactIds,
      )
    ).rows.map((row) => `${row.segment_id}.${row.contact_id}`),
  );
  const subjects = new Map(
    (await factsOfContacts(client, contactIds)).rows.map(({ id, who, facts, created_ms, changed_ms, ...row }) => [
      id,
      { who, subject: { ...NOTHING_ELSE, ...row, facts, createdMs: created_ms, changedMs: changed_ms } as Subject },
    ]),
  );
  const moves: Move[] = [];
  for (const [one, by] of asked) {
    const isIn = one.predicate ? null : await askDatabase(tx, one, [...by.keys()]);
    const who = one.kind === 'person' ? 1 : 2;
    for (const [contactId, change] of by) {
      const known = subjects.get(contactId);
      const meets = isIn ? isIn.has(contactId) : known?.who === who && one.predicate?.(known.subject) === true;
      if (meets !== kept.has(`${one.id}.${contactId}`))
        moves.push({ segmentId: one.id, contactId, entered: meets, changeId: change.id, runId: change.runId });
    }
  }
  if (!moves.length) return;
  await writeMoves(client, moves);
  await tell(client, { topic: 'segments' });
}

async function askDatabase({ client }: Tx, { kind, condition }: Ready, ids: readonly number[]): Promise<Set<number>> {
  const values: unknown[] = [];
  const filter = { find: '', kind, deleted: false, ...(await readyCondition(client, condition)) };
  const parts = countConditions(filter, (value) => `$${values.push(value)}`);
  return new Set((await meetingAmong(client, { ...parts, values }, ids)).rows.map(({ id }) => id));
}

/** Keeps who is in which segment, and notes who enters and leaves. */
export const segmentMembers: Consumer = {
  name: 'segmentMembers',
  sentence: 'Notes who enters and leaves segments, and by which change.',
  from: 'now',
  batch: 2000,
  handle: followChanges,
};
