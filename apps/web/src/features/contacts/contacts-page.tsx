import { useMutation, useQuery } from '@tanstack/react-query';
import { DropdownMenu } from 'radix-ui';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { ContactPage, ContactSort, Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';
import { useLists } from '../../app/lists';
import { useMay } from '../../app/may';
import { HandOverDialog, peopleInWords } from '../people/hand-over';
import { usePreferences } from '../../app/preferences';
import { SplitView } from '../../ui/split-view';
import { ContactGrid, type GridHandle } from './contact-grid';
import { ContactSheet } from './contact-sheet';
import { ExportDialog } from './export-dialog';
import { FilterLine } from './filter-line';
import { ColumnChooser } from './column-chooser';
import { PickBar } from './pick-bar';
import { usePicks } from './use-picks';

const SORTS: { value: ContactSort; text: string }[] = [
  { value: 'family', text: 'family name first' },
  { value: 'given', text: 'given name first' },
  { value: 'touched', text: 'last changed first' },
];
const BEST = { value: 'best', text: 'best fit first' };
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'.split('');
const CONDITIONS = ['find', 'where', 'deleted'];

/** All contacts: filter line in words, initial letters, the grid, and the sheet of whoever is picked. */
export function ContactsPage() {
  const { id } = useParams();
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const lists = useLists();
  const grid = useRef<GridHandle>(null);
  const set = useCallback(
    (changes: Record<string, string | null>) => {
      const next = new URLSearchParams(params);
      for (const [key, value] of Object.entries(changes)) {
        if (value) next.set(key, value);
        else next.delete(key);
      }
      setParams(next, { replace: true });
    },
    [params, setParams],
  );
  const search = params.toString();
  const pick = useCallback(
    (contactId: number | null) =>
      void navigate(
        { pathname: contactId ? `/contacts/${contactId}` : '/contacts', search },
        { replace: !!id && !!contactId },
      ),
    [navigate, search, id],
  );
  const usual: ContactSort = params.get('find') ? 'best' : 'family';
  const sort: ContactSort = params.get('sort') ?? usual;
  const setSort = (next: ContactSort) => set({ sort: next === usual ? null : next });
  const filter = new URLSearchParams([...params].filter(([key]) => [...CONDITIONS, 'kind'].includes(key)));
  const query = new URLSearchParams([...filter, ['sort', sort]]).toString();
  const filterText = filter.toString();
  const mayEdit = useMay('editor');
  const [total, setTotal] = useState(0);
  const picks = usePicks(query);
  const turn = useRef(picks.turn);
  useEffect(() => {
    turn.current = picks.turn;
  });
  const onTurn = useCallback(
    (contactId: number, place: number, isRange: boolean) => void turn.current(contactId, place, isRange),
    [],
  );
  const letter = useMutation({
    mutationFn: (letter: string) => api.get<{ at: number }>(`/contacts/place?${query}&letter=${letter}`),
    onSuccess: ({ at }) => grid.current?.goTo(at),
  });
  return (
    <SplitView
      list={
        <>
          <FilterLine params={params} set={set} lists={lists.data}>
            <ColumnChooser lists={lists.data} sort={sort} onSort={setSort} />
            {params.get('deleted') ? null : <HandOverThese query={filter.toString()} />}
            <TakeOut query={filter.toString()} all={!CONDITIONS.some((key) => params.get(key))} lists={lists.data} />
          </FilterLine>
          <div className="flex shrink-0 items-center border-b border-hair px-2.5 py-0.5 text-[12.5px]">
            <div className="flex min-w-0 flex-1 overflow-x-auto">
              {LETTERS.map((one) => (
                <button
                  key={one}
                  type="button"
                  aria-label={`Go to ${one}`}
                  disabled={!['family', 'given'].includes(sort)}
                  className={
                    `min-h-6 min-w-5 flex-1 text-center hover:text-ink disabled:opacity-40 ` +
                    `${letter.variables === one ? 'font-bold text-ink' : 'text-ink2'}`
                  }
                  onClick={() => letter.mutate(one)}
                >
                  {one}
                </button>
              ))}
            </div>
            <label className="ml-3 shrink-0 text-ink2">
              <span className="sr-only">Order</span>
              <select className="bg-transparent" value={sort} onChange={(event) => setSort(event.target.value)}>
                {(params.get('find') ? [BEST, ...SORTS] : SORTS).map(({ value, text }) => (
                  <option key={value} value={value}>
                    {text}
                  </option>
                ))}
                {[...SORTS, BEST].some(({ value }) => value === sort) ? null : (
                  <option value={sort}>by a column</option>
                )}
              </select>
            </label>
          </div>
          <PickBar picks={picks.picks} total={total} query={filterText} error={picks.error} onPicks={picks.set} />
          <ContactGrid
            ref={grid}
            query={query}
            filtered={CONDITIONS.some((key) => params.get(key)) || params.get('kind') === 'organization'}
            sort={sort}
            picked={id ? Number(id) : null}
            lists={lists.data}
            picks={mayEdit ? picks.picks : null}
            onTurn={onTurn}
            onPicks={picks.set}
            onTotal={setTotal}
            onPick={pick}
            onSort={setSort}
          />
        </>
      }
      sheet={id ? <ContactSheet key={id} id={Number(id)} onClose={() => pick(null)} lists={lists.data} /> : null}
    />
  );
}

/** Hands over all that is listed. */
function HandOverThese({ query }: { query: string }) {
  const [asked, setAsked] = useState(false);
  const mayEdit = useMay('editor');
  const page = useQuery({
    queryKey: keys.contacts('count', query),
    queryFn: () => api.get<ContactPage>(`/contacts?${query}&limit=1`),
    enabled: asked,
  });
  if (!mayEdit) return null;
  const filter = Object.fromEntries(new URLSearchParams(query));
  const kind = filter.kind === 'organization' ? 'organization' : 'person';
  return (
    <>
      <button
        type="button"
        className="text-ink2 hover:text-ink"
        onClick={() => {
          setAsked(true);
          if (page.isError) void page.refetch();
        }}
      >
        Hand over
      </button>
      {asked && page.error ? (
        <span role="alert" className="text-alarm">
          {page.error.message}
        </span>
      ) : null}
      {asked && page.data ? (
        <HandOverDialog
          what={{ filter }}
          words={peopleInWords(page.data.total, kind)}
          onClose={() => setAsked(false)}
        />
      ) : null}
    </>
  );
}

const FILES = [
  ['csv', 'Table (CSV)', ''],
  ['tsv', 'Table, parted by tabs', ''],
  ['xlsx', 'Spreadsheet (.xlsx)', ''],
  ['jsonl', 'Lines of JSON', ''],
  ['vcf', 'vCard 4', ''],
  ['vcf', 'vCard 3', 'version=3.0'],
] as const;

/** What is shown, as a file or on paper. */
function TakeOut({ query, all, lists }: { query: string; all: boolean; lists: Lists | undefined }) {
  const [choosing, setChoosing] = useState(false);
  const shown = usePreferences()
    .columns.map(({ key }) => key)
    .join(',');
  const item = 'block w-full cursor-pointer px-3 py-1 outline-none data-[highlighted]:bg-picked';
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="text-ink2 hover:text-ink">
          {all ? 'Export all' : 'Export these'}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={3}
            className="z-50 min-w-48 border border-strong bg-page py-1 shadow-sm"
          >
            {FILES.map(([ending, text, more]) => (
              <DropdownMenu.Item key={text} asChild className={item}>
                <a href={`/api/contacts.${ending}?${[query, more].filter(Boolean).join('&')}`} download>
                  {text}
                </a>
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Item asChild className={item}>
              <a
                href={`/api/contacts.csv?${[query, `fields=${encodeURIComponent(shown)}`].filter(Boolean).join('&')}`}
                download
              >
                Columns of the grid (CSV)
              </a>
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => setChoosing(true)}>
              Choose fields and order…
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="my-1 border-t border-hair" />
            <DropdownMenu.Item asChild className={item}>
              <Link to={`/print/list?${query}`}>Print the list</Link>
            </DropdownMenu.Item>
            <DropdownMenu.Item asChild className={item}>
              <Link to={`/print/labels?${query}`}>Mailing labels</Link>
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {choosing ? <ExportDialog query={query} lists={lists} onClose={() => setChoosing(false)} /> : null}
    </>
  );
}
