import { displayNameOf } from '@gray-loom/core/fields';
import {
  bandOf,
  bitsOfProbability,
  explainOrganizations,
  matchOrganizations,
  OrganizationBook,
  organizationOf,
  type MatchOrganization,
} from '@gray-loom/core/matching';
import { firstText, type ContactRecord } from '@gray-loom/core/model';
import type { LikelyMatch, MatchBoard } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { currentModel, keptApartPairs, pairKey, settleGroups } from './match-groups';
import { matchSettings } from './match-settings';
import { liveOrganizations, openOrganizationGroups } from './statements/match-organizations';

interface Known {
  id: number;
  record: ContactRecord;
  prepared: MatchOrganization;
}

interface Book {
  all: Known[];
  book: OrganizationBook;
}

/** How long a book that was read serves checks while one types. */
const FRESH_MS = 10_000;
let books = new WeakMap<Database['pool'], { at: number; book: Promise<Book> }>();

/** Lets go of what was read, since some contact changed. */
export function forgetOrganizations(): void {
  books = new WeakMap();
}

async function readBook({ pool }: Pick<Database, 'pool'>): Promise<Book> {
  const rows = await liveOrganizations(pool);
  const all = rows.map((row) => ({ ...row, prepared: organizationOf(row.record) }));
  return { all, book: new OrganizationBook(all.map(({ prepared }) => prepared)) };
}

/** All organizations, read anew when they were last read a while ago. */
function bookOf(database: Pick<Database, 'pool'>): Promise<Book> {
  const kept = books.get(database.pool);
  if (kept && Date.now() - kept.at < FRESH_MS) return kept.book;
  const book = readBook(database);
  books.set(database.pool, { at: Date.now(), book });
  book.catch(() => books.delete(database.pool));
  return book;
}

const SHOWN = 5;
const rounded = (bits: number) => Math.round(bits * 10) / 10;

/** Organizations that one being typed may be, with reasons. */
export async function likelyOrganizations(database: Database, typed: ContactRecord): Promise<LikelyMatch[]> {
  const { thresholds } = await matchSettings(database.db);
  const { all, book } = await bookOf(database);
  const prepared = organizationOf(typed);
  return book
    .likely(prepared, bitsOfProbability(thresholds.possible))
    .slice(0, SHOWN)
    .flatMap(({ at, bits }): LikelyMatch[] => {
      const one = all[at];
      const band = bandOf({ thresholds }, 1 / (1 + 2 ** -bits));
      if (!one || band === 'apart') return [];
      const { id, record } = one;
      return [
        {
          contactId: id,
          name: displayNameOf(record),
          email: firstText(record, 'email'),
          tel: firstText(record, 'tel'),
          stage: firstText(record, 'stage'),
          owner: firstText(record, 'owner'),
          band,
          reasons: explainOrganizations(book.model, prepared, one.prepared)
            .filter(({ field }) => field !== 'prior')
            .map(({ field, text, bits: weight }) => ({ field, text, bits: rounded(weight) })),
        },
      ];
    });
}

/** Checks one organization against all others and puts it in a group with those it may be, together with open groups it touches. */
export async function checkOrganization(database: Database, id: number): Promise<void> {
  books.delete(database.pool);
  const frozen = await currentModel(database.db);
  if (!frozen) return;
  const least = bitsOfProbability(frozen.model.thresholds.possible);
  const { all, book } = await bookOf(database);
  const own = all.find((one) => one.id === id);
  const near = own ? book.likely(own.prepared, least).flatMap(({ at }) => all[at]?.id ?? []) : [];
  if (near.length < 2) return;
  const open = await openOrganizationGroups(database.pool, near);
  const wanted = new Set([...near, ...open.rows.flatMap((row) => row.member_ids.map(Number))]);
  const members = all.filter((one) => wanted.has(one.id));
  const apart = await keptApartPairs(database);
  const { groups } = matchOrganizations(
    members.map(({ prepared }) => prepared),
    least,
    (a, b) => apart.has(pairKey(members[a]?.id ?? 0, members[b]?.id ?? 0)),
    book.model,
  );
  await settleGroups(
    database,
    frozen,
    groups.map((group) => ({
      memberIds: group.members.map((i) => members[i]?.id ?? 0),
      bits: group.weakestBits,
    })),
    open.rows.map((row) => row.id),
    'organization',
  );
}

/** Why organizations are taken for one, against all organizations there are now. */
export async function organizationReasons(
  database: Pick<Database, 'pool'>,
  rows: readonly { id: number; record: ContactRecord }[],
): Promise<MatchBoard['reasons']> {
  const { book } = await bookOf(database);
  const these = rows.map((row) => ({ id: row.id, prepared: organizationOf(row.record) }));
  return these.flatMap((x, i) =>
    these.slice(i + 1).map((y) => {
      const reasons = explainOrganizations(book.model, x.prepared, y.prepared).map((reason) => ({
        ...reason,
        bits: rounded(reason.bits),
      }));
      return { a: x.id, b: y.id, bits: reasons.reduce((sum, reason) => sum + reason.bits, 0), reasons };
    }),
  );
}
