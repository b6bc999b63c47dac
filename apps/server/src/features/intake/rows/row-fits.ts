import type { Issue } from '@gray-loom/core/model';
import type { RowFit } from '@gray-loom/wire';
import type { Database } from '../../../db/connect';
import { contactsToChoose } from './statements/row-fits';

/** Contacts that a row may be, where that is why it is held. */
export function fitsOf(issues: readonly Issue[]): number[] {
  const ids = issues.flatMap((issue) =>
    issue.code === 'sharedIdentifier' ||
    issue.code === 'severalMatches' ||
    issue.code === 'likelyMatch' ||
    issue.code === 'uniqueClash'
      ? issue.contactIds
      : issue.code === 'wasDeleted' || issue.code === 'changeNotAllowed' || issue.code === 'wouldReplace'
        ? [issue.contactId]
        : issue.code === 'wouldAllow' && issue.contactId !== null
          ? [issue.contactId]
          : [],
  );
  return [...new Set(ids)];
}

/** Contacts by name and by what tells them apart; who is no longer here goes by the number alone. */
export class FitNames {
  private constructor(private readonly known: ReadonlyMap<number, { name: string; about: string; deleted: boolean }>) {}

  static async load({ pool }: Database, ids: readonly number[]): Promise<FitNames> {
    const { rows } = await contactsToChoose(pool, ids);
    return new FitNames(new Map(rows.map(({ id, ...known }) => [id, known])));
  }

  nameOf(id: number): string | null {
    return this.known.get(id)?.name ?? null;
  }

  of(ids: readonly number[]): RowFit[] {
    return ids.map((contactId) => ({
      contactId,
      name: this.nameOf(contactId) ?? `contact ${contactId}`,
      about: this.known.get(contactId)?.about ?? '',
      deleted: this.known.get(contactId)?.deleted ?? false,
    }));
  }
}
