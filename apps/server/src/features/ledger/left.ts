import type { LeftAsIs } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import type { GroupLeft, LeftNote } from '../../runs/statements/append-left';
import { leftByRun, namesOfLeft } from './statements/ledger';

const SHOWN = 200;

const GROUP_WORDS: Record<GroupLeft, string> = {
  decided: 'somebody decided it meanwhile',
  gone: 'a scan meanwhile found other groups',
  lessCertain: 'it is certain no more',
  recordGone: 'one of its records was deleted or merged meanwhile',
  keptApart: 'two of its records are kept apart by now',
  recordsChanged: 'compared anew, its records are certain no more',
};

function whyInWords(note: LeftNote): string {
  if ('why' in note) return GROUP_WORDS[note.why];
  return note.values === 1 ? 'it was changed since' : `${note.values} values were changed since`;
}

/** What a run left as it was, and why: contacts that an undo could not put back, groups that a batch did not merge. */
export async function leftAsIs({ pool }: Database, runId: number): Promise<LeftAsIs[]> {
  const { rows } = await leftByRun(pool, runId);
  const left = (rows[0]?.left ?? []).slice(0, SHOWN);
  const contacts = left.flatMap((note) => ('contactId' in note ? [note.contactId] : []));
  const groups = left.flatMap((note) => ('groupId' in note ? [note.groupId] : []));
  const named = await namesOfLeft(pool, contacts, groups);
  const nameOf = new Map(named.rows.map(({ of, id, name }) => [`${of} ${id}`, name]));
  return left.map((note): LeftAsIs => {
    const [of, id] = 'groupId' in note ? (['group', note.groupId] as const) : (['contact', note.contactId] as const);
    return { of, id, name: nameOf.get(`${of} ${id}`) ?? '', why: whyInWords(note) };
  });
}
