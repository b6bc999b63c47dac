import { RecordKinds } from './record-kinds';
import { useMutation, useQuery } from '@tanstack/react-query';
import { DropdownMenu } from 'radix-ui';
import { useCallback, useRef, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { ContactPage, ContactSort, LabelCount, Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';
import { useLists } from '../../app/lists';
import { useMay } from '../../app/may';
import { HandOverDialog, peopleInWords } from '../people/hand-over';
import { usePreferences } from '../../app/preferences';
import { Combobox } from '../../ui/combobox';
import { SplitView } from '../../ui/split-view';
import { count } from '../../ui/when';
import { ContactGrid, type GridHandle } from './contact-grid';
import { ContactSheet } from './contact-sheet';
import { ExportDialog } from './export-dialog';
import { ColumnChooser } from './grid-columns';

const SORTS: { value: ContactSort; text: string }[] = [
  { value: 'family', text: 'family name first' },
  { value: 'given', text: 'given name first' },
  { value: 'touched', text: 'last changed first' },
];
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'.split('');
const CONDITIONS = ['find', 'tag', 'stage', 'source', 'area', 'owner', 'run', 'deleted'];

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
  const sort = (params.get('sort') ?? 'family') as ContactSort;
  const filter = new URLSearchParams([...params].filter(([key]) => [...CONDITIONS, 'kind'].includes(key)));
  const query = new URLSearchParams([...filter, ['sort', sort]]).toString();
  const letter = useMutation({
    mutationFn: (letter: string) => api.get<{ at: number }>(`/contacts/place?${query}&letter=${letter}`),
    onSuccess: ({ at }) => grid.current?.goTo(at),
  });
  return (
    <SplitView
      list={
        <>
          <FilterLine params={params} set={set} lists={lists.data} query={filter.toString()} />
          <div className="flex shrink-0 items-center border-b border-hair px-2.5 py-0.5 text-[12.5px]">
            <div className="flex min-w-0 flex-1 overflow-x-auto">
              {LETTERS.map((one) => (
                <button
                  key={one}
                  type="button"
                  aria-label={`Go to ${one}`}
                  disabled={sort === 'touched'}
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
              <select
                className="bg-transparent"
                value={sort}
                onChange={(event) => set({ sort: event.target.value === 'family' ? null : event.target.value })}
              >
                {SORTS.map(({ value, text }) => (
                  <option key={value} value={value}>
                    {text}
                  </option>
                ))}
              </select>
            </label>
          </div>
          <ContactGrid
            ref={grid}
            query={query}
            filtered={CONDITIONS.some((key) => params.get(key)) || params.get('kind') === 'organization'}
            sort={sort}
            picked={id ? Number(id) : null}
            lists={lists.data}
            onPick={pick}
            onSort={(next) => set({ sort: next === 'family' ? null : next })}
          />
        </>
      }
      sheet={id ? <ContactSheet key={id} id={Number(id)} onClose={() => pick(null)} lists={lists.data} /> : null}
    />
  );
}

interface FilterLineProps {
  params: URLSearchParams;
  set: (changes: Record<string, string | null>) => void;
  lists: Lists | undefined;
  query: string;
}

const WORDS: Record<string, string> = {
  find: 'has',
  tag: 'tag is',
  stage: 'stage is',
  source: 'source is',
  area: 'area is',
  owner: 'owner is',
  run: 'touched by run',
  deleted: 'is',
};

function conditionChoices(lists: Lists | undefined, who: 'people' | 'organizations') {
  const counted = (key: string, group: string, items: LabelCount[] = []) =>
    items.map((item) => ({ value: `${key}:${item.label}`, text: item.label, group, hint: count(item[who]) }));
  return [
    ...(lists?.stages ?? []).map((stage) => ({
      value: `stage:${stage.label}`,
      text: stage.label,
      group: 'Stage is',
      hint: stage.meaning,
    })),
    ...counted('tag', 'Tag is', lists?.tags),
    ...counted('area', 'Area is', lists?.areas),
    ...counted('source', 'Source is', lists?.sources),
    ...counted('owner', 'Owner is', lists?.owners),
    { value: 'deleted:true', text: 'deleted', group: 'Is' },
  ];
}

function FilterLine({ params, set, lists, query }: FilterLineProps) {
  const active = CONDITIONS.filter((key) => params.get(key));
  const kind = params.get('kind') ?? 'person';
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-hair px-3.5 py-2">
      <h1 className="sr-only">Contacts</h1>
      <RecordKinds current={kind === 'organization' ? 'organizations' : 'people'} lists={lists} />
      {active.map((key) => (
        <span key={key} className="inline-flex items-center rounded-loom border border-strong bg-page">
          <span className="py-0.5 pl-2">
            <span className="text-ink2">{WORDS[key]}</span>{' '}
            <strong className="font-semibold">{key === 'deleted' ? 'deleted' : params.get(key)}</strong>
          </span>
          <button
            type="button"
            aria-label={`Take away: ${WORDS[key]} ${params.get(key)}`}
            className="px-2 text-ink3 hover:text-ink"
            onClick={() => set({ [key]: null })}
          >
            ×
          </button>
        </span>
      ))}
      <Combobox
        label="Add a condition"
        value={null}
        choices={conditionChoices(lists, kind === 'organization' ? 'organizations' : 'people')}
        className="text-ink2 hover:text-ink"
        onChoose={(value) => {
          const at = value.indexOf(':');
          set({ [value.slice(0, at)]: value.slice(at + 1) });
        }}
      >
        + condition
      </Combobox>
      <span className="ml-auto flex gap-4">
        <ColumnChooser lists={lists} />
        {params.get('deleted') ? null : <HandOverThese query={query} />}
        <TakeOut query={query} all={active.length === 0} lists={lists} />
      </span>
    </div>
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
