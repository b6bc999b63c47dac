import {
  believedModel,
  DEFAULT_THRESHOLDS,
  factsOf,
  indexKeys,
  keyHash,
  preparePerson,
  scorePair,
  type MatchModel,
  type MatchPerson,
} from '@gray-loom/core/matching';
import { applyOperations, emptyRecord, type ContactRecord } from '@gray-loom/core/model';
import {
  LABELS,
  planPair,
  type Capabilities,
  type Identity,
  type OutsideRecord,
  type SyncContext,
  type SyncLine,
  type SyncSetup,
} from '@gray-loom/core/syncing';
import { blockedAmong, identifiedBy } from '../../book/blocked';
import type { Database } from '../../db/connect';
import { currentModel } from '../duplicates';
import { candidatesByKeys, peopleToCompare } from './statements/sync-identifier';

interface IdentifierOptions {
  setup: SyncSetup;
  capabilities: Capabilities;
  context: SyncContext;
}

/** Says who records over there are, by the matching engine under the model in force. */
export class SyncIdentifier {
  private constructor(
    private readonly database: Database,
    private readonly options: IdentifierOptions,
    private readonly model: MatchModel,
  ) {}

  static async under(database: Database, options: IdentifierOptions): Promise<SyncIdentifier> {
    const current = await currentModel(database.db);
    return new SyncIdentifier(database, options, current?.model ?? believedModel(DEFAULT_THRESHOLDS));
  }

  async identify(records: readonly OutsideRecord[]): Promise<Identity[]> {
    if (!records.length) return [];
    const theirs = records.map((record) => this.recordOf(record));
    const people = theirs.map((record) => preparePerson(factsOf(record)));
    const found = await this.candidates(people);
    const erased = await blockedAmong(this.database.pool, () =>
      people.map((person, i) => identifiedBy(person, theirs[i]?.f.externalId)),
    );
    const { model } = this;
    return people.map((person, i): Identity => {
      const scored = (found[i] ?? [])
        .map(({ id, state, other }) => ({ id, state, ...scorePair(model, person, other) }))
        .sort((a, b) => Number(b.state === 'live') - Number(a.state === 'live') || b.bits - a.bits);
      const certain = scored.filter(({ band, state }) => band === 'certain' && state === 'live');
      if (certain.length === 1 && certain[0]) return { who: 'one', contactId: certain[0].id };
      if (erased[i] !== undefined) return { who: 'erased' };
      const likely = scored.filter(({ band, state }) => (band === 'certain' || band === 'likely') && state === 'live');
      if (likely.length)
        return {
          who: 'ask',
          contactIds: likely.slice(0, 5).map(({ id }) => id),
          band: likely[0]?.band === 'certain' ? 'certain' : 'likely',
        };
      const deleted = scored.find(({ band }) => band === 'certain');
      return deleted ? { who: 'one', contactId: deleted.id } : { who: 'nobody' };
    });
  }

  /** A record over there as a contact here, by all lines, whatever their direction. */
  private recordOf(theirs: OutsideRecord): ContactRecord {
    const { setup, capabilities, context } = this.options;
    const lines = setup.lines
      .filter((line) => line.fixed === undefined && line.outside !== LABELS)
      .map((line): SyncLine => ({ ...line, direction: 'in', rule: 'fill' }));
    const plan = planPair({
      id: 0,
      record: emptyRecord(),
      stopped: [],
      changedAtMs: () => 0,
      theirs,
      base: null,
      lines,
      capabilities,
      context,
      clock: { aheadMs: 0, errorMs: 0 },
      run: 0,
    });
    const applied = applyOperations(emptyRecord(), plan.operations);
    return applied.ok ? applied.value : emptyRecord();
  }

  private async candidates(
    people: readonly MatchPerson[],
  ): Promise<{ id: number; state: string; other: MatchPerson }[][]> {
    const at: number[] = [];
    const keys: string[] = [];
    people.forEach((person, i) => {
      for (const key of indexKeys(person)) {
        at.push(i);
        keys.push(String(keyHash(key)));
      }
    });
    const { rows } = await candidatesByKeys(this.database.pool, at, keys);
    const ids = [...new Set(rows.map((row) => row.contact_id))];
    const contacts = await peopleToCompare(this.database.pool, ids);
    const prepared = new Map(
      contacts.map(({ id, state, record }) => [id, { id, state, other: preparePerson(factsOf(record)) }]),
    );
    const found: { id: number; state: string; other: MatchPerson }[][] = people.map(() => []);
    for (const { n, contact_id: id } of rows) {
      const one = prepared.get(id);
      if (one) found[n]?.push(one);
    }
    return found;
  }
}
