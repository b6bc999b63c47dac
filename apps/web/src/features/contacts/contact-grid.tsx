import { keys } from '../../app/keys';
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState, type Ref } from 'react';
import type { ContactListRow, ContactPage, ContactSort, Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { Failed, Loading, Notice } from '../../ui/controls';
import { useNarrow } from '../../ui/use-narrow';
import { count } from '../../ui/when';
import { setColumnWidth, useColumns, type GridColumn } from './grid-columns';

const ROW = 31;
/** Rows drawn together; so the list keeps measure of thousands of blocks and not of a million rows. */
const BLOCK = 20;
/** Rows fetched together; a whole number of blocks. */
const PAGE = 40;
/** Height of the heading, which stays in sight. */
const HEAD = 28;
/** Rows passed by quickly are not fetched. */
const SETTLE_MS = 70;

export interface GridHandle {
  goTo: (place: number) => void;
}

interface GridProps {
  /** Filter and order as the server takes them. */
  query: string;
  filtered: boolean;
  sort: ContactSort;
  picked: number | null;
  lists: Lists | undefined;
  onPick: (id: number) => void;
  onSort: (sort: ContactSort) => void;
  ref: Ref<GridHandle>;
}

const pageAddress = (query: string, page: number) => `/contacts?${query}&at=${page * PAGE}&limit=${PAGE}`;

/** The grid: any place of the list can be gone to; only what is in sight is fetched and drawn. */
export function ContactGrid({ query, filtered, sort, picked, lists, onPick, onSort, ref }: GridProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const { columns: chosen, extra } = useColumns(lists);
  const narrow = useNarrow();
  const columns = useMemo(() => (narrow ? chosen.slice(0, 2) : chosen), [narrow, chosen]);
  const asked = extra ? `${query}&fields=${encodeURIComponent(extra)}` : query;
  const head = useQuery({
    queryKey: keys.contacts(pageAddress(asked, 0)),
    queryFn: ({ signal }) => api.get<ContactPage>(pageAddress(asked, 0), signal),
    placeholderData: keepPreviousData,
  });
  const [total, setTotal] = useState(0);
  const answered = head.data?.total ?? 0;
  const rowsInAll = head.data?.totalIsLeast ? Math.max(total, answered) : answered;

  // eslint-disable-next-line react-hooks/incompatible-library -- its functions go to no memoized component
  const virtual = useVirtualizer({
    count: Math.ceil(rowsInAll / BLOCK),
    getScrollElement: () => scroller.current,
    estimateSize: (block) => ROW * Math.min(BLOCK, rowsInAll - block * BLOCK),
    overscan: 1,
  });
  const blocks = virtual.getVirtualItems();
  const first = blocks[0]?.index ?? 0;
  const last = blocks[blocks.length - 1]?.index ?? 0;
  const wanted = useSettled(Math.floor((first * BLOCK) / PAGE), Math.floor((last * BLOCK) / PAGE));
  const pages = useQueries({
    queries: wanted.map((page) => ({
      queryKey: keys.contacts(pageAddress(asked, page)),
      queryFn: ({ signal }: { signal: AbortSignal }) => api.get<ContactPage>(pageAddress(asked, page), signal),
      gcTime: 30_000,
      enabled: page > 0 && page * PAGE < rowsInAll,
    })),
    combine: useCallback(
      (results: { data: ContactPage | undefined; isFetching: boolean }[]) => ({
        found: results.map((result) => result.data),
        fetching: results.some((result) => result.isFetching),
      }),
      [],
    ),
  });
  const byPage = useMemo(() => {
    const found = new Map<number, ContactListRow[]>();
    if (head.data) found.set(0, head.data.rows);
    for (const page of pages.found) if (page) found.set(page.at / PAGE, page.rows);
    return found;
  }, [head.data, pages.found]);
  // Where counting ended early, every further page says how far the list goes at least.
  const furthest = Math.max(0, ...pages.found.map((page) => page?.total ?? 0));
  if (furthest > total) setTotal(furthest);
  const [seenQuery, setSeenQuery] = useState(query);
  if (seenQuery !== query) {
    setSeenQuery(query);
    setTotal(0);
  }
  useEffect(() => scroller.current?.scrollTo({ top: 0 }), [query]);

  const goTo = (place: number) => scroller.current?.scrollTo({ top: place * ROW });
  useImperativeHandle(ref, () => ({ goTo }));

  const placeOfPicked = (): number => {
    for (const [page, rows] of byPage) {
      const at = rows.findIndex((row) => row.id === picked);
      if (at >= 0) return page * PAGE + at;
    }
    return -1;
  };
  const move = (step: number) => {
    const at = placeOfPicked();
    const top = Math.ceil((scroller.current?.scrollTop ?? 0) / ROW);
    const next = at < 0 ? top : Math.min(rowsInAll - 1, Math.max(0, at + step));
    const row = byPage.get(Math.floor(next / PAGE))?.[next % PAGE];
    if (!row) return;
    onPick(row.id);
    const list = scroller.current;
    if (!list) return;
    if (next * ROW < list.scrollTop) list.scrollTop = next * ROW;
    else if ((next + 1) * ROW > list.scrollTop + list.clientHeight - HEAD)
      list.scrollTop = (next + 1) * ROW - list.clientHeight + HEAD;
  };
  useShortcut('ArrowDown / j', 'Next contact', 'Contacts', () => move(1));
  useShortcut('ArrowUp / k', 'Contact before', 'Contacts', () => move(-1));

  if (head.isPending) return <Loading what="contacts" />;
  if (head.isLoadingError) return <Failed error={head.error} retry={() => void head.refetch()} />;
  const template = columns.map(({ width }) => `minmax(40px, ${width}fr)`).join(' ');
  return (
    <>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-y-auto bg-cloth"
        aria-label={`${count(rowsInAll)} contacts`}
        aria-rowcount={rowsInAll + 1}
        aria-colcount={columns.length}
        aria-activedescendant={picked ? `contact-${picked}` : undefined}
        role="grid"
        tabIndex={0}
      >
        <div
          role="row"
          aria-rowindex={1}
          className="sticky top-0 z-10 grid items-center border-b border-strong bg-ground px-3.5 text-[12px] text-ink2"
          style={{ gridTemplateColumns: template, height: HEAD }}
        >
          {columns.map((column) => (
            <HeaderCell key={column.key} column={column} columns={columns} sort={sort} onSort={onSort} />
          ))}
        </div>
        {rowsInAll === 0 ? (
          <div role="row">
            <div role="gridcell">
              <Notice title={filtered ? 'Nobody fits' : 'No contacts yet'}>
                {filtered
                  ? 'Take a condition away, or look for less.'
                  : 'Bring a file in under Intake, or press n to add one by hand.'}
              </Notice>
            </div>
          </div>
        ) : (
          <div role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
            {blocks.map(({ index, start }) => (
              <Block
                key={index}
                from={index * BLOCK}
                n={Math.min(BLOCK, rowsInAll - index * BLOCK)}
                top={start}
                rows={byPage.get(Math.floor((index * BLOCK) / PAGE))}
                columns={columns}
                template={template}
                sort={sort}
                picked={picked}
                onPick={onPick}
              />
            ))}
          </div>
        )}
      </div>
      <p className="border-t border-hair px-3.5 py-1 text-[12px] text-ink2" role="status">
        {count(rowsInAll)}
        {head.data.totalIsLeast ? ' or more' : ''} {rowsInAll === 1 ? 'contact' : 'contacts'}
        {head.isFetching || pages.fetching ? ' · looking' : ''}
      </p>
    </>
  );
}

/** The pages from `first` to `last`, once scrolling has come to rest for a moment. */
function useSettled(first: number, last: number): number[] {
  const [settled, setSettled] = useState({ first, last });
  useEffect(() => {
    const timer = setTimeout(() => setSettled({ first, last }), SETTLE_MS);
    return () => clearTimeout(timer);
  }, [first, last]);
  return useMemo(
    () => Array.from({ length: settled.last - settled.first + 1 }, (_, i) => settled.first + i),
    [settled],
  );
}

function HeaderCell({
  column,
  columns,
  sort,
  onSort,
}: {
  column: GridColumn;
  columns: GridColumn[];
  sort: ContactSort;
  onSort: (sort: ContactSort) => void;
}) {
  const cell = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; width: number; scale: number } | null>(null);
  const sortable: ContactSort | null =
    column.key === 'name' ? (sort === 'family' ? 'given' : 'family') : column.key === 'thread' ? 'touched' : null;
  const active = column.key === 'name' ? sort !== 'touched' : column.key === 'thread' && sort === 'touched';
  return (
    <div
      ref={cell}
      role="columnheader"
      aria-sort={active ? (sort === 'touched' ? 'descending' : 'ascending') : undefined}
      className="relative flex min-w-0 items-center pr-3"
    >
      {sortable ? (
        <button
          type="button"
          className={`min-h-6 truncate text-left hover:text-ink ${active ? 'text-ink' : ''}`}
          onClick={() => onSort(sortable)}
        >
          {column.key === 'name' && sort === 'given' ? 'Name, given first' : column.name}
          {active ? ' ↓' : ''}
        </button>
      ) : (
        <span className="truncate py-1">{column.name}</span>
      )}
      <span
        aria-hidden
        className="absolute inset-y-0 right-0 w-2 cursor-col-resize border-r border-transparent hover:border-strong"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          const shown = cell.current?.offsetWidth ?? column.width;
          drag.current = { x: event.clientX, width: column.width, scale: column.width / shown };
        }}
        onPointerMove={(event) => {
          const from = drag.current;
          if (from && event.buttons & 1)
            setColumnWidth(columns, column.key, from.width + (event.clientX - from.x) * from.scale);
        }}
        onPointerUp={() => (drag.current = null)}
      />
    </div>
  );
}

interface BlockProps {
  from: number;
  n: number;
  top: number;
  rows: ContactListRow[] | undefined;
  columns: GridColumn[];
  template: string;
  sort: ContactSort;
  picked: number | null;
  onPick: (id: number) => void;
}

const Block = memo(function Block({ from, n, top, rows, columns, template, sort, picked, onPick }: BlockProps) {
  return (
    <div role="presentation" className="absolute inset-x-0" style={{ top, contain: 'layout style' }}>
      {Array.from({ length: n }, (_, i) => {
        const row = rows?.[(from + i) % PAGE];
        if (!row)
          return (
            <div key={i} role="row" aria-rowindex={from + i + 2} className="px-3.5 text-ink3" style={{ height: ROW }}>
              <span role="gridcell">…</span>
            </div>
          );
        const isPicked = row.id === picked;
        return (
          <div
            key={i}
            id={`contact-${row.id}`}
            role="row"
            aria-rowindex={from + i + 2}
            aria-selected={isPicked}
            onClick={() => onPick(row.id)}
            className={
              `grid cursor-pointer items-center border-b border-hair px-3.5 ` +
              `${isPicked ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'hover:bg-page'}`
            }
            style={{ gridTemplateColumns: template, height: ROW }}
          >
            {columns.map((column) => (
              <span key={column.key} role="gridcell" className="truncate pr-3">
                {column.cell(row, sort)}
              </span>
            ))}
          </div>
        );
      })}
    </div>
  );
});
