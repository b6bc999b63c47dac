import { showValue, type Catalogue } from '@gray-loom/core/fields';
import { writeRuleOf, type Mapping } from '@gray-loom/core/mapping';
import {
  applyOperations,
  LIFECYCLE,
  lifecycleOf,
  type ContactRecord,
  type Issue,
  type Operation,
} from '@gray-loom/core/model';
import { planWrite, recordFrom, type Candidate, type WriteRule } from '@gray-loom/core/writing';
import { loadCatalogue } from '../../../book/picks';
import type { Queryable, Tx } from '../../../db/connect';
import type { RowOutcome } from '../../../db/schema';
import { OpportunityPlanner } from '../../opportunities';
import { NO_WORDS, type RowWords } from './row-plan';
import { timesOfRuns } from './statements/row-values';

interface ValueParts {
  mapping: Mapping;
  catalogue: Catalogue;
  /** The run that writes. */
  runId: number;
  words?: RowWords;
  /** When runs began, in ms; needed where the newest value stands. */
  runTimes?: ReadonlyMap<number, number> | null;
}

/** What a row writes into a record that is there. */
export interface WrittenValues {
  operations: Operation[];
  outcome: RowOutcome;
  issues: Issue[];
  /** The record with the operations applied. */
  record: ContactRecord;
}

/**
 * What the values of a row become, whoever it is for: of somebody new, of a further row of one person, of somebody who is
 * here. The one place for the planning thread, the writing job, the trial and held rows; who a row is for is decided by
 * ImportPlanner.
 */
export class RowValues {
  readonly catalogue: Catalogue;
  private readonly mapping: Mapping;
  private readonly runId: number;
  private readonly words: RowWords;
  private readonly runTimes: ReadonlyMap<number, number> | null;
  private readonly ruleOf: ReturnType<typeof writeRuleOf>;

  static async load(
    { db, pool }: Pick<Tx, 'db'> & { pool: Queryable },
    mapping: Mapping,
    runId: number,
    words?: RowWords,
  ): Promise<RowValues> {
    const catalogue = await loadCatalogue(db);
    return new RowValues({ mapping, catalogue, runId, words, runTimes: await timesFor(pool, mapping) });
  }

  constructor({ mapping, catalogue, runId, words = NO_WORDS, runTimes = null }: ValueParts) {
    this.mapping = mapping;
    this.catalogue = catalogue;
    this.runId = runId;
    this.words = words;
    this.runTimes = runTimes;
    this.ruleOf = writeRuleOf(mapping);
  }

  /** Whether a person may have to be asked what becomes of a value that is there. */
  get asks(): boolean {
    return rulesOf(this.mapping).includes('ask');
  }

  /** Whether somebody said that the deleted contact of a row is to come back. */
  bringsBack(row: number): boolean {
    const choice = this.words.choices.get(row);
    return typeof choice === 'object' && choice.back === true;
  }

  /** The record of somebody new. */
  recordOf(candidate: Candidate, row: number): ContactRecord {
    return recordFrom(candidate, this.catalogue, { run: this.runId, row });
  }

  /** What becomes of the opportunities of the file. */
  opportunityPlanner(): OpportunityPlanner {
    return new OpportunityPlanner(this.mapping, this.catalogue, this.runId, (field) =>
      this.ruleOf(field) === 'fill' ? 'fill' : 'replace',
    );
  }

  /**
   * What a row writes into a record. Where a person is to be asked, the row is held and nothing is written; a further row of
   * one person (`folded`) asks nobody.
   */
  into(
    contactId: number,
    record: ContactRecord,
    candidate: Candidate,
    row: number,
    { folded = false } = {},
  ): WrittenValues {
    const choice = this.words.choices.get(row);
    const answer = typeof choice === 'object' ? choice.asked : folded ? 'keep' : null;
    const ruleOf = (field: string): WriteRule => {
      const rule = this.ruleOf(field);
      return rule === 'ask' && answer ? (answer === 'take' ? 'replace' : 'fill') : rule;
    };
    const { operations, replaced, filled, asked } = planWrite(contactId, record, candidate, ruleOf, this.catalogue, {
      run: this.runId,
      row,
      // A run that is not known has begun since: what it wrote is the newest.
      timeOfRun: (run) => this.runTimes?.get(run) ?? Number.POSITIVE_INFINITY,
    });
    if (asked.length) {
      const issues = asked.map(({ field, before, offered }): Issue => ({
        code: 'wouldReplace',
        before: showValue(field, before),
        value: showValue(field, offered),
        contactId,
        path: { row, name: this.catalogue.nameOf(field) },
      }));
      return { operations: [], outcome: 'held', issues, record };
    }
    const back = this.bringsBack(row) ? bringBack(contactId, record) : [];
    const outcome = replaced > 0 ? 'replace' : filled > 0 || back.length ? 'fill' : 'same';
    const all = [...back, ...operations];
    if (!all.length) return { operations, outcome, issues: [], record };
    const applied = applyOperations(record, all);
    if (!applied.ok) throw new Error(`row ${row}: a plan always applies to the record it was made for`);
    return { operations: all, outcome, issues: [], record: applied.value };
  }
}

/** What brings a contact back that was deleted; nothing for one that is here. */
function bringBack(contactId: number, record: ContactRecord): Operation[] {
  const before = record.f[LIFECYCLE]?.[0];
  return before && lifecycleOf(record)?.state === 'deleted'
    ? [{ target: contactId, field: LIFECYCLE, slot: 0, before, after: null }]
    : [];
}

const rulesOf = ({ writeRule, columns }: Mapping) => [writeRule, ...columns.map(({ rule }) => rule)];

/** When the runs that there are began, where a rule asks which value is newer. */
async function timesFor(pool: Queryable, mapping: Mapping): Promise<Map<number, number> | null> {
  if (!rulesOf(mapping).includes('newest')) return null;
  const { rows } = await timesOfRuns(pool);
  return new Map(rows.map(({ id, ms }) => [id, ms]));
}
