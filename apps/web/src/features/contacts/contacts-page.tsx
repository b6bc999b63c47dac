import { useQuery } from '@tanstack/react-query';
import { useCallback } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { ContactSort, Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Combobox } from '../../ui/combobox';
import { SplitView } from '../../ui/split-view';
import { ContactGrid } from './contact-grid';
import { ContactSheet } from './contact-sheet';

const SORTS: { value: ContactSort; text: string }[] = [
  { value: 'family', text: 'family name first' },
  { value: 'given', text: 'given name first' },
  { value: 'touched', text: 'last changed first' },
];
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'.split('');

/** All contacts: filter line in words, initial letters, the grid, and the sheet of whoever is picked. */
export function ContactsPage() {
  const { id } = useParams();
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const lists = useQuery({ queryKey: ['lists'], queryFn: () => api.get<Lists>('/lists'), staleTime: 30_000 });
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
  const pick = (contactId: number | null) =>
    void navigate(
      { pathname: contactId ? `/contacts/${contactId}` : '/contacts', search: params.toString() },
      { replace: !!id && !!contactId },
    );
  const sort = (params.get('sort') ?? 'family') as ContactSort;
  const query = new URLSearchParams(
    [...params].filter(([key]) => ['find', 'tag', 'stage', 'source', 'run', 'deleted'].includes(key)),
  ).toString();
  return (
    <SplitView
      list={
        <>
          <FilterLine params={params} set={set} lists={lists.data} exportQuery={query} />
          <div className="flex items-center border-b border-hair px-2.5 py-0.5 text-[12.5px]">
            {LETTERS.map((letter) => (
              <button
                key={letter}
                type="button"
                aria-label={`Go to ${letter}`}
                aria-pressed={params.get('from') === letter}
                disabled={sort === 'touched'}
                className={`min-h-6 min-w-6 text-center hover:text-ink disabled:opacity-40 ${params.get('from') === letter ? 'font-bold text-ink' : 'text-ink2'}`}
                onClick={() => set({ from: params.get('from') === letter ? null : letter })}
              >
                {letter}
              </button>
            ))}
            <label className="ml-auto text-ink2">
              <span className="sr-only">Order</span>
              <select
                className="bg-transparent"
                value={sort}
                onChange={(event) =>
                  set({ sort: event.target.value === 'family' ? null : event.target.value, from: null })
                }
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
            params={params}
            sort={sort}
            picked={id ? Number(id) : null}
            onPick={pick}
            onSort={(next) => set({ sort: next === 'family' ? null : next, from: null })}
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
  exportQuery: string;
}

const WORDS: Record<string, string> = {
  find: 'has',
  tag: 'tag is',
  stage: 'stage is',
  source: 'source is',
  run: 'touched by run',
  deleted: 'is',
};

function FilterLine({ params, set, lists, exportQuery }: FilterLineProps) {
  const active = Object.keys(WORDS).filter((key) => params.get(key));
  const choices = [
    ...(lists?.stages ?? []).map((stage) => ({
      value: `stage:${stage.label}`,
      text: stage.label,
      group: 'Stage is',
      hint: stage.meaning,
    })),
    ...(lists?.tags ?? []).map((tag) => ({
      value: `tag:${tag.label}`,
      text: tag.label,
      group: 'Tag is',
      hint: String(tag.count),
    })),
    ...(lists?.sources ?? []).map((source) => ({
      value: `source:${source.label}`,
      text: source.label,
      group: 'Source is',
      hint: String(source.count),
    })),
    { value: 'deleted:true', text: 'deleted', group: 'Is' },
  ];
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-hair px-3.5 py-2">
      <h1 className="text-[15.5px] font-bold">Contacts</h1>
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
        choices={choices}
        className="text-ink2 hover:text-ink"
        onChoose={(value) => {
          const at = value.indexOf(':');
          set({ [value.slice(0, at)]: value.slice(at + 1) });
        }}
      >
        + condition
      </Combobox>
      <a
        className="ml-auto text-ink2 hover:text-ink"
        href={`/api/contacts.csv${exportQuery ? `?${exportQuery}` : ''}`}
        download
      >
        {active.length ? 'Export these as CSV' : 'Export all as CSV'}
      </a>
    </div>
  );
}
