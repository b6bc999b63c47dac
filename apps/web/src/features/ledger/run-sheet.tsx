import { keys } from '../../app/keys';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { ActivityKind } from '@gray-loom/core/activity';
import {
  ACTIVITY_COUNT,
  type EditSince,
  type LeftAsIs,
  type RunContact,
  type RunSummary,
  type UndoPreview,
} from '@gray-loom/wire';
import { api } from '../../app/api';
import { PauseButton } from '../../app/tape';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { SheetHead } from '../../ui/sheet-head';
import { THREAD_NAMES, ThreadSwatch } from '../../ui/thread-swatch';
import { count, exactly } from '../../ui/when';
import { contactsWith } from '../../app/where';
import { nameOfKinds } from '../activity/activity-words';

const COUNT_WORDS: Record<string, string> = {
  new: 'new people',
  fill: 'filled',
  replace: 'replaced',
  same: 'same',
  fold: 'folded into an earlier row',
  held: 'held',
  opportunitiesNew: 'new opportunities',
  opportunitiesChanged: 'opportunities changed',
  opportunitiesSame: 'opportunities as they are',
  opportunitiesLeft: 'opportunities left out',
  activitiesChanged: 'entries of activity changed',
  activitiesSame: 'entries of activity here already',
  restored: 'restored',
  removed: 'removed',
  left: 'left as they are',
  people: 'people',
  pairs: 'pairs compared',
  certain: 'certain groups',
  likely: 'likely groups',
  possible: 'possible groups',
  households: 'households proposed',
  merged: 'records',
  apart: 'records',
};

/** What a count is of; '' of one that is not shown. */
const nameOfCount = (key: string): string =>
  key.startsWith(ACTIVITY_COUNT)
    ? nameOfKinds(key.slice(ACTIVITY_COUNT.length) as ActivityKind)
    : (COUNT_WORDS[key] ?? '');

/** One run in full: counts, who it touched, and undo with a look at what it would restore. */
export function RunSheet({ id, onClose }: { id: number; onClose: () => void }) {
  const run = useQuery({
    queryKey: keys.run(id),
    queryFn: () => api.get<RunSummary>(`/runs/${id}`),
    refetchInterval: (query) =>
      query.state.data?.state === 'running' || query.state.data?.state === 'queued' ? 1000 : false,
  });
  const contacts = useQuery({
    queryKey: keys.run(id, 'contacts'),
    queryFn: () => api.get<RunContact[]>(`/runs/${id}/contacts?limit=60`),
  });
  if (run.isPending) return <Loading what="the run" />;
  if (run.isLoadingError) return <Failed error={run.error} retry={() => void run.refetch()} />;
  const data = run.data;
  return (
    <article className="px-4.5 py-3.5">
      <SheetHead title={data.title} before={<ThreadSwatch kind={data.thread.kind} />} onClose={onClose} />
      <p className="mt-1 text-ink2">{data.words}</p>
      <dl className="mt-3">
        <Line name="Thread" text={`${THREAD_NAMES[data.thread.kind]}, ${data.thread.name}`} />
        <Line name="By" text={data.actor ?? 'Gray Loom'} />
        <Line name="Began" text={exactly(data.createdAt)} />
        {data.finishedAt ? (
          <Line name="Ended" text={exactly(data.finishedAt)} />
        ) : (
          <Line
            name="State"
            text={`${data.waits || data.state}, ${count(data.progress.done)} of ${count(data.progress.total)}`}
          />
        )}
        {Object.entries(data.counts).map(([key, n]) =>
          n && nameOfCount(key) ? <Line key={key} name={nameOfCount(key)} text={count(n)} /> : null,
        )}
      </dl>
      <p className="mt-3 flex flex-wrap gap-x-4 gap-y-1">
        {data.intakeId && data.kind === 'import' ? (
          <>
            <Link className="link" to={`/intake/${data.intakeId}`}>
              File and mapping
            </Link>
            <a className="link" href={`/api/runs/${id}/rows.csv`} download>
              All rows with outcomes
            </a>
            {data.counts.held ? (
              <>
                <Link className="link" to={`/intake/held/${id}`}>
                  Held rows
                </Link>
                <a className="link" href={`/api/runs/${id}/held.csv`} download>
                  Held rows as CSV
                </a>
              </>
            ) : null}
          </>
        ) : null}
        {data.connectionId ? (
          <>
            <Link className="link" to={`/syncs/${data.connectionId}/trial?run=${id}`}>
              What changed on each side
            </Link>
            <a className="link" href={`/api/sync-runs/${id}/report`} download>
              Report
            </a>
          </>
        ) : null}
        {contacts.data?.some(({ kind }) => kind !== 'opportunity') ? (
          <Link className="link" to={contactsWith('@run', id)}>
            Show these people
          </Link>
        ) : null}
        {data.undoOf ? (
          <Link className="link" to={`/ledger/${data.undoOf}`}>
            What was taken back
          </Link>
        ) : null}
        {data.undoneBy ? (
          <Link className="link" to={`/ledger/${data.undoneBy}`}>
            See what took it back
          </Link>
        ) : null}
      </p>
      {data.pausable ? (
        <p className="mt-3">
          <PauseButton run={data} />
        </p>
      ) : null}
      {data.elsewhere ? (
        <p className="mt-3 text-ink2">
          {contacts.data?.length ? 'And ' : ''}
          {data.elsewhere === 1 ? 'one contact' : `${count(data.elsewhere)} others`} outside your remit.
          {data.undoable ? '' : ' Whoever sees everybody can take it back.'}
        </p>
      ) : null}
      {data.undoable ? <Undo run={data} /> : null}
      {data.counts.left ? <LeftList id={id} /> : null}
      {contacts.data?.length ? (
        <section className="mt-5">
          <h3 className="border-b border-strong pb-1 font-semibold">
            {contacts.data.some(({ kind }) => kind === 'opportunity') ? 'What it touched' : 'People it touched'}
            {contacts.data.length === 60 ? ', the first 60' : ''}
          </h3>
          <ul>
            {contacts.data.map((contact) => (
              <li key={contact.contactId} className="flex items-baseline gap-3 border-b border-hair py-1">
                <Link
                  to={`/${contact.kind === 'opportunity' ? 'opportunities' : 'contacts'}/${contact.contactId}`}
                  className="hover:underline"
                >
                  {contact.name}
                </Link>
                <span className="ml-auto truncate text-[12.5px] text-ink2">
                  {contact.created
                    ? 'new'
                    : contact.fields
                        .map((field) =>
                          field === 'lifecycle'
                            ? data.kind === 'merge'
                              ? 'merged'
                              : 'deleted or brought back'
                            : field,
                        )
                        .join(', ')}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </article>
  );
}

/** What the run left as it was, each with its reason. */
function LeftList({ id }: { id: number }) {
  const left = useQuery({
    queryKey: keys.run(id, 'left'),
    queryFn: () => api.get<LeftAsIs[]>(`/runs/${id}/left`),
  });
  if (left.isPending) return <Loading what="what was left" />;
  if (left.isLoadingError) return <Failed error={left.error} retry={() => void left.refetch()} />;
  if (!left.data.length) return null;
  return (
    <section className="mt-5">
      <h3 className="border-b border-strong pb-1 font-semibold">Left as they are</h3>
      <ul>
        {left.data.map(({ of, id: one, name, why }) => (
          <li key={`${of} ${one}`} className="flex items-baseline gap-3 border-b border-hair py-1">
            <Link to={of === 'group' ? `/duplicates/${one}` : `/contacts/${one}`} className="hover:underline">
              {name || (of === 'group' ? 'A group' : 'A contact')}
            </Link>
            <span className="ml-auto text-[12.5px] text-ink2">{why}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Line({ name, text }: { name: string; text: string }) {
  return (
    <div className="grid grid-cols-[140px_1fr] border-b border-hair py-1">
      <dt className="text-[12.5px] text-ink2">{name}</dt>
      <dd>{text}</dd>
    </div>
  );
}

function Undo({ run }: { run: RunSummary }) {
  const client = useQueryClient();
  const [looking, setLooking] = useState(false);
  const preview = useInfiniteQuery({
    queryKey: keys.undoPreview(run.id),
    initialPageParam: 0,
    queryFn: ({ pageParam }) => api.get<UndoPreview>(`/runs/${run.id}/undo?after=${pageParam}`),
    getNextPageParam: (last) => last.next,
    enabled: looking,
    staleTime: 0,
  });
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = preview;
  // Counted to the end, a few thousand contacts at a time.
  useEffect(() => {
    if (looking && hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [looking, hasNextPage, isFetchingNextPage, fetchNextPage]);
  const looked = preview.data ? together(preview.data.pages) : null;
  const [owners, setOwners] = useState<Record<string, number[]>>({});
  const edits = looked?.edits ?? [];
  const undo = useMutation({
    mutationFn: () =>
      api.post(`/runs/${run.id}/undo`, {
        edits: edits.flatMap(({ contactId, field, slot }) => {
          const of = owners[placeOf({ contactId, field, slot })];
          return of ? [{ contactId, field, slot, owners: of }] : [];
        }),
      }),
    onSettled: () => client.invalidateQueries(),
  });
  const name =
    run.kind === 'undo'
      ? 'Take the undo back'
      : run.kind === 'import'
        ? 'Undo import'
        : run.kind === 'merge'
          ? 'Undo merge'
          : 'Undo';
  return (
    <section className="mt-4 border border-strong bg-cloth px-3 py-2.5">
      <Fault error={undo.error ?? preview.error} />
      {looking && !looked && !preview.error ? <Loading what="what it would take back" /> : null}
      {looking && looked ? (
        <p className="mb-2" aria-live="polite">
          {describe(looked)}
          {looked.examples.length ? (
            <span className="block text-ink2">
              Left as they are:{' '}
              {looked.examples.map((example, i) => (
                <span key={example.contactId}>
                  {i ? ', ' : ''}
                  <Link className="link" to={`/contacts/${example.contactId}`}>
                    {example.name}
                  </Link>
                </span>
              ))}
            </span>
          ) : null}
        </p>
      ) : null}
      {looking && edits.length ? (
        <EditedSince
          edits={edits}
          owners={owners}
          onChoose={(edit, of) => setOwners({ ...owners, [placeOf(edit)]: of })}
        />
      ) : null}
      <span className="flex gap-2">
        <Button kind={looking ? 'action' : 'plain'} busy={undo.isPending} onClick={() => undo.mutate()}>
          {name}
        </Button>
        {looking ? null : (
          <Button kind="quiet" onClick={() => setLooking(true)}>
            Look first
          </Button>
        )}
      </span>
    </section>
  );
}

const placeOf = ({ contactId, field, slot }: Pick<EditSince, 'contactId' | 'field' | 'slot'>) =>
  `${contactId}:${slot}:${field}`;

/** What was edited since two records were merged: each edit is offered to whoever it may be of once they are two again. */
function EditedSince({
  edits,
  owners,
  onChoose,
}: {
  edits: readonly EditSince[];
  owners: Record<string, number[]>;
  onChoose: (edit: EditSince, of: number[]) => void;
}) {
  return (
    <div className="mb-2">
      <p className="font-semibold">Edited since. Whose is it?</p>
      <ul>
        {edits.map((edit) => {
          const { contactId, members, name, now, before } = edit;
          const chosen = owners[placeOf(edit)] ?? [contactId];
          const choices: [words: string, of: number[]][] = [
            ...members.map((member): [string, number[]] => [
              member.id === contactId ? `${member.name}, where it stands` : `${member.name} (${member.id})`,
              [member.id],
            ]),
            ...(now ? [['all of them', members.map(({ id }) => id)] as [string, number[]]] : []),
            ['nobody: take it back as well', []],
          ];
          return (
            <li key={placeOf(edit)} className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1">
              <span className="text-[12.5px] text-ink2">{name}</span>
              <span>
                {now || 'taken away'}
                <span className="text-ink2">{before ? `, was ${before}` : ''}</span>
              </span>
              <select
                aria-label={`Whose ${name} is ${now || 'taken away'}`}
                className="field ml-auto"
                value={chosen.join()}
                onChange={(event) =>
                  onChoose(edit, choices.find(([, of]) => of.join() === event.target.value)?.[1] ?? [contactId])
                }
              >
                {choices.map(([words, of]) => (
                  <option key={of.join()} value={of.join()}>
                    {words}
                  </option>
                ))}
              </select>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

/** What all pages of a look say together. */
function together(pages: readonly UndoPreview[]): UndoPreview {
  const sum = (key: 'looked' | 'removes' | 'restores' | 'leaves') => pages.reduce((n, page) => n + page[key], 0);
  return {
    contacts: pages[0]?.contacts ?? 0,
    looked: sum('looked'),
    next: pages.at(-1)?.next ?? null,
    removes: sum('removes'),
    restores: sum('restores'),
    leaves: sum('leaves'),
    activities: pages[0]?.activities ?? 0,
    examples: pages.flatMap(({ examples }) => examples).slice(0, 10),
    edits: pages[0]?.edits ?? [],
  };
}

function describe({ contacts, looked, next, removes, restores, leaves, activities }: UndoPreview): string {
  const parts = [
    removes ? `${count(removes)} new people go` : '',
    restores ? `${count(restores)} get their values back` : '',
    leaves ? `${count(leaves)} stay as they are, because they were changed since` : '',
  ].filter(Boolean);
  const stream =
    activities === 1 ? '1 entry of activity goes back' : `${count(activities)} entries of activity go back`;
  if (!contacts && activities) return `${stream}.`;
  if (!contacts) return 'It touched no contact; only the decision is taken back.';
  const far = next === null ? '' : `, ${count(looked)} looked at so far`;
  return `Of ${count(contacts)} contacts${far}: ${parts.join('; ') || 'nothing is left to take back'}.${activities ? ` ${stream}.` : ''}`;
}
