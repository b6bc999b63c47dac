import { useMay } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { IntakeDetail, MappingPreview } from '@gray-loom/wire';
import { NO_COLUMN, type ColumnMapping, type Mapping } from '@gray-loom/core/mapping';
import { api, Refused } from '../../app/api';
import { useLists, useOwners, usePipelines } from '../../app/lists';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { count, rowsOf } from '../../ui/when';
import { answersOf } from './answers';
import { NotMade } from '../setup/making';
import { useColumnFilter } from './column-filter';
import { ColumnHead } from './column-head';
import { hasOwnHeading, writtenAs } from './delimiters';
import { FileSettings } from './file-settings';
import { ReadAs } from './read-as';
import { ReadingSettings } from './reading-settings';
import { scopeOfIntake, TrialBar } from './trial-bar';

const ROWS = 100;
/** What no column of the file says and yet is to stand in every row. */
const VALUE_FOR_ALL: ColumnMapping = {
  column: NO_COLUMN,
  header: null,
  target: null,
  label: null,
  dateOrder: 'iso',
  decimal: '.',
  separator: null,
  newField: null,
  transforms: [{ kind: 'fixed', value: '' }],
  onBad: 'hold',
};

/** Meaning is given on the data: the file's own rows, above each column what it means. */
export function MappingPage() {
  const id = Number(useParams().id);
  const client = useQueryClient();
  const touch = useTouch();
  const mayEdit = useMay('editor');
  const [failing, setFailing] = useState<number | null>(null);
  const [active, setActive] = useState(0);
  const intake = useQuery({
    queryKey: keys.intake(id),
    queryFn: () => api.get<IntakeDetail>(`/intakes/${id}`),
    refetchInterval: (query) =>
      query.state.data?.state === 'trying' || query.state.data?.state === 'committing' ? 1200 : false,
  });
  const lists = useLists();
  const pipelines = usePipelines();
  const owners = useOwners();
  const mappingKey = JSON.stringify(intake.data?.mapping ?? null);
  const preview = useQuery({
    queryKey: keys.preview(id, mappingKey, failing),
    queryFn: () =>
      api.get<MappingPreview>(`/intakes/${id}/preview?count=${ROWS}${failing === null ? '' : `&failing=${failing}`}`),
    enabled: !!intake.data,
    placeholderData: keepPreviousData,
  });
  /** The mapping as it was changed here, until the server has all of it: who is fast changes it again before the answer is there. */
  const [draft, setDraft] = useState<Mapping | null>(null);
  const unsaved = useRef(0);
  const save = useMutation({
    // One after the other, so that what was said last is what stands.
    scope: { id: scopeOfIntake(id) },
    mutationFn: (mapping: Mapping) => api.put<IntakeDetail>(`/intakes/${id}/mapping`, mapping),
    onSuccess: (detail) => client.setQueryData(keys.intake(id), detail),
    onSettled: async () => {
      if (--unsaved.current > 0) return;
      setDraft(null);
      await touch('setup');
    },
  });
  const keepAll = (next: Mapping) => {
    unsaved.current++;
    setDraft(next);
    save.mutate(next);
  };
  const { shown, bar } = useColumnFilter({
    columns: (draft ?? intake.data?.mapping)?.columns ?? [],
    guesses: intake.data?.guesses ?? [],
    preview: preview.data,
    lists: lists.data,
  });
  const near = nearMissOf(save.error);
  if (intake.isPending) return <Loading what="the file" />;
  if (intake.isLoadingError) return <Failed error={intake.error} retry={() => void intake.refetch()} />;
  const detail = intake.data;
  const locked = detail.importRun !== null || !mayEdit;
  const mapping = draft ?? detail.mapping;
  const { columns } = mapping;
  /** The column before or behind one, among those in sight. */
  const beside = (at: number, step: number) => shown[shown.indexOf(at) + step] ?? at;
  const leftOut = columns
    .filter(({ target, column }) => target === null && column !== NO_COLUMN)
    .map(({ column }) => column);
  const keep = (next: ColumnMapping[]) => keepAll({ ...mapping, columns: next });
  /** Puts an entry in the place of one, or takes it away, or adds one behind it. */
  const change = (at: number, ...entries: ColumnMapping[]) => {
    setFailing(null);
    keep(columns.flatMap((one, i) => (i === at ? entries : [one])));
  };
  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-strong px-3.5 py-2 sm:flex-nowrap">
        <Link to="/intake" aria-label="Back to Intake" className="text-ink3 hover:text-ink">
          ←
        </Link>
        <h1 className="min-w-0 truncate text-[15.5px] font-bold max-sm:flex-1">{detail.name}</h1>
        <span className="truncate text-ink2 max-sm:hidden">
          {detail.shape.cards
            ? `${count(detail.rowCount)} cards (vCard), a row for each`
            : [rowsOf(detail.rowCount), ...writtenAs(detail.shape)].join(' · ')}
        </span>
        <span className="ml-auto flex gap-2 max-sm:ml-0 max-sm:basis-full">
          {detail.importRun !== null && detail.state !== 'committing' ? <Again id={id} /> : null}
          {locked || detail.shape.cards || !hasOwnHeading(detail.shape) ? null : <ReadingSettings detail={detail} />}
          <FileSettings
            mapping={mapping}
            lists={lists.data}
            headers={detail.shape.headers}
            locked={locked}
            onSave={keepAll}
          />
        </span>
      </div>
      {near && save.variables ? (
        <div className="border-b border-hair bg-cloth px-3.5 py-1.5">
          <NotMade
            error={save.error}
            busy={save.isPending}
            onUse={() =>
              keepAll(
                withNewField(save.variables, near.column, (column) => ({
                  ...column,
                  target: near.target,
                  newField: null,
                })),
              )
            }
            onDespite={() =>
              keepAll(
                withNewField(save.variables, near.column, (column) => ({
                  ...column,
                  newField: column.newField && { ...column.newField, despite: true },
                })),
              )
            }
          />
        </div>
      ) : null}
      <Fault error={(near ? null : save.error) ?? preview.error} onClose={() => save.reset()} />
      {detail.mends !== null && !locked ? (
        <p className="border-b border-hair bg-cloth px-3.5 py-1.5">
          These are held rows of an{' '}
          <Link className="link" to={`/ledger/${detail.mends}`}>
            import
          </Link>{' '}
          come back. They are read as that file was; once they are in, the rows that were held wait no longer.
        </p>
      ) : null}
      {detail.readAs && !locked ? <ReadAs detail={detail} mapping={mapping} onSave={keepAll} /> : null}
      {detail.issues.length ? (
        <p className="border-b border-hair bg-cloth px-3.5 py-1.5 text-ink2">
          {detail.issues.map((one) => one.text).join(' ')}
        </p>
      ) : null}
      {failing !== null ? (
        <p className="flex gap-3 border-b border-hair bg-alarmwash px-3.5 py-1.5">
          Rows in which {columns[failing]?.header || `column ${(columns[failing]?.column ?? 0) + 1}`} fails
          <button type="button" className="link" onClick={() => setFailing(null)}>
            Show all rows
          </button>
        </p>
      ) : null}
      {bar}
      <div className="min-h-0 flex-1 overflow-auto bg-cloth" tabIndex={0} aria-label="Rows of the file">
        <table className="border-collapse text-[13px]">
          <thead className="sticky top-0 z-10 bg-page">
            <tr>
              <th className="w-11 min-w-11 border-r border-b-2 border-hair border-b-strong bg-ground" scope="col">
                <span className="sr-only">Row</span>
              </th>
              {shown.map((i) => {
                const column = columns[i];
                return column ? (
                  <ColumnHead
                    key={`${column.column}:${columns.slice(0, i).filter((one) => one.column === column.column).length}`}
                    column={column}
                    again={columns.findIndex((one) => one.column === column.column) < i}
                    guess={detail.guesses[column.column]}
                    before={
                      detail.readAs?.meant?.[column.column] === column.target && column.target
                        ? detail.readAs.name
                        : null
                    }
                    stats={preview.data?.columns[i]}
                    looked={preview.data?.looked ?? 0}
                    lists={lists.data}
                    answers={answersOf(column.target, lists.data, pipelines.data, owners.data)}
                    headers={detail.shape.headers}
                    leftOut={leftOut}
                    labels={columns
                      .filter(({ labelFrom }) => labelFrom === column.column)
                      .map((one) => one.header || `column ${one.column + 1}`)}
                    country={mapping.country}
                    fileRule={mapping.allowChange ? mapping.writeRule : null}
                    failingValues={failingValues(preview.data, i, column.target === 'owner')}
                    locked={locked}
                    active={active === i}
                    onActive={(step) => setActive(beside(i, step))}
                    onChange={(next) => change(i, next)}
                    onAlso={() =>
                      change(i, column, {
                        ...column,
                        target: null,
                        label: null,
                        newField: null,
                        rule: undefined,
                        transforms: [],
                      })
                    }
                    onRemove={() => change(i)}
                    onFailing={() => setFailing(i)}
                  />
                ) : null;
              })}
              {locked ? null : (
                <th className="border-b-2 border-b-strong px-2.5 py-1.5 text-left align-top font-normal" scope="col">
                  <button
                    type="button"
                    className="link whitespace-nowrap"
                    onClick={() => keep([...columns, VALUE_FOR_ALL])}
                  >
                    + a value for every row
                  </button>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {preview.data?.rows.map((row) => (
              <tr key={row.row} className={row.problem ? 'bg-alarmwash/40' : ''}>
                <th
                  scope="row"
                  className="border-r border-b border-hair bg-ground px-2 py-1 text-right align-top font-normal text-ink3"
                  title={row.problem ?? undefined}
                >
                  {row.row}
                  {row.problem ? <span className="text-alarm"> !</span> : null}
                </th>
                {shown.map((i) => {
                  const cell = row.cells[i];
                  if (!cell) return null;
                  const target = columns[i]?.target ?? null;
                  const holds = cell.issues.find((issue) => issue.holds);
                  return (
                    <td
                      key={i}
                      className={
                        `max-w-56 min-w-36 border-r border-b border-hair px-2.5 py-1 align-top ` +
                        `${holds ? 'bg-alarmwash' : ''} ${target === null ? 'bg-ground' : ''}`
                      }
                    >
                      <div
                        className={`truncate font-mono text-[12px] ${holds ? 'text-alarm' : 'text-ink2'}`}
                        title={cell.raw}
                      >
                        {cell.raw || '\u00a0'}
                      </div>
                      <div
                        className={`truncate ${holds ? 'text-alarm' : target === null ? 'text-ink3' : ''}`}
                        title={cell.issues.map((issue) => issue.text).join(' ') || cell.shown}
                      >
                        {target === null ? (
                          ''
                        ) : holds ? (
                          holds.text
                        ) : cell.shown && cell.shown !== cell.raw ? (
                          cell.shown
                        ) : cell.issues[0] ? (
                          <span className="text-ink3">{cell.issues[0].text}</span>
                        ) : (
                          '\u00a0'
                        )}
                      </div>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
        {preview.isPending ? <Loading what="the rows" /> : null}
        {shown.length ? null : <p className="px-3.5 py-2 text-ink2">No column is called so.</p>}
        {preview.data && preview.data.rows.length < detail.rowCount && failing === null ? (
          <p className="px-3.5 py-2 text-ink3">
            The first {count(preview.data.rows.length)} of {rowsOf(detail.rowCount)}. Counts of failing cells are of{' '}
            {preview.data.looked < detail.rowCount ? `the first ${count(preview.data.looked)} rows` : 'all rows'}; the
            trial looks at all of them.
          </p>
        ) : null}
      </div>
      <TrialBar detail={detail} />
    </div>
  );
}

/** A field that is here already and that a new one may be meant for; null where that is not what was said. */
function nearMissOf(error: Error | null): { column: number; target: string } | null {
  if (!(error instanceof Refused) || error.problem.code !== 'nearMiss') return null;
  const { column, target } = error.problem.facts ?? {};
  return typeof column === 'number' && typeof target === 'string' ? { column, target } : null;
}

/** A mapping with another word on the column that was to be made a field. */
const withNewField = (mapping: Mapping, at: number, change: (column: ColumnMapping) => ColumnMapping): Mapping => ({
  ...mapping,
  columns: mapping.columns.map((one) => (one.column === at && one.newField ? change(one) : one)),
});

/** Puts the file into Intake once more, for another mapping. */
function Again({ id }: { id: number }) {
  const navigate = useNavigate();
  const again = useMutation({
    mutationFn: () => api.post<{ id: number }>(`/intakes/${id}/again`),
    onSuccess: (made) => navigate(`/intake/${made.id}`),
  });
  return (
    <>
      <Fault error={again.error} onClose={() => again.reset()} />
      <Button
        needs="editor"
        busy={again.isPending}
        title="A second go with the same file; what this import did stays until it is undone"
        onClick={() => again.mutate()}
      >
        Once more, with another mapping
      </Button>
    </>
  );
}

const SHOWN_FAILING = 12;

/** Different cells of a column, among the rows in sight, that hold their row; of owners, those who are no account. */
function failingValues(preview: MappingPreview | undefined, column: number, isOwner: boolean): string[] {
  const failing = (preview?.rows ?? []).flatMap(({ cells }) => {
    const cell = cells[column];
    return cell?.issues.some((issue) => issue.holds || isOwner) ? [cell.raw.trim()] : [];
  });
  return [...new Set(failing)].slice(0, SHOWN_FAILING);
}
