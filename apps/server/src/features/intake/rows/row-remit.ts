import { areaOfRecord, countedOf, type Catalogue } from '@gray-loom/core/fields';
import type { Issue } from '@gray-loom/core/model';
import { recordFrom, type Candidate } from '@gray-loom/core/writing';
import type { Mapping } from '@gray-loom/core/mapping';
import { seesPart, type RemitParts } from '../../../db/actor';
import type { Database } from '../../../db/connect';
import { isWithin } from '../../../db/remits';
import { loadDerivation, type Derivation } from '../../../book/derivation';
import { loadCatalogue } from '../../../book/picks';
import { seenAmong } from '../../../book/seen';

/**
 * What the rows of a file may do that somebody with a remit brings in: touch who is within it, and make people who are. Everybody
 * else is recognised all the same, so that nobody comes in twice, and their rows wait for whoever may decide.
 */
export class RowRemit {
  private constructor(
    private readonly database: Database,
    private readonly parts: RemitParts,
    private readonly catalogue: Catalogue,
    private readonly derivation: Derivation,
  ) {}

  /** Null for an actor who sees everybody. `database` is as the actor reads it. */
  static async load(database: Database): Promise<RowRemit | null> {
    const { actor, db, pool } = database;
    if (!seesPart(actor)) return null;
    return new RowRemit(database, actor.remit, await loadCatalogue(db), await loadDerivation(pool));
  }

  /** Which of some contacts are within the remit. */
  seen(ids: readonly number[]): Promise<ReadonlySet<number>> {
    return seenAmong(this.database, ids);
  }

  /** Whether what a row would make is within the remit. */
  holds(candidate: Candidate): boolean {
    const record = recordFrom(candidate, this.catalogue, { run: 0 });
    return isWithin(this.parts, { ...countedOf(record), area: areaOfRecord(record, this.derivation.areas) });
  }
}

/** Contacts that an issue names. */
export function namedIn(issue: Issue): number[] {
  if ('contactIds' in issue) return issue.contactIds;
  return 'contactId' in issue && issue.contactId !== null ? [issue.contactId] : [];
}

/** An issue as somebody may read it who sees only some of the contacts it names. */
export function withoutOthers(issue: Issue, seen: ReadonlySet<number>): Issue {
  const named = namedIn(issue);
  const known = named.filter((id) => seen.has(id));
  if (known.length === named.length) return issue;
  if ('contactIds' in issue && known.length) return { ...issue, contactIds: known };
  return { code: 'outsideRemit', path: issue.path };
}

/** Whoever brings in their own people is the owner of those who have none. */
export function ownedByWhoBrings(mapping: Mapping, { actor }: Pick<Database, 'actor'>): Mapping {
  if (!seesPart(actor) || mapping.wholeFile.owner || !actor.remit.owners.includes(actor.name)) return mapping;
  return { ...mapping, wholeFile: { ...mapping.wholeFile, owner: actor.name } };
}
