import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { HeldList, HeldRow, RowFit } from '@gray-loom/wire';
import { api, Refused } from '../../app/api';
import { Button, Failed, Loading, Notice } from '../../ui/controls';
import { SplitView } from '../../ui/split-view';
import { count } from '../../ui/when';
import { TwoSheet, useMendPreview } from './held-two';
import { AsEntries } from './held-as-entries';
import { MeantSheet } from './meant-sheet';

/** Rows shown at first. */
const PAGE = 500;

/** Rows that were not let in, each with its reason; mended in place, let in or dropped. */
export function HeldPage() {
  const { runId } = useParams();
  const [limit, setLimit] = useState(PAGE);
  const held = useQuery({
    queryKey: keys.held(runId ?? 'all', limit),
    queryFn: () => api.get<HeldList>(`/held?limit=${limit}${runId ? `&run=${runId}` : ''}`),
    placeholderData: (before) => before,
  });
  const [picked, setPicked] = useState<string | null>(null);
  const [looking, setLooking] = useState(false);
  /** Whether the row before was let in as two people, so that the next that names two is looked at so at once. */
  const [twos, setTwos] = useState(false);
  if (held.isPending) return <Loading what="held rows" />;
  if (held.isLoadingError) return <Failed error={held.error} retry={() => void held.refetch()} />;
  const { rows, total } = held.data;
  const keyOf = (row: HeldRow) => `${row.runId}:${row.row}`;
  const chosen = rows.find((row) => keyOf(row) === picked) ?? null;
  const meant = rows.filter((row) => row.meant);
  return (
    <SplitView
      list={
        <>
          <div className="flex items-center gap-3 border-b border-strong px-3.5 py-2">
            <Link to="/intake" aria-label="Back to Intake" className="text-ink3 hover:text-ink">
              ←
            </Link>
            <h1 className="text-[15.5px] font-bold">Held rows</h1>
            <span className="text-ink2">
              {count(total)}
              {runId && rows[0] ? ` of ${rows[0].fileName}` : ''}
            </span>
            {runId ? (
              <span className="ml-auto flex gap-4">
                <a className="link" href={`/api/runs/${runId}/held.csv`} download>
                  Download with reasons
                </a>
                <a className="link" href={`/api/runs/${runId}/rows.csv`} download>
                  Download all rows with outcomes
                </a>
              </span>
            ) : null}
          </div>
          {meant.length ? (
            <div className="flex items-center gap-3 border-b border-hair bg-wash px-3.5 py-1.5">
              <span className="text-ink2">
                {meant.length === 1 ? 'In 1 row' : `In ${count(meant.length)} rows`} an address can be read for what it
                most likely means.
              </span>
              <Button
                needs="editor"
                onClick={() => {
                  setPicked(null);
                  setLooking(true);
                }}
              >
                Look at {meant.length === 1 ? 'it' : 'them'}
              </Button>
            </div>
          ) : null}
          {held.data.more.map((one) => (
            <AsEntries key={one.runId} {...one} namesFile={!runId} />
          ))}
          <div className="min-h-0 flex-1 overflow-y-auto bg-cloth">
            {total === 0 ? <Notice title="No row is held">Every row was let in, mended or dropped.</Notice> : null}
            <ul>
              {rows.map((row) => (
                <li key={keyOf(row)}>
                  <button
                    type="button"
                    aria-current={keyOf(row) === picked || undefined}
                    className={
                      `grid w-full grid-cols-[170px_52px_minmax(0,1fr)_minmax(0,1.4fr)] items-baseline gap-3 border-b border-hair ` +
                      `px-3.5 py-1.5 text-left ${keyOf(row) === picked ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'hover:bg-page'}`
                    }
                    onClick={() => {
                      setTwos(false);
                      setPicked(keyOf(row));
                    }}
                  >
                    <span className="truncate text-ink2">{row.fileName}</span>
                    <span className="text-right text-ink3">{count(row.row)}</span>
                    <span className="truncate font-mono text-[12px]">
                      {row.cells.filter(Boolean).slice(0, 3).join(' · ')}
                    </span>
                    <span className="truncate text-alarm">{row.issues[0]?.text}</span>
                  </button>
                </li>
              ))}
            </ul>
            {total > rows.length ? (
              <p className="px-3.5 py-2">
                <Button busy={held.isFetching} onClick={() => setLimit(limit + 4 * PAGE)}>
                  Show more of {count(total)}
                </Button>
              </p>
            ) : null}
          </div>
        </>
      }
      sheet={
        chosen ? (
          <MendSheet
            key={keyOf(chosen)}
            row={chosen}
            others={rows.filter((one) => one.runId === chosen.runId && one.row !== chosen.row)}
            seesAll={rows.length === total}
            startsAsTwo={twos}
            onDone={(asTwo) => {
              setTwos(asTwo);
              setPicked(nextKey(rows, chosen, keyOf));
            }}
          />
        ) : looking && meant.length ? (
          <MeantSheet rows={meant} onClose={() => setLooking(false)} />
        ) : null
      }
    />
  );
}

/** People offered whom a row may be. */
const MOST_FITS = 5;

function nextKey(rows: HeldRow[], row: HeldRow, keyOf: (row: HeldRow) => string): string | null {
  const next = rows[rows.indexOf(row) + 1];
  return next ? keyOf(next) : null;
}

interface MendProps {
  row: HeldRow;
  others: HeldRow[];
  /** Every held row is loaded, so that the others can be counted. */
  seesAll: boolean;
  startsAsTwo: boolean;
  onDone: (asTwo: boolean) => void;
}

function MendSheet({ row, others, seesAll, startsAsTwo, onDone }: MendProps) {
  const touch = useTouch();
  const [cells, setCells] = useState(row.cells);
  const [asTwo, setAsTwo] = useState(startsAsTwo);
  const preview = useMendPreview(row, cells);
  const after = async () => {
    await touch('held', 'contacts', 'run', 'intakes');
    onDone(asTwo);
  };
  const letIn = useMutation({
    mutationFn: (word: { as: 'check' | 'new' | number; asked?: 'take' | 'keep' }) =>
      api.post(`/held/${row.runId}/${row.row}/let-in`, { cells, ...word }),
    onSuccess: after,
  });
  const alike = useMutation({
    mutationFn: (column: number) =>
      api.post<{ letIn: number; held: number }>(`/held/${row.runId}/alike`, {
        column,
        from: row.cells[column] ?? '',
        to: cells[column] ?? '',
      }),
    onSuccess: after,
  });
  const drop = useMutation({ mutationFn: () => api.post(`/held/${row.runId}/${row.row}/drop`), onSuccess: after });
  if (asTwo && row.two) return <TwoSheet row={row} proposed={row.two} onBack={() => setAsTwo(false)} onDone={after} />;
  const wrongColumn = letIn.error instanceof Refused ? (letIn.error.problem.facts?.column as number | null) : null;
  return (
    <form
      className="px-4.5 py-3.5"
      onSubmit={(event) => {
        event.preventDefault();
        letIn.mutate({ as: 'check' });
      }}
    >
      <h2 className="text-[16px] font-bold">
        Row {count(row.row)} of {row.fileName}
      </h2>
      <ul className="mt-2 mb-3 text-alarm">
        {row.issues.map((issue) => (
          <li key={issue.text}>{issue.text}</li>
        ))}
      </ul>
      {cells.map((cell, i) => {
        const shown = preview.data?.[i];
        const bad = shown?.issue ?? (wrongColumn === i ? letIn.error?.message : null);
        return (
          <label
            key={i}
            className="grid grid-cols-[110px_minmax(0,1fr)] items-baseline gap-2 border-b border-hair py-1"
          >
            <span className="truncate text-[12.5px] text-ink2">{row.headers[i] || `Column ${i + 1}`}</span>
            <span>
              <input
                className="field w-full font-mono text-[12.5px]"
                aria-invalid={!!bad}
                value={cell}
                onChange={(event) => setCells(cells.map((one, j) => (j === i ? event.target.value : one)))}
              />
              {shown?.answers.length ? (
                <select
                  aria-label={`What ${row.headers[i] || `column ${i + 1}`} may say`}
                  className="field mt-1 w-full"
                  value=""
                  onChange={(event) => {
                    setCells(cells.map((one, j) => (j === i ? event.target.value : one)));
                    event.target.closest('label')?.querySelector('input')?.focus();
                  }}
                >
                  <option value="">choose what it means…</option>
                  {shown.answers.map((answer) => (
                    <option key={answer}>{answer}</option>
                  ))}
                </select>
              ) : null}
              {bad ? (
                <span className="block text-[12.5px] text-alarm">{bad}</span>
              ) : shown?.shown && shown.shown !== cell ? (
                <span className="block text-[12.5px] text-ink2">{shown.shown}</span>
              ) : null}
              {row.meant && row.meant[i] !== row.cells[i] && cell === row.cells[i] ? (
                <Button
                  needs="editor"
                  className="mt-1"
                  onClick={() => setCells(cells.map((one, j) => (j === i ? (row.meant?.[i] ?? one) : one)))}
                >
                  Write {row.meant[i]}
                </Button>
              ) : null}
              <Alike
                n={others.filter((other) => cell !== row.cells[i] && other.cells[i] === row.cells[i]).length}
                isExact={seesAll}
                from={row.cells[i] ?? ''}
                busy={alike.isPending}
                onClick={() => alike.mutate(i)}
              />
            </span>
          </label>
        );
      })}
      {(letIn.error ?? drop.error ?? alike.error) ? (
        <p role="alert" className="mt-3 text-alarm">
          {(letIn.error ?? drop.error ?? alike.error)?.message}
        </p>
      ) : null}
      {row.asks === null ? <Fits fits={row.fits} busy={letIn.isPending} onPick={(as) => letIn.mutate({ as })} /> : null}
      <div className="mt-4 flex flex-wrap gap-2">
        <Button needs="editor" kind="action" type="submit" busy={letIn.isPending}>
          Let the row in
        </Button>
        {row.asks !== null ? (
          <>
            <Button needs="editor" onClick={() => letIn.mutate({ as: row.asks ?? 'check', asked: 'take' })}>
              Take the file's
            </Button>
            <Button needs="editor" onClick={() => letIn.mutate({ as: row.asks ?? 'check', asked: 'keep' })}>
              Keep ours, fill blanks
            </Button>
            <Link className="link" to={`/contacts/${row.asks}`}>
              Open the contact
            </Link>
          </>
        ) : row.fits.length ? (
          <Button needs="editor" busy={letIn.isPending} onClick={() => letIn.mutate({ as: 'new' })}>
            It is somebody new
          </Button>
        ) : null}
        {row.two ? (
          <Button needs="editor" onClick={() => setAsTwo(true)}>
            They are two people
          </Button>
        ) : null}
        <Button needs="editor" kind="danger" busy={drop.isPending} onClick={() => drop.mutate()}>
          Drop the row
        </Button>
      </div>
    </form>
  );
}

interface FitsProps {
  fits: RowFit[];
  busy: boolean;
  onPick: (contactId: number) => void;
}

/** Whom the row may be, each with what tells them apart. */
function Fits({ fits, busy, onPick }: FitsProps) {
  if (!fits.length) return null;
  return (
    <ul className="mt-4 space-y-1.5" aria-label="Whom the row may be">
      {fits.slice(0, MOST_FITS).map(({ contactId, name, about, deleted }) => (
        <li key={contactId} className="flex items-baseline gap-2.5">
          <Button needs="editor" busy={busy} aria-describedby={`fit-${contactId}`} onClick={() => onPick(contactId)}>
            {deleted ? 'Bring back' : 'It is'} {name}
          </Button>
          <span id={`fit-${contactId}`} className="min-w-0 text-[12.5px] break-words text-ink2">
            {about}
          </span>
          <Link className="link ml-auto" to={`/contacts/${contactId}`} aria-label={`Open ${name}`}>
            open
          </Link>
        </li>
      ))}
      {fits.length > MOST_FITS ? <li className="text-ink2">and {count(fits.length - MOST_FITS)} more</li> : null}
    </ul>
  );
}

/** Offers to write the same in the other held rows that have the same there. */
interface AlikeProps {
  n: number;
  isExact: boolean;
  from: string;
  busy: boolean;
  onClick: () => void;
}

/** Mends every held row of the file that says the same, those that are not loaded as well. */
function Alike({ n, isExact, from, busy, onClick }: AlikeProps) {
  if (!n) return null;
  const rows = !isExact ? 'every other row' : n === 1 ? 'the other row' : `${count(n)} other rows`;
  return (
    <Button needs="editor" className="mt-1 max-w-full" title={from} busy={busy} onClick={onClick}>
      <span className="truncate">
        The same in {rows} with {from ? `"${from}"` : 'nothing there'}
      </span>
    </Button>
  );
}
