import { keys } from '../../app/keys';
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState, type Ref } from 'react';
import type { ContactListRow, ContactPage, ContactSort, Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { usePreferences } from '../../app/preferences';
import { Failed, Loading, Notice } from '../../ui/controls';
import { useNarrow } from '../../ui/use-narrow';
import { count } from '../../ui/when';
import { setColumnWidth, useColumns, type GridColumn } from './grid-columns';
import { isPicked, NO_PICKS, pickedOf, type Picks } from './use-picks';

/** Height of a row by how close rows stand. */
const ROWS = { tight: 25, plain: 31, airy: 40 } as const;
/** Rows drawn together; so the list keeps measure of thousands of blocks and not of a million rows. */
const BLOCK = 20;
/** Rows fetched together; a whole number of blocks. */
const PAGE = 40;
/** Height of the heading, which stays in sight. */
const HEAD = 28;
/** A cell at the left edge that stays in sight, over the edge's padding. */
const EDGE = 'sticky left-0 z-[1] -ml-3.5 bg-inherit pl-3.5';
const stickyClass = (left: number | undefined, isFirst: boolean): string =>
  left === undefined ? '' : isFirst ? EDGE : 'sticky z-[1] bg-inherit';
/** Width of the column in which one picks. */
const TICK = 30;
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
  /** Who is picked for a change of many; null where nobody can be. */
  picks: Picks | null;
  onPick: (id: number) => void;
  /** Turns over whether somebody is picked; with `isRange` everybody since the last one as well. */
  onTurn: (id: number, place: number, isRange: boolean) => void;
  onPicks: (picks: Picks) => void;
  onTotal: (total: number) => void;
  onSort: (sort: ContactSort) => void;
  ref: Ref<GridHandle>;
}

const pageAddress = (query: string, page: number) => `/contacts?${query}&at=${page * PAGE}&limit=${PAGE}`;

/** The grid: any place of the list can be gone to; only what is in sight is fetched and drawn. */
export function ContactGrid(props: GridProps) {
  const { query, filtered, sort, picked, lists, picks, onPick, onTurn, onPicks, onTotal, onSort, ref } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const { columns: chosen, extra } = useColumns(lists);
  const narrow = useNarrow();
  const { density, pinned } = usePreferences();
  const ROW = ROWS[density];
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
  useEffect(() => {
    virtual.measure();
  }, [virtual, ROW]);
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
  useEffect(() => {
    scroller.current?.scrollTo({ top: 0 });
  }, [query]);
  useEffect(() => {
    onTotal(rowsInAll);
  }, [onTotal, rowsInAll]);

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
  useShortcut(
    'x / X',
    'Pick the contact for a change of many, with Shift all since the last one',
    'Contacts',
    (event) => {
      const at = placeOfPicked();
      if (picked && at >= 0) onTurn(picked, at, event.shiftKey);
    },
    { enabled: picks !== null },
  );
  /** Those in sight. */
  const shownIds = () => {
    const list = scroller.current;
    if (!list) return [];
    const top = Math.floor(list.scrollTop / ROW);
    const end = Math.min(rowsInAll, Math.ceil((list.scrollTop + list.clientHeight - HEAD) / ROW));
    const ids: number[] = [];
    for (let at = top; at < end; at++) {
      const row = byPage.get(Math.floor(at / PAGE))?.[at % PAGE];
      if (row) ids.push(row.id);
    }
    return ids;
  };

  if (head.isPending) return <Loading what="contacts" />;
  if (head.isLoadingError) return <Failed error={head.error} retry={() => void head.refetch()} />;
  const template = [
    ...(picks ? [`${TICK}px`] : []),
    ...columns.map(({ width }) => `minmax(${narrow ? 40 : leastOf(width)}px, ${width}fr)`),
  ].join(' ');
  // Columns that stay in sight stand where their widths put them: only where all do not fit is there anywhere to go.
  const lefts = pinnedLefts(columns, narrow ? 0 : pinned, picks !== null);
  const least = narrow ? undefined : columns.reduce((sum, { width }) => sum + leastOf(width), (picks ? TICK : 0) + 28);
  return (
    <>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-auto bg-cloth"
        aria-label={`${count(rowsInAll)} contacts`}
        aria-rowcount={rowsInAll + 1}
        aria-colcount={columns.length + (picks ? 1 : 0)}
        aria-multiselectable={picks !== null}
        aria-activedescendant={picked ? `contact-${picked}` : undefined}
        role="grid"
        tabIndex={0}
      >
        <div
          role="row"
          aria-rowindex={1}
          className="sticky top-0 z-10 grid items-center border-b border-strong bg-ground px-3.5 text-[12px] text-ink2"
          style={{ gridTemplateColumns: template, height: HEAD, minWidth: least }}
        >
          {picks ? (
            <PickHead
              picks={picks}
              total={rowsInAll}
              isSticky={lefts[0] !== undefined}
              shownIds={shownIds}
              onPicks={onPicks}
            />
          ) : null}
          {columns.map((column, i) => (
            <HeaderCell
              key={column.key}
              column={column}
              columns={columns}
              left={lefts[i]}
              sort={sort}
              onSort={onSort}
            />
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
          <div role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative', minWidth: least }}>
            {blocks.map(({ index, start }) => (
              <Block
                key={index}
                from={index * BLOCK}
                n={Math.min(BLOCK, rowsInAll - index * BLOCK)}
                top={start}
                rows={byPage.get(Math.floor((index * BLOCK) / PAGE))}
                columns={columns}
                template={template}
                lefts={lefts}
                height={ROW}
                sort={sort}
                picked={picked}
                picks={picks}
                onPick={onPick}
                onTurn={onTurn}
              />
            ))}
          </div>
        )}
      </div>
      <p className="border-t border-hair px-3.5 py-1 text-[12px] text-ink2" role="status">
        {count(rowsInAll)}
        {head.data.totalIsLeast ? ' or more' : ''} {rowsInAll === 1 ? 'contact' : 'contacts'}
        {head.data.isNear ? ' · nobody is called just that; these are one slip away' : ''}
        {head.isFetching || pages.fetching ? ' · looking' : ''}
      </p>
    </>
  );
}

/** A column gives way to others by a fifth before one has to scroll sideways. */
const leastOf = (width: number): number => Math.round(width * 0.8);

/** Where the first columns stand that stay in sight; nothing of the others. */
function pinnedLefts(columns: readonly GridColumn[], pinned: number, hasTick: boolean): (number | undefined)[] {
  let left = 14 + (hasTick ? TICK : 0);
  return columns.map(({ width }, i) => {
    if (i >= pinned) return undefined;
    const at = left;
    left += leastOf(width);
    return at;
  });
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

interface PickHeadProps {
  picks: Picks;
  total: number;
  isSticky: boolean;
  shownIds: () => number[];
  onPicks: (picks: Picks) => void;
}

/** The head of the column in which one picks: those in sight, then all, then nobody. */
function PickHead({ picks, total, isSticky, shownIds, onPicks }: PickHeadProps) {
  const n = pickedOf(picks, total);
  const next = picks.isAll ? 'nobody' : n ? `all ${count(total)}` : 'those in sight';
  return (
    <div role="columnheader" className={isSticky ? `${EDGE} z-[2]` : ''}>
      <input
        type="checkbox"
        className="size-3.5 align-middle"
        aria-label={`Pick ${next}`}
        title={`Pick ${next}`}
        checked={n > 0}
        ref={(box) => {
          if (box) box.indeterminate = n > 0 && n < total;
        }}
        onChange={() =>
          onPicks(
            picks.isAll ? NO_PICKS : n ? { isAll: true, ids: new Set() } : { isAll: false, ids: new Set(shownIds()) },
          )
        }
      />
    </div>
  );
}

function HeaderCell({
  column,
  columns,
  left,
  sort,
  onSort,
}: {
  column: GridColumn;
  columns: GridColumn[];
  /** Where it stands, of a column that stays in sight. */
  left: number | undefined;
  sort: ContactSort;
  onSort: (sort: ContactSort) => void;
}) {
  const cell = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; width: number; scale: number } | null>(null);
  const { orders } = column;
  const current = sort.replace(/:back$/, '');
  const active = orders.includes(current);
  const isBack = sort.endsWith(':back');
  // The same order turned round, then the next that the column knows.
  const at = orders.indexOf(current);
  const next = !active ? orders[0] : isBack ? orders[(at + 1) % orders.length] : `${current}:back`;
  const falls = isBack !== (current === 'touched');
  return (
    <div
      ref={cell}
      role="columnheader"
      aria-sort={active ? (falls ? 'descending' : 'ascending') : undefined}
      className={`flex min-w-0 items-center pr-3 ${left === undefined ? 'relative' : 'sticky z-[2] bg-inherit'}`}
      style={left === undefined ? undefined : { left }}
    >
      {next ? (
        <button
          type="button"
          className={`min-h-6 truncate text-left hover:text-ink ${active ? 'text-ink' : ''}`}
          onClick={() => onSort(next)}
        >
          {column.key === 'name' && current === 'given' ? 'Name, given first' : column.name}
          {active ? (falls ? ' ↑' : ' ↓') : ''}
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
  /** Where columns that stay in sight stand. */
  lefts: readonly (number | undefined)[];
  height: number;
  sort: ContactSort;
  picked: number | null;
  picks: Picks | null;
  onPick: (id: number) => void;
  onTurn: (id: number, place: number, isRange: boolean) => void;
}

const Block = memo(function Block(props: BlockProps) {
  const { from, n, top, rows, columns, template, lefts, height, sort, picked, picks, onPick, onTurn } = props;
  return (
    <div role="presentation" className="absolute inset-x-0" style={{ top, contain: 'style' }}>
      {Array.from({ length: n }, (_, i) => {
        const row = rows?.[(from + i) % PAGE];
        if (!row)
          return (
            <div key={i} role="row" aria-rowindex={from + i + 2} className="px-3.5 text-ink3" style={{ height }}>
              <span role="gridcell">…</span>
            </div>
          );
        const isOpen = row.id === picked;
        return (
          <div
            key={i}
            id={`contact-${row.id}`}
            role="row"
            aria-rowindex={from + i + 2}
            aria-selected={isOpen}
            onClick={() => onPick(row.id)}
            className={
              `grid cursor-pointer items-center border-b border-hair px-3.5 ` +
              `${isOpen ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'bg-cloth hover:bg-page'}`
            }
            style={{ gridTemplateColumns: template, height }}
          >
            {picks ? (
              <span role="gridcell" className={lefts[0] === undefined ? '' : EDGE}>
                <input
                  type="checkbox"
                  className="size-3.5 align-middle"
                  aria-label={`Pick ${row.name}`}
                  checked={isPicked(picks, row.id)}
                  onChange={() => undefined}
                  onClick={(event) => {
                    event.stopPropagation();
                    onTurn(row.id, from + i, event.shiftKey);
                  }}
                />
              </span>
            ) : null}
            {columns.map((column, at) => (
              <span
                key={column.key}
                role="gridcell"
                className={`truncate pr-3 ${stickyClass(lefts[at], at === 0 && !picks)}`}
                style={lefts[at] === undefined || (at === 0 && !picks) ? undefined : { left: lefts[at] }}
              >
                {column.cell(row, sort)}
              </span>
            ))}
          </div>
        );
      })}
    </div>
  );
});
