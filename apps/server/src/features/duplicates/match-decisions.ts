import {
  bandOf,
  correctionBits,
  DECISIONS_NEEDED,
  evidenceBits,
  factsOf,
  learnCorrections,
  preparePerson,
  rulingOf,
  scorePair,
  type Decision,
  type MatchModel,
} from '@gray-loom/core/matching';
import type { LearningLook } from '@gray-loom/wire';
import { eq } from 'drizzle-orm';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { matchDecision, setting } from '../../db/schema';
import { refuse } from './refusals';
import { currentModel } from './match-groups';
import { LEARNED, readSetting, type Learned } from './match-settings';
import { startScan } from './match-scan';
import { handThread, startRun } from '../../runs/runs';
import { recordsOf } from '../../book/statements/contact-records';
import { liveRecordsOf } from '../../book/statements/contact-records';
import { latestDecisions, groupsToLearnFrom, type Member } from './statements/match-decisions';

/**
 * Keeps how pairs compare that a person decides on, as they are before the decision is carried out. Pairs that a rule settles
 * (two birthdays, Jr and Sr) teach nothing about weights. A run that is taken back counts no more.
 */
export async function keepDecisions(
  tx: Tx,
  runId: number,
  kind: 'person' | 'organization',
  pairs: readonly (readonly [Member, Member])[],
  same: boolean,
): Promise<void> {
  const frozen = kind === 'person' ? await currentModel(tx.db) : null;
  if (!frozen) return;
  const rows = pairs.flatMap(([x, y]) => {
    const { comparison } = scorePair(frozen.model, preparePerson(factsOf(x.record)), preparePerson(factsOf(y.record)));
    const ruling = rulingOf(frozen.model, comparison)?.ruling;
    if (ruling === 'otherBirthday' || ruling === 'otherGeneration') return [];
    return [
      {
        runId,
        a: Math.min(x.id, y.id),
        b: Math.max(x.id, y.id),
        same,
        levels: comparison.levels,
        bits: evidenceBits(frozen.model, comparison),
      },
    ];
  });
  if (rows.length) await tx.db.insert(matchDecision).values(rows).onConflictDoNothing();
}

/** Every pair of some members once. */
export const pairsOf = (members: readonly Member[]): [Member, Member][] =>
  members.flatMap((x, i) => members.slice(i + 1).map((y): [Member, Member] => [x, y]));

/** Records of these ids as they stand now. */
export async function membersFor(tx: Tx, ids: readonly number[]): Promise<Member[]> {
  return recordsOf(tx.client, ids);
}

async function decisionsOf({ pool }: Pick<Database, 'pool'>): Promise<Decision[]> {
  const { rows } = await latestDecisions(pool);
  return rows;
}

const EXAMPLES = 12;

/** What would be learned from people's decisions, and which pairs that wait would move by it; nothing is written. */
export async function lookAtLearning(database: Database): Promise<LearningLook> {
  const decisions = await decisionsOf(database);
  const adopted = await readSetting<Learned>(database.db, LEARNED);
  const same = decisions.filter((one) => one.same).length;
  const look: LearningLook = {
    same,
    apart: decisions.length - same,
    needed: DECISIONS_NEEDED,
    adopted: adopted && { at: adopted.at, same: adopted.same, apart: adopted.apart },
    trial: null,
  };
  const corrections = learnCorrections(decisions);
  const frozen = corrections && (await currentModel(database.db));
  if (!corrections || !frozen) return look;
  const then: MatchModel = { ...frozen.model, corrections };
  const right = (model: MatchModel) =>
    decisions.filter(({ bits, levels, same: isOne }) => bits + correctionBits(model.corrections, levels) >= 0 === isOne)
      .length;
  look.trial = { right: { now: right(frozen.model), then: right(then) }, pairs: 0, moves: [], examples: [] };
  const groups = await groupsToLearnFrom(database.pool);
  const records = await liveRecordsOf(
    database.pool,
    groups.rows.flatMap((group) => group.member_ids),
  );
  const people = new Map(records.map(({ id, record }) => [id, preparePerson(factsOf(record))]));
  const moves = new Map<string, number>();
  for (const group of groups.rows) {
    const ids = group.member_ids.map(Number);
    for (const [i, a] of ids.entries())
      for (const b of ids.slice(i + 1)) {
        const [x, y] = [people.get(a), people.get(b)];
        if (!x || !y) continue;
        look.trial.pairs++;
        const now = scorePair(frozen.model, x, y);
        const after = scorePair(then, x, y);
        const [from, to] = [now, after].map(({ probability01 }) => bandOf(then, probability01));
        if (!from || !to || from === to) continue;
        moves.set(`${from} ${to}`, (moves.get(`${from} ${to}`) ?? 0) + 1);
        if (look.trial.examples.length < EXAMPLES)
          look.trial.examples.push({ groupId: group.id, name: group.name, from, to, bits: after.bits - now.bits });
      }
  }
  look.trial.moves = [...moves].map(([move, pairs]) => {
    const [from = '', to = ''] = move.split(' ');
    return { from, to, pairs };
  });
  return look;
}

/** Puts what was learned in force, and looks at everybody again by it. */
export async function adoptLearning(database: Database): Promise<{ scanId: number }> {
  const decisions = await decisionsOf(database);
  const corrections = learnCorrections(decisions);
  if (!corrections) throw refuse.tooFewDecisions(DECISIONS_NEEDED);
  const same = decisions.filter((one) => one.same).length;
  const value: Learned = { corrections, same, apart: decisions.length - same, at: new Date().toISOString() };
  return inTransaction(database, async (tx) => {
    await tx.db
      .insert(setting)
      .values({ key: LEARNED, value })
      .onConflictDoUpdate({ target: setting.key, set: { value } });
    await noteSetup(tx, `Matching learned from ${decisions.length} decisions`);
    return { scanId: await startScan(tx) };
  });
}

/** Weighs by the data alone again. */
export async function forgetLearning(database: Database): Promise<{ scanId: number }> {
  return inTransaction(database, async (tx) => {
    const gone = await tx.db.delete(setting).where(eq(setting.key, LEARNED)).returning({ key: setting.key });
    if (!gone.length) throw refuse.nothingLearned();
    await noteSetup(tx, 'Matching forgot what it had learned from decisions');
    return { scanId: await startScan(tx) };
  });
}

async function noteSetup(tx: Tx, title: string): Promise<void> {
  await startRun(tx, { kind: 'setup', state: 'done', threadId: await handThread(tx), title });
}
