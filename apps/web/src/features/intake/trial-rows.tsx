import { showValue } from '@gray-loom/core/fields';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { IntakeDetail, RowOutcome, TrialRow } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Failed, Loading } from '../../ui/controls';
import { count } from '../../ui/when';

const TITLES: Record<RowOutcome, string> = {
  new: 'New people',
  fill: 'People here whose blanks would be filled',
  replace: 'People here whose values would be replaced',
  same: 'People here whom the file tells nothing new about',
  fold: 'Rows that fold into an earlier row of the same person',
  held: 'Rows that would be held',
};

/** The rows of one outcome of a trial, with before and after. */
export function TrialRows({
  detail,
  outcome,
  total,
  onClose,
}: {
  detail: IntakeDetail;
  outcome: RowOutcome;
  total: number;
  onClose: () => void;
}) {
  const rows = useQuery({
    queryKey: ['trial', detail.id, detail.trialRun, outcome],
    queryFn: () => api.get<TrialRow[]>(`/intakes/${detail.id}/trial?outcome=${outcome}`),
  });
  return (
    <section
      aria-label={TITLES[outcome]}
      className="max-h-[45%] shrink-0 overflow-y-auto border-t border-strong bg-page"
    >
      <div className="sticky top-0 flex items-baseline gap-3 border-b border-hair bg-page px-3.5 py-1.5">
        <h2 className="font-semibold">{TITLES[outcome]}</h2>
        <span className="text-ink2">
          {rows.data && rows.data.length < total
            ? `the first ${count(rows.data.length)} of ${count(total)}`
            : count(total)}
        </span>
        <button type="button" className="link ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      {rows.isPending ? <Loading what="the rows" /> : null}
      {rows.error ? <Failed error={rows.error} retry={() => void rows.refetch()} /> : null}
      <table className="w-full text-[13px]">
        <tbody>
          {rows.data?.map((row) => (
            <tr key={row.row} className="border-b border-hair align-top">
              <th scope="row" className="w-14 px-3.5 py-1 text-right font-normal text-ink3">
                {row.row}
              </th>
              <td className="w-[26%] truncate px-2 py-1 font-mono text-[12px] text-ink2">
                {row.cells.filter(Boolean).slice(0, 4).join(' · ')}
              </td>
              <td className="px-2 py-1">
                <RowWords row={row} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function RowWords({ row }: { row: TrialRow }) {
  return (
    <div className="space-y-0.5">
      {row.contactId ? (
        <Link to={`/contacts/${row.contactId}`} className="link">
          {row.contactName}
        </Link>
      ) : null}
      {row.changes.map((change, i) => (
        <div key={i}>
          <span className="text-ink2">{change.name}</span>{' '}
          {change.before ? (
            <del className="text-ink3">{showValue(change.field, change.before)}</del>
          ) : (
            <span className="text-ink3">blank</span>
          )}{' '}
          → {change.after ? showValue(change.field, change.after) : 'removed'}
        </div>
      ))}
      {row.values.length ? <div>{row.values.map((value) => `${value.name} ${value.text}`).join(' · ')}</div> : null}
      {row.issues.map((issue) => (
        <div key={issue} className={row.outcome === 'held' ? 'text-alarm' : 'text-ink3'}>
          {issue}
        </div>
      ))}
    </div>
  );
}
