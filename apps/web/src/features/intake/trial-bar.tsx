import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ROW_OUTCOMES, type IntakeDetail, type OutcomeCounts, type RowOutcome, type RunSummary } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { PauseButton } from '../../app/tape';
import { Button } from '../../ui/controls';
import { count, rowsOf } from '../../ui/when';
import { activitiesInWords, opportunitiesInWords, outcomesInWords } from '@gray-loom/wire';
import { TrialRows } from './trial-rows';

const WORDS: Record<RowOutcome, string> = {
  new: 'new',
  fill: 'filled',
  replace: 'replaced',
  same: 'same',
  fold: 'folded',
  held: 'held',
};
const GROUNDS: Record<RowOutcome, string> = {
  new: 'bg-page',
  fill: 'bg-picked',
  replace: 'bg-chosen',
  same: 'bg-wash',
  fold: 'woven bg-cloth',
  held: 'bg-alarmwash',
};

/** What is said of a file goes to the server one after the other. */
export const scopeOfIntake = (id: number): string => `intake ${id}`;

/** The trial as one bar in proportion to its outcomes, and the step from trial to import. */
export function TrialBar({ detail }: { detail: IntakeDetail }) {
  const touch = useTouch();
  const [open, setOpen] = useState<RowOutcome | null>(null);
  const again = () => touch('intakes', 'run');
  // Behind what was just said of the columns, and not beside it.
  const scope = { id: scopeOfIntake(detail.id) };
  const tryIt = useMutation({ scope, mutationFn: () => api.post(`/intakes/${detail.id}/trial`), onSuccess: again });
  const bringIn = useMutation({ scope, mutationFn: () => api.post(`/intakes/${detail.id}/import`), onSuccess: again });
  const watched = detail.state === 'trying' ? detail.trialRun : detail.importRun;
  const run = useQuery({
    queryKey: keys.run(watched),
    queryFn: () => api.get<RunSummary>(`/runs/${watched}`),
    enabled: watched !== null,
    refetchInterval: detail.state === 'trying' || detail.state === 'committing' ? 800 : false,
  });
  const counts = detail.state === 'tried' ? detail.trialCounts : null;
  const letIn = counts ? detail.rowCount - counts.held : 0;
  const ready = detail.state === 'tried' && !bringIn.isPending && letIn > 0;
  useShortcut('t', 'Try the import', 'Intake', () => tryIt.mutate(), {
    needs: 'editor',
    enabled: detail.state === 'read' || detail.state === 'tried',
  });
  useShortcut('Ctrl Enter', 'Bring the rows in', 'Intake', () => bringIn.mutate(), {
    enabled: ready,
    always: true,
    needs: 'editor',
  });
  return (
    <>
      {counts && (detail.warnings.length || detail.chosenSinceTrial) ? (
        <ul
          className={`border-t border-strong bg-cloth px-3.5 py-1.5 ${open ? 'max-sm:hidden' : ''}`}
          aria-label="What to look at"
        >
          {detail.warnings.map((warning) => (
            <li key={warning} className="text-alarm">
              {warning}
            </li>
          ))}
          {detail.chosenSinceTrial ? (
            <li className="text-ink2">
              {detail.chosenSinceTrial === 1 ? 'One row was' : `${count(detail.chosenSinceTrial)} rows were`} decided by
              hand since the trial, and will come in as you said. Try again for counts that know of it.
            </li>
          ) : null}
        </ul>
      ) : null}
      {open && counts ? (
        <TrialRows detail={detail} outcome={open} total={counts[open]} onClose={() => setOpen(null)} />
      ) : null}
      <div className="flex min-h-13 flex-wrap items-center gap-x-4 gap-y-2 border-t border-strong px-3.5 py-2 sm:flex-nowrap">
        <strong className="max-sm:sr-only">{detail.importRun ? 'Import' : 'Trial'}</strong>
        {counts ? (
          <div
            className="flex h-6.5 min-w-0 flex-1 border border-ink max-sm:h-auto max-sm:basis-full max-sm:flex-wrap"
            role="group"
            aria-label="Outcomes of the trial"
          >
            {ROW_OUTCOMES.filter((outcome) => counts[outcome] > 0).map((outcome) => (
              <button
                key={outcome}
                type="button"
                aria-expanded={open === outcome}
                title={`${count(counts[outcome])} ${WORDS[outcome]}; show these rows`}
                className={
                  `min-w-14 overflow-hidden border-l border-ink text-[12.5px] whitespace-nowrap first:border-l-0 ` +
                  `hover:underline max-sm:min-h-9 max-sm:min-w-20 ` +
                  `${GROUNDS[outcome]} ${outcome === 'held' ? 'text-alarm' : ''}`
                }
                style={{ flexGrow: counts[outcome], flexBasis: 0 }}
                onClick={() => setOpen(open === outcome ? null : outcome)}
              >
                {count(counts[outcome])} {WORDS[outcome]}
              </button>
            ))}
          </div>
        ) : (
          <Progress detail={detail} run={run.data} />
        )}
        {counts ? <span className="max-w-72 text-[12.5px] text-ink2">{trialInWords(counts)}</span> : null}
        <span role="alert" className="text-alarm">
          {(tryIt.error ?? bringIn.error)?.message ?? (run.data?.state === 'failed' ? run.data.error : '')}
        </span>
        {detail.importRun ? (
          <span className="ml-auto flex gap-4">
            {detail.held > 0 ? (
              <Link to={`/intake/held/${detail.importRun}`} className="link">
                {count(detail.held)} held {detail.held === 1 ? 'row' : 'rows'}
              </Link>
            ) : null}
            <Link to={`/ledger/${detail.importRun}`} className="link">
              Open the run
            </Link>
          </span>
        ) : (
          <span className="ml-auto flex gap-2 max-sm:ml-0">
            <Button
              needs="editor"
              keys="t"
              busy={tryIt.isPending || detail.state === 'trying'}
              onClick={() => tryIt.mutate()}
            >
              {counts ? 'Try again' : 'Try it'}
            </Button>
            <Button
              needs="editor"
              kind="action"
              keys="Ctrl Enter"
              disabled={!ready}
              busy={bringIn.isPending}
              onClick={() => bringIn.mutate()}
            >
              {counts ? `Bring in ${rowsOf(letIn)}` : 'Bring in'}
            </Button>
          </span>
        )}
      </div>
    </>
  );
}

function Progress({ detail, run }: { detail: IntakeDetail; run: RunSummary | undefined }) {
  if (detail.state === 'read')
    return (
      <span className="text-ink2">
        {detail.trialRun
          ? 'The mapping changed since the trial. Try it again to see what would happen.'
          : 'Nothing is written by trying: see first what each row would become.'}
      </span>
    );
  if (detail.state === 'done' || detail.state === 'stopped')
    return (
      <span className="text-ink2">
        {detail.undone
          ? 'Taken back.'
          : `${outcomesInWords(detail.counts)}${detail.state === 'stopped' ? ', stopped before its end' : ''}`}
      </span>
    );
  const { done, total } = run?.progress ?? { done: 0, total: detail.rowCount };
  return (
    <span className="flex min-w-0 flex-1 items-center gap-3" role="status">
      <progress
        className="w-64"
        value={done}
        max={Math.max(1, total)}
        aria-label={detail.state === 'trying' ? 'Trying' : 'Bringing in'}
      />
      <span className="text-ink2">
        {run?.state === 'paused'
          ? `Paused at ${count(done)} of ${rowsOf(total)}.`
          : `${count(done)} of ${rowsOf(total)}. You can leave this page.`}
      </span>
      {run?.pausable ? <PauseButton run={run} /> : null}
    </span>
  );
}

/** What would happen, in a sentence, so that nothing has to be read off a bar. */
function trialInWords(counts: OutcomeCounts): string {
  const { new: fresh, fill, replace, same, fold, held } = counts;
  const people = (n: number, what: string) => (n ? `${count(n)} ${what}` : '');
  const said = [
    people(fresh, fresh === 1 ? 'new contact' : 'new contacts'),
    people(fill, 'filled'),
    replace ? `${count(replace)} with values replaced` : 'nobody overwritten',
    people(same + fold, 'as they are or folded'),
    people(held, 'held'),
    ...opportunitiesInWords(counts),
    ...activitiesInWords(counts),
  ].filter(Boolean);
  return `${said.join(', ')}.`;
}
