import { useInfiniteQuery, useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { allOf, blanksOf, sayCondition, withAnswers, type Test, type TestValue } from '@gray-loom/core/segments';
import type { SegmentEvents, SegmentSummary } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { whereText } from '../../app/where';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { SheetHead } from '../../ui/sheet-head';
import { count, When } from '../../ui/when';
import { BatchDialog } from '../batch/batch-dialog';
import { peopleInWords } from '../people/hand-over';
import { answerOf, groupOf } from './drafts';
import type { Known } from './names';
import { useLook } from './use-look';

const CAUSES = {
  change: '',
  condition: 'the segment was made or changed',
  day: 'a day passed',
  review: 'a sync, a likely duplicate or a permission moved',
};

/** One segment: what it asks, who is in it, who entered and left. */
export function SegmentSheet({ id, known, onClose }: { id: number; known: Known; onClose: () => void }) {
  const detail = useQuery({ queryKey: keys.segment(id), queryFn: () => api.get<SegmentSummary>(`/segments/${id}`) });
  if (detail.isPending) return <Loading what="the segment" />;
  if (detail.isLoadingError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  return <Shown segment={detail.data} known={known} onClose={onClose} />;
}

function Shown({ segment, known, onClose }: { segment: SegmentSummary; known: Known; onClose: () => void }) {
  const { id, name, description, condition, kind, members, isPart, isShared, isMine, by, problem } = segment;
  const navigate = useNavigate();
  const touch = useTouch();
  const [changing, setChanging] = useState(false);
  const [answers, setAnswers] = useState<Record<string, TestValue>>({});
  const blanks = blanksOf(condition);
  const look = useLook({ condition: groupOf(condition), kind, answers, of: id });
  const drop = useMutation({
    mutationFn: () => api.delete(`/segments/${id}`),
    onSuccess: async () => {
      await touch('segments');
      onClose();
    },
  });
  const opened = blanks.length
    ? whereText(withAnswers(condition, answers))
    : whereText(allOf({ field: '@segment', op: 'is', value: [String(id)] }));
  const query = `where=${encodeURIComponent(opened)}${kind === 'organization' ? '&kind=organization' : ''}`;
  return (
    <div className="px-4.5 py-3.5">
      <SheetHead title={name} onClose={onClose} />
      {description ? <p className="mt-1">{description}</p> : null}
      <p className="mt-1 text-ink2">{sayCondition(condition, known)}</p>
      {problem ? (
        <p role="alert" className="mt-1 text-alarm">
          {problem}
        </p>
      ) : null}
      <p className="mt-1 text-[12px] text-ink3">
        {isShared ? `shared${by ? `, made by ${isMine ? 'you' : by}` : ''}` : 'yours alone'}, changed{' '}
        <When at={segment.changedAt} /> ago
      </p>
      {blanks.length ? <Blanks blanks={blanks} answers={answers} onAnswer={setAnswers} /> : null}
      <p className="mt-3 text-[22px] font-bold tabular-nums">
        {look.data ? count(look.data.total) : members === null ? '…' : count(members)}
        <span className="ml-2 text-[13px] font-normal text-ink2">
          {kind === 'organization' ? 'organizations' : 'people'}
          {isPart ? ' within your remit' : ''}
        </span>
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        <Link className="link self-center" to={`/contacts?${query}`}>
          Open in Contacts
        </Link>
        <a className="link self-center" href={`/api/contacts.csv?${query}`} download>
          Table (CSV)
        </a>
        {look.data?.total ? (
          <Button needs="editor" onClick={() => setChanging(true)}>
            Change these people
          </Button>
        ) : null}
        <Button needs="editor" onClick={() => void navigate(`/segments/${id}/edit`)}>
          Edit the segment
        </Button>
        <Button needs="editor" kind="quiet" onClick={() => void navigate(`/segments/new?from=${id}`)}>
          New from this one
        </Button>
      </div>
      {changing ? (
        <BatchDialog
          what={{ filter: { find: '', deleted: false, kind, where: opened } }}
          words={peopleInWords(look.data?.total ?? 0, kind)}
          onClose={() => setChanging(false)}
          onDone={() => setChanging(false)}
        />
      ) : null}
      <Fault error={look.error ?? drop.error} />
      <ul className="mt-3" aria-label="First people">
        {look.rows.map((row) => (
          <li key={row.id} className="flex gap-2 border-b border-hair py-1">
            <Link to={`/contacts/${row.id}`} className="truncate hover:underline">
              {row.name}
            </Link>
            <span className="ml-auto truncate text-ink2">{row.email || row.tel}</span>
          </li>
        ))}
      </ul>
      {look.data?.near.length ? (
        <>
          <h3 className="mt-4 text-[12px] text-ink2">Just beside it</h3>
          <ul aria-label="Just beside it">
            {look.data.near.map((one) => (
              <li key={one.id} className="flex gap-2 border-b border-hair py-1">
                <Link to={`/contacts/${one.id}`} className="hover:underline">
                  {one.name}
                </Link>
                <span className="ml-auto text-ink2">{one.value}</span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
      <div className="mt-5">
        <Heading>Who entered and who left</Heading>
        <Events id={id} />
      </div>
      <div className="mt-5">
        <Button needs="editor" kind="danger" busy={drop.isPending} onClick={() => drop.mutate()}>
          Drop the segment
        </Button>
        <p className="mt-1 text-[12px] text-ink3">Its people stay as they are.</p>
      </div>
    </div>
  );
}

interface BlanksProps {
  blanks: { ask: string; test: Test }[];
  answers: Record<string, TestValue>;
  onAnswer: (answers: Record<string, TestValue>) => void;
}

/** The questions that a segment puts when it is opened. */
function Blanks({ blanks, answers, onAnswer }: BlanksProps) {
  return (
    <div className="mt-3 border-y border-hair bg-cloth px-3 py-2">
      {blanks.map(({ ask, test }, i) => (
        <label key={ask} className="flex items-center gap-2 py-0.5">
          <span className="flex-1">{ask}</span>
          <input
            className="field w-40"
            // The question is what the segment was opened for.
            autoFocus={i === 0}
            inputMode={test.op === 'holds' || test.op === 'number' ? 'decimal' : undefined}
            defaultValue=""
            onChange={(event) => {
              const { [ask]: _old, ...rest } = answers;
              const value = answerOf(test, event.target.value);
              onAnswer(value === null ? rest : { ...rest, [ask]: value });
            }}
          />
        </label>
      ))}
    </div>
  );
}

function Events({ id }: { id: number }) {
  const events = useInfiniteQuery({
    queryKey: keys.segmentEvents(id),
    queryFn: ({ pageParam }) =>
      api.get<SegmentEvents>(`/segments/${id}/events?limit=30${pageParam ? `&before=${pageParam}` : ''}`),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.more ? (last.events.at(-1)?.id ?? null) : null),
  });
  if (events.isPending) return <Loading what="who entered and left" />;
  if (events.error) return <Failed error={events.error} retry={() => void events.refetch()} />;
  const all = events.data.pages.flatMap((page) => page.events);
  if (!all.length) return <p className="py-2 text-ink2">Nobody yet.</p>;
  return (
    <>
      <ul aria-label="Who entered and who left">
        {all.map((one) => (
          <li key={one.id} className="flex items-baseline gap-2 border-b border-hair py-1">
            <span className="w-12 shrink-0 text-[12px] text-ink2">{one.entered ? 'entered' : 'left'}</span>
            <Link to={`/contacts/${one.contactId}`} className="truncate hover:underline">
              {one.name}
            </Link>
            <span className="ml-auto min-w-0 truncate text-[12px] text-ink2">
              {one.runId && one.run ? (
                <Link className="link" to={`/ledger/${one.runId}`}>
                  {one.run}
                </Link>
              ) : (
                CAUSES[one.cause]
              )}
            </span>
            <span className="shrink-0 text-[12px] text-ink3">
              <When at={one.at} />
            </span>
          </li>
        ))}
      </ul>
      {events.hasNextPage ? (
        <Button className="mt-2" busy={events.isFetching} onClick={() => void events.fetchNextPage()}>
          Earlier
        </Button>
      ) : null}
    </>
  );
}
