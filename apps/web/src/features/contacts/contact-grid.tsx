import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import type { ContactListRow, ContactPage, ContactSort } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { Failed, Loading, Notice } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count, When } from '../../ui/when';

const ROW = 31;
const PAGE = 200;
const COLUMNS = 'minmax(150px,1.3fr) minmax(150px,1.6fr) minmax(120px,1fr) minmax(80px,.7fr) 84px';

interface GridProps {
  params: URLSearchParams;
  sort: ContactSort;
  picked: number | null;
  onPick: (id: number) => void;
  onSort: (sort: ContactSort) => void;
}

function pageAddress(params: URLSearchParams, sort: ContactSort, after: string): string {
  const query = new URLSearchParams({ sort, limit: String(PAGE) });
  for (const key of ['find', 'tag', 'stage', 'source', 'run', 'deleted', 'from']) {
    const value = params.get(key);
    if (value) query.set(key, value);
  }
  if (after) query.set('after', after);
  return `/contacts?${query.toString()}`;
}

/** The grid: pages are fetched by cursor as one scrolls, and only rows in sight are drawn. */
export function ContactGrid({ params, sort, picked, onPick, onSort }: GridProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const address = pageAddress(params, sort, '');
  const pages = useInfiniteQuery({
    queryKey: ['contacts', address],
    queryFn: ({ pageParam, signal }) => api.get<ContactPage>(pageAddress(params, sort, pageParam), signal),
    initialPageParam: '',
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
  });
  const rows = useMemo(() => pages.data?.pages.flatMap((page) => page.rows) ?? [], [pages.data]);
  const total = pages.data?.pages[0]?.total ?? 0;
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions go to no memoized component
  const virtual = useVirtualizer({
    count: rows.length + (pages.hasNextPage ? 1 : 0),
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const items = virtual.getVirtualItems();
  const lastShown = items[items.length - 1]?.index ?? 0;
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = pages;
  useEffect(() => {
    if (lastShown >= rows.length - 40 && hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [lastShown, rows.length, hasNextPage, isFetchingNextPage, fetchNextPage]);
  useEffect(() => scroller.current?.scrollTo({ top: 0 }), [address]);

  const move = (step: number) => {
    const at = rows.findIndex((row) => row.id === picked);
    const next = rows[at < 0 ? 0 : Math.min(rows.length - 1, Math.max(0, at + step))];
    if (!next) return;
    onPick(next.id);
    virtual.scrollToIndex(rows.indexOf(next));
  };
  useShortcut('ArrowDown / j', 'Next contact', 'Contacts', () => move(1));
  useShortcut('ArrowUp / k', 'Contact before', 'Contacts', () => move(-1));

  if (pages.isPending) return <Loading what="contacts" />;
  if (pages.error) return <Failed error={pages.error} retry={() => void pages.refetch()} />;
  return (
    <>
      <div
        className="grid items-center gap-3 border-b border-strong px-3.5 py-1 text-[12px] text-ink2"
        style={{ gridTemplateColumns: COLUMNS }}
      >
        <SortHeader
          text={sort === 'given' ? 'Name, given first' : 'Name'}
          active={sort !== 'touched'}
          onClick={() => onSort(sort === 'family' ? 'given' : 'family')}
        />
        <span>E-mail</span>
        <span>Phone</span>
        <span>Stage</span>
        <SortHeader text="Last thread" active={sort === 'touched'} onClick={() => onSort('touched')} />
      </div>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-y-auto bg-cloth"
        aria-label={`${count(total)} contacts`}
        role="list"
        tabIndex={0}
      >
        {rows.length === 0 ? (
          <Notice title={[...params].length ? 'Nobody fits' : 'No contacts yet'}>
            {[...params].length
              ? 'Take a condition away, or look for less.'
              : 'Bring a file in under Intake, or press n to add one by hand.'}
          </Notice>
        ) : (
          <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
            {items.map((item) => {
              const row = rows[item.index];
              return (
                <div
                  key={item.key}
                  role="listitem"
                  className="absolute inset-x-0"
                  style={{ top: item.start, height: ROW }}
                >
                  {row ? (
                    <Row row={row} sort={sort} picked={row.id === picked} onPick={onPick} />
                  ) : (
                    <div className="px-3.5 py-1.5 text-ink3">…</div>
                  )}
                </div>
              );
            })}
          </div>
        )}
      </div>
      <p className="border-t border-hair px-3.5 py-1 text-[12px] text-ink2" role="status">
        {count(total)} {total === 1 ? 'contact' : 'contacts'}
        {pages.isFetching ? ' · looking' : ''}
      </p>
    </>
  );
}

function SortHeader({ text, active, onClick }: { text: string; active: boolean; onClick: () => void }) {
  return (
    <button type="button" className={`min-h-6 text-left hover:text-ink ${active ? 'text-ink' : ''}`} onClick={onClick}>
      {text}
      {active ? ' ↓' : ''}
    </button>
  );
}

function Row({
  row,
  sort,
  picked,
  onPick,
}: {
  row: ContactListRow;
  sort: ContactSort;
  picked: boolean;
  onPick: (id: number) => void;
}) {
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-current={picked || undefined}
      onClick={() => onPick(row.id)}
      className={`grid h-full w-full items-center gap-3 border-b border-hair px-3.5 text-left ${picked ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'hover:bg-page'}`}
      style={{ gridTemplateColumns: COLUMNS }}
    >
      <span className="truncate">{sort === 'given' ? row.givenFirst : row.name}</span>
      <span className="truncate">{row.email}</span>
      <span className="truncate">{row.tel}</span>
      <span className="truncate">{row.stage}</span>
      <span className="flex items-center gap-1.5 text-ink2">
        <ThreadSwatch kind={row.lastThread} /> <When at={row.touchedAt} />
      </span>
    </button>
  );
}
