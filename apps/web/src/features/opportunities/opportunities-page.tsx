import { useMay } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { Opportunity, OpportunityPage } from '@gray-loom/wire';
import { OPPORTUNITY_FIELDS, showValue, STANDARD_FIELDS, type Pipeline } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { useLists } from '../../app/lists';
import { Button, Failed, Fault, Loading, Notice } from '../../ui/controls';
import { SheetHead } from '../../ui/sheet-head';
import { SplitView } from '../../ui/split-view';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count } from '../../ui/when';
import { ContactHistory } from '../contacts/contact-history';
import { RecordKinds } from '../contacts/record-kinds';
import { ContactPicker } from '../contacts/contact-picker';
import { addUp, sumsInWords } from './money';
import { OpportunityBoard } from './opportunity-board';
import { OpportunityForm } from './opportunity-form';

/** All opportunities, by stage on a board or as a list. Everything chosen stands in the address. */
export function OpportunitiesPage() {
  const mayEdit = useMay('editor');
  const pickedId = Number(useParams().id) || null;
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const touch = useTouch();
  const lists = useLists().data;
  const [adding, setAdding] = useState(false);
  const asked = new URLSearchParams([...params].filter(([key]) => ['pipeline', 'owner', 'find'].includes(key)));
  const page = useQuery({
    queryKey: keys.opportunities(asked.toString()),
    queryFn: () => api.get<OpportunityPage>(`/opportunities?${asked.toString()}`),
    placeholderData: keepPreviousData,
  });
  const move = useMutation({
    mutationFn: ({ opportunity, stage }: { opportunity: Opportunity; stage: string }) =>
      api.post(`/opportunities/${opportunity.id}/stage`, { stage, version: opportunity.version }),
    onSettled: () => touch('contacts', 'run'),
  });
  if (page.isPending) return <Loading what="the opportunities" />;
  if (page.isLoadingError) return <Failed error={page.error} retry={() => void page.refetch()} />;
  const { pipelines, rows, totals, more } = page.data;
  const pipeline = pipelines.find(({ name }) => name === params.get('pipeline')) ?? pipelines[0];
  const ofPipeline = rows.filter((row) => row.pipeline === pipeline?.name);
  const asList = params.get('as') === 'list';
  const set = (changes: Record<string, string>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes))
      if (value) next.set(key, value);
      else next.delete(key);
    setParams(next, { replace: 'find' in changes });
  };
  const pick = (id: number | null) => {
    setAdding(false);
    void navigate({ pathname: id === null ? '/opportunities' : `/opportunities/${id}`, search: params.toString() });
  };
  const picked = rows.find((row) => row.id === pickedId) ?? null;
  const open = ofPipeline.filter(({ outcome }) => outcome === 'open');
  return (
    <SplitView
      list={
        <>
          <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-strong px-3.5 py-2">
            <h1 className="sr-only">Opportunities</h1>
            <RecordKinds current="opportunities" lists={lists} />
            <span className="text-ink2">
              {count(ofPipeline.length)}
              {open.length ? `, open: ${sumsInWords(addUp(open.map(({ value }) => value))) || count(open.length)}` : ''}
            </span>
            {pipelines.length > 1 ? (
              <select
                aria-label="Pipeline"
                className="field"
                value={pipeline?.name}
                onChange={(event) => set({ pipeline: event.target.value })}
              >
                {pipelines.map(({ name }) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            ) : null}
            <input
              type="search"
              aria-label="Find an opportunity or its contact"
              placeholder="opportunity or contact"
              className="field w-48"
              value={params.get('find') ?? ''}
              onChange={(event) => set({ find: event.target.value })}
            />
            <select
              aria-label="Owner"
              className="field"
              value={params.get('owner') ?? ''}
              onChange={(event) => set({ owner: event.target.value })}
            >
              <option value="">any owner</option>
              {[...new Set([...rows.map(({ owner }) => owner), ...(lists?.owners ?? []).map(({ label }) => label)])]
                .filter(Boolean)
                .sort()
                .map((owner) => (
                  <option key={owner}>{owner}</option>
                ))}
            </select>
            <span className="ml-auto flex items-center gap-3">
              <span role="group" aria-label="Shown as" className="flex gap-2">
                {(['board', 'list'] as const).map((as) => (
                  <button
                    key={as}
                    type="button"
                    aria-pressed={asList === (as === 'list')}
                    className={asList === (as === 'list') ? 'font-bold' : 'text-ink2 hover:text-ink'}
                    onClick={() => set({ as: as === 'list' ? 'list' : '' })}
                  >
                    {as === 'list' ? 'List' : 'Board'}
                  </button>
                ))}
              </span>
              <Button needs="editor" kind="action" onClick={() => setAdding(true)}>
                New opportunity
              </Button>
            </span>
          </div>
          <Fault error={move.error} onClose={() => move.reset()} />
          {more ? (
            <p className="border-b border-hair bg-cloth px-3.5 py-1.5 text-ink2">
              The first {count(rows.length)} are shown. Narrow them by owner or find.
            </p>
          ) : null}
          {!pipeline ? null : asList ? (
            <OpportunityList rows={ofPipeline} pickedId={pickedId} onPick={pick} />
          ) : (
            <OpportunityBoard
              pipeline={pipeline}
              rows={ofPipeline}
              totals={totals.filter((total) => total.pipeline === pipeline.name)}
              pickedId={pickedId}
              onPick={pick}
              onMove={(opportunity, stage) => (mayEdit ? move.mutate({ opportunity, stage }) : undefined)}
            />
          )}
        </>
      }
      sheet={
        adding ? (
          <NewOpportunity pipelines={pipelines} onClose={() => setAdding(false)} />
        ) : picked ? (
          <OpportunitySheet key={picked.id} opportunity={picked} pipelines={pipelines} onClose={() => pick(null)} />
        ) : pickedId && !page.isFetching ? (
          <Notice title="This opportunity is not among those shown">
            It was deleted, or what you look for does not fit it.
          </Notice>
        ) : null
      }
    />
  );
}

interface ListProps {
  rows: readonly Opportunity[];
  pickedId: number | null;
  onPick: (id: number) => void;
}

function OpportunityList({ rows, pickedId, onPick }: ListProps) {
  if (!rows.length)
    return (
      <Notice title="No opportunity here yet">Add one, or bring a file in that has some beside its contacts.</Notice>
    );
  return (
    <div className="min-h-0 flex-1 overflow-y-auto bg-cloth">
      <table className="w-full text-[13px]">
        <thead className="sticky top-0 bg-page text-left text-[12.5px] text-ink2">
          <tr>
            {['Opportunity', 'Contact', 'Stage', 'Value', 'Expected on', 'Owner'].map((name) => (
              <th key={name} scope="col" className="border-b border-strong px-3 py-1 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr
              key={row.id}
              className={`border-b border-hair ${row.id === pickedId ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'hover:bg-page'}`}
            >
              <td className="px-3 py-1">
                <button
                  type="button"
                  className="text-left font-semibold hover:underline"
                  onClick={() => onPick(row.id)}
                >
                  {row.name}
                </button>
              </td>
              <td className="px-3 py-1">
                {row.contact ? (
                  <Link to={`/contacts/${row.contact.id}`} className="hover:underline">
                    {row.contact.name}
                  </Link>
                ) : null}
              </td>
              <td className={`px-3 py-1 ${row.outcome === 'open' ? '' : 'font-semibold'}`}>{row.stage}</td>
              <td className="px-3 py-1 text-right whitespace-nowrap">
                {row.value ? showValue('opportunityValue', { v: row.value }) : ''}
              </td>
              <td className="px-3 py-1 whitespace-nowrap">
                {row.closeDate ? showValue('opportunityCloseDate', { v: row.closeDate }) : ''}
              </td>
              <td className="px-3 py-1">{row.owner}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function NewOpportunity({ pipelines, onClose }: { pipelines: readonly Pipeline[]; onClose: () => void }) {
  const [contact, setContact] = useState<{ id: number; name: string } | null>(null);
  return (
    <article className="px-4.5 py-3.5">
      <SheetHead title="New opportunity" onClose={onClose} />
      {contact ? (
        <>
          <p className="mt-2">
            For <strong className="font-semibold">{contact.name}</strong>{' '}
            <button type="button" className="link" onClick={() => setContact(null)}>
              somebody else
            </button>
          </p>
          <OpportunityForm contactId={contact.id} pipelines={pipelines} opportunity={null} onDone={onClose} />
        </>
      ) : (
        <div className="mt-2">
          <p className="mb-1 text-ink2">Whose opportunity is it?</p>
          <ContactPicker label="Contact" exceptId={null} autoFocus onChoose={setContact} />
        </div>
      )}
    </article>
  );
}

interface SheetProps {
  opportunity: Opportunity;
  pipelines: readonly Pipeline[];
  onClose: () => void;
}

function OpportunitySheet({ opportunity, pipelines, onClose }: SheetProps) {
  const touch = useTouch();
  const [editing, setEditing] = useState(false);
  const drop = useMutation({
    mutationFn: () => api.delete(`/opportunities/${opportunity.id}`),
    onSuccess: async () => {
      await touch('contacts', 'run');
      onClose();
    },
  });
  const { name, contact, pipeline, stage, value, closeDate, owner, note, outsideId } = opportunity;
  const meaning = pipelines.find((one) => one.name === pipeline)?.stages.find(({ label }) => label === stage)?.meaning;
  const lines: [string, string][] = [
    ['Stage', pipelines.length > 1 ? `${stage} (${pipeline})` : stage],
    ['Value', value ? showValue('opportunityValue', { v: value }) : ''],
    ['Expected on', closeDate ? showValue('opportunityCloseDate', { v: closeDate }) : ''],
    ['Owner', owner],
    ['Outside id', outsideId],
    ['Note', note],
  ];
  return (
    <article className="px-4.5 py-3.5">
      <SheetHead title={name} before={<ThreadSwatch kind={opportunity.lastThread} />} onClose={onClose} />
      {contact ? (
        <p className="mt-1">
          <Link className="link" to={`/contacts/${contact.id}`}>
            {contact.name}
          </Link>
        </p>
      ) : null}
      <Fault error={drop.error} onClose={() => drop.reset()} />
      {editing && contact ? (
        <OpportunityForm
          contactId={contact.id}
          pipelines={pipelines}
          opportunity={opportunity}
          onDone={() => setEditing(false)}
        />
      ) : (
        <>
          <dl className="mt-3">
            {lines.map(([term, text]) =>
              text ? (
                <div key={term} className="grid grid-cols-[110px_minmax(0,1fr)] border-b border-hair py-1">
                  <dt className="text-[12.5px] text-ink2">{term}</dt>
                  <dd className="break-words whitespace-pre-wrap">
                    {text}
                    {term === 'Stage' && meaning ? (
                      <span className="block text-[12.5px] text-ink2">{meaning}</span>
                    ) : null}
                  </dd>
                </div>
              ) : null,
            )}
          </dl>
          <p className="mt-3 flex gap-2">
            <Button needs="editor" onClick={() => setEditing(true)} disabled={!contact}>
              Change
            </Button>
            <Button needs="editor" kind="danger" busy={drop.isPending} onClick={() => drop.mutate()}>
              Delete
            </Button>
          </p>
        </>
      )}
      <ContactHistory id={opportunity.id} fields={[...OPPORTUNITY_FIELDS, ...STANDARD_FIELDS]} />
    </article>
  );
}
