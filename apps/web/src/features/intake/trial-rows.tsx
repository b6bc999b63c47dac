import { useMay } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { showValue } from '@gray-loom/core/fields';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { IntakeDetail, RowChoice, RowOutcome, TrialRow } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { count } from '../../ui/when';

/** Rows shown at first. */
const PAGE = 200;

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
  const [limit, setLimit] = useState(PAGE);
  const rows = useQuery({
    queryKey: keys.trial(detail.id, detail.trialRun, outcome, limit),
    queryFn: () => api.get<TrialRow[]>(`/intakes/${detail.id}/trial?outcome=${outcome}&limit=${limit}`),
    placeholderData: (before) => before,
  });
  const shown = rows.data?.length ?? 0;
  const touch = useTouch();
  const choose = useMutation({
    mutationFn: ({ row, choice }: { row: number; choice: RowChoice | null }) =>
      api.put(`/intakes/${detail.id}/rows/${row}/choice`, { choice }),
    onSettled: () => touch('intakes'),
  });
  return (
    <section
      aria-label={TITLES[outcome]}
      className="max-h-[45%] shrink-0 max-sm:max-h-[55%] max-sm:shrink overflow-y-auto border-t border-strong bg-page"
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
      <Fault error={choose.error} onClose={() => choose.reset()} />
      {rows.isPending ? <Loading what="the rows" /> : null}
      {rows.error ? <Failed error={rows.error} retry={() => void rows.refetch()} /> : null}
      <table className="w-full text-[13px] max-sm:block">
        <tbody className="max-sm:block">
          {rows.data?.map((row) => (
            <tr
              key={row.row}
              className="border-b border-hair align-top max-sm:grid max-sm:grid-cols-[3.5rem_minmax(0,1fr)]"
            >
              <th scope="row" className="w-14 px-3.5 py-1 text-right font-normal text-ink3">
                {row.row}
              </th>
              <td className="w-[26%] truncate px-2 py-1 max-sm:w-auto font-mono text-[12px] text-ink2">
                {row.cells.filter(Boolean).slice(0, 4).join(' · ')}
              </td>
              <td className="px-2 py-1 max-sm:col-start-2">
                <RowWords row={row} />
              </td>
              <td className="w-66 px-3.5 py-1 text-right max-sm:col-span-2 max-sm:w-auto max-sm:pb-2">
                <Decide
                  row={row}
                  busy={choose.isPending}
                  onChoose={(choice) => choose.mutate({ row: row.row, choice })}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.data && shown < total ? (
        <p className="px-3.5 py-2 text-ink2">
          {shown >= limit ? (
            <Button busy={rows.isFetching} onClick={() => setLimit(limit + 5 * PAGE)}>
              Show more of {count(total)}
            </Button>
          ) : (
            `The trial keeps the first ${count(shown)} of these to be looked at; all ${count(total)} are counted.`
          )}
        </p>
      ) : null}
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

interface DecideProps {
  row: TrialRow;
  busy: boolean;
  onChoose: (choice: RowChoice | null) => void;
}

/** A person's word on one row, before anything is written. */
function Decide({ row, busy, onChoose }: DecideProps) {
  const mayEdit = useMay('editor');
  if (row.byHand)
    return (
      <span className="text-ink2">
        {row.byHand === 'hold'
          ? 'will be held'
          : row.byHand === 'new'
            ? 'will be somebody new'
            : row.byHand.back
              ? 'are brought back, blanks filled'
              : row.byHand.asked === 'take'
                ? "goes to them, the file's values taken"
                : 'goes to them, blanks filled'}{' '}
        <button type="button" className="link" disabled={busy || !mayEdit} onClick={() => onChoose(null)}>
          undo
        </button>
      </span>
    );
  if (row.outcome !== 'held')
    return (
      <span className="flex flex-wrap justify-end gap-1.5">
        {row.outcome === 'fold' ? (
          <Button needs="editor" kind="quiet" busy={busy} onClick={() => onChoose('new')}>
            Its own contact
          </Button>
        ) : null}
        <Button needs="editor" kind="quiet" busy={busy} onClick={() => onChoose('hold')}>
          Hold this row
        </Button>
      </span>
    );
  const [fit] = row.fits;
  if (!row.unclear && !row.asks) return null;
  return (
    <span className="flex flex-wrap justify-end gap-1.5">
      {row.asks && fit ? (
        <>
          <Button needs="editor" busy={busy} onClick={() => onChoose({ contactId: fit.contactId, asked: 'take' })}>
            Take the file's
          </Button>
          <Button needs="editor" busy={busy} onClick={() => onChoose({ contactId: fit.contactId, asked: 'keep' })}>
            Keep ours
          </Button>
        </>
      ) : (
        <>
          {row.fits.slice(0, 3).map(({ contactId, name, about, deleted }) => (
            <Button
              needs="editor"
              key={contactId}
              className="max-w-60"
              title={about}
              busy={busy}
              onClick={() => onChoose({ contactId, asked: 'keep', ...(deleted ? { back: true } : {}) })}
            >
              <span className="min-w-0">
                <span className="block truncate">
                  {deleted ? 'Bring back' : 'It is'} {name}
                </span>
                {row.fits.length > 1 ? (
                  <span className="block truncate text-[12px] font-normal text-ink2">
                    {about || 'nothing more is known'}
                  </span>
                ) : null}
              </span>
            </Button>
          ))}
          <Button needs="editor" busy={busy} onClick={() => onChoose('new')}>
            Somebody new
          </Button>
        </>
      )}
    </span>
  );
}
