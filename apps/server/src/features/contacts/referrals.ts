import { displayNameOf, sumMoney } from '@gray-loom/core/fields';
import { isRelation, valuesOf } from '@gray-loom/core/model';
import type { Referral, Referrals } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { livingOf } from '../../book/related-contacts';
import { contactsWithReferrals, startsOfRuns } from './statements/referrals';

/** Contacts with referrals that are listed at once. */
const LIMIT = 5000;

/** Who referred whom, and what is owed for it in all: relationships "referred by" of the one side and "referred" of the other. */
export async function listReferrals(database: Database): Promise<Referrals> {
  const found = await contactsWithReferrals(database.pool, LIMIT + 1);
  const kept = found.slice(0, LIMIT).flatMap(({ id, record }) =>
    valuesOf(record, 'related').flatMap(({ v, run }) => {
      if (!isRelation(v) || (v.relation !== 'referred by' && v.relation !== 'referred')) return [];
      return [{ self: { id, name: displayNameOf(record) }, isReferrer: v.relation === 'referred', v, run }];
    }),
  );
  const others = await livingOf(
    database,
    kept.flatMap(({ v }) => v.to ?? []),
  );
  const { rows: runs } = await startsOfRuns(database.pool, [...new Set(kept.map(({ run }) => run))]);
  const startOf = new Map(runs.map(({ id, at }) => [id, at]));
  const rows = kept.flatMap(({ self, isReferrer, v, run }): Referral[] => {
    const there = v.to === null ? null : others.get(v.to);
    const other = there
      ? { id: there.id, name: displayNameOf(there.record) }
      : { id: null, name: v.name ?? 'somebody who is no longer here' };
    const [referrer, referred] = isReferrer ? [self, other] : [other, self];
    return [{ referrer, referred, owed: v.owed ?? null, fee: v.fee ?? '', at: startOf.get(run) ?? null }];
  });
  rows.sort((a, b) => a.referrer.name.localeCompare(b.referrer.name) || a.referred.name.localeCompare(b.referred.name));
  return { rows, sums: sumMoney(rows.flatMap(({ owed }) => owed ?? [])), more: found.length > LIMIT };
}
