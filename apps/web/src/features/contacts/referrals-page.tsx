import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { showValue, sumMoney } from '@gray-loom/core/fields';
import type { MoneyValue } from '@gray-loom/core/model';
import type { Referral, Referrals } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';
import { useLists } from '../../app/lists';
import { Failed, Loading } from '../../ui/controls';
import { count, When } from '../../ui/when';
import { RecordKinds } from './record-kinds';

const inWords = (sums: readonly MoneyValue[]) => sums.map((sum) => showValue('', { v: sum })).join(' and ');

/** The referrals of each referrer, in the order of the list. */
function byReferrer(rows: readonly Referral[]): { referrer: Referral['referrer']; rows: Referral[] }[] {
  const groups = new Map<string, { referrer: Referral['referrer']; rows: Referral[] }>();
  for (const row of rows) {
    const key = row.referrer.id === null ? row.referrer.name : String(row.referrer.id);
    const group = groups.get(key);
    if (group) group.rows.push(row);
    else groups.set(key, { referrer: row.referrer, rows: [row] });
  }
  return [...groups.values()];
}

/** Who referred whom, and what is owed to each referrer and in all. */
export function ReferralsPage() {
  const lists = useLists();
  const referrals = useQuery({
    queryKey: keys.contacts('referrals'),
    queryFn: () => api.get<Referrals>('/referrals'),
  });
  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-hair px-3.5 py-2">
        <h1 className="sr-only">Referrals</h1>
        <RecordKinds current="referrals" lists={lists.data} />
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
        {referrals.isPending ? <Loading what="the referrals" /> : null}
        {referrals.error ? <Failed error={referrals.error} retry={() => void referrals.refetch()} /> : null}
        {referrals.data ? <List {...referrals.data} /> : null}
      </div>
    </div>
  );
}

function List({ rows, sums, more }: Referrals) {
  if (!rows.length)
    return (
      <p className="max-w-xl text-ink2">
        Nobody was referred yet. Open a contact, add a relationship "referred by", and say what the referrer is owed.
      </p>
    );
  return (
    <>
      <p className="pb-3">
        <strong className="font-semibold">
          {count(rows.length)} {rows.length === 1 ? 'referral' : 'referrals'}
        </strong>
        {sums.length ? `, fees of ${inWords(sums)} in all` : ', no fees as amounts yet'}
        {more ? '. More are here than are listed and summed.' : ''}
      </p>
      <table className="w-full max-w-4xl">
        <thead>
          <tr className="border-b-2 border-strong text-left text-[12.5px] text-ink2">
            <th className="py-1 font-normal">Referrer</th>
            <th className="py-1 font-normal">Referred</th>
            <th className="py-1 text-right font-normal">Fee</th>
            <th className="py-1 pl-6 font-normal">Terms</th>
            <th className="py-1 text-right font-normal">Written down</th>
          </tr>
        </thead>
        {byReferrer(rows).map(({ referrer, rows: own }) => (
          <tbody key={referrer.id ?? referrer.name} className="border-b border-strong">
            {own.map((row, i) => (
              <tr key={i} className="border-b border-hair align-baseline">
                <th scope={i ? undefined : 'rowgroup'} className="py-1 pr-3 text-left font-semibold">
                  {i ? null : <Side {...referrer} />}
                </th>
                <td className="py-1 pr-3">
                  <Side {...row.referred} />
                </td>
                <td className="py-1 text-right tabular-nums">{row.owed ? showValue('', { v: row.owed }) : ''}</td>
                <td className="py-1 pl-6 text-ink2">{row.fee}</td>
                <td className="py-1 text-right text-ink2">
                  {row.at ? (
                    <>
                      <When at={row.at} /> ago
                    </>
                  ) : null}
                </td>
              </tr>
            ))}
            {own.length > 1 ? (
              <tr className="bg-cloth">
                <td colSpan={2} className="py-1 text-ink2">
                  {count(own.length)} referred
                </td>
                <td className="py-1 text-right font-semibold tabular-nums">
                  {inWords(sumMoney(own.flatMap(({ owed }) => owed ?? [])))}
                </td>
                <td colSpan={2} />
              </tr>
            ) : null}
          </tbody>
        ))}
      </table>
    </>
  );
}

function Side({ id, name }: Referral['referrer']) {
  return id === null ? (
    <>{name}</>
  ) : (
    <Link className="link" to={`/contacts/${id}`}>
      {name}
    </Link>
  );
}
