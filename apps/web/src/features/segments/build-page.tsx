import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { sayCondition, type Group } from '@gray-loom/core/segments';
import type { ContactKind } from '@gray-loom/core/model';
import type { SegmentSummary } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { conditionIn } from '../../app/where';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { count } from '../../ui/when';
import { ConditionBuilder } from './condition-builder';
import { useKnown } from './names';
import { groupOf } from './drafts';
import { saidSoFar, useLook } from './use-look';

interface Draft {
  name: string;
  description: string;
  kind: ContactKind;
  isShared: boolean;
  condition: Group;
}

/** Builds a segment, or changes one: conditions in words, with counts and the first people while one does. */
export function BuildSegmentPage() {
  const id = Number(useParams().id) || null;
  const [params] = useSearchParams();
  const from = id ?? (Number(params.get('from')) || null);
  const before = useQuery({
    queryKey: keys.segment(from ?? 0),
    queryFn: () => api.get<SegmentSummary>(`/segments/${from}`),
    enabled: from !== null,
    staleTime: Infinity,
  });
  if (from !== null && before.isPending) return <Loading what="the segment" />;
  if (before.isLoadingError) return <Failed error={before.error} retry={() => void before.refetch()} />;
  const kept = before.data;
  return (
    <Builder
      key={from ?? 'new'}
      id={id}
      first={{
        name: kept ? (id ? kept.name : '') : '',
        description: kept?.description ?? '',
        kind: kept?.kind ?? (params.get('kind') === 'organization' ? 'organization' : 'person'),
        isShared: kept?.isShared ?? true,
        condition: kept ? groupOf(kept.condition) : groupOf(conditionIn(params)),
      }}
    />
  );
}

function Builder({ id, first }: { id: number | null; first: Draft }) {
  const [draft, setDraft] = useState(first);
  const known = useKnown();
  const navigate = useNavigate();
  const touch = useTouch();
  const set = (change: Partial<Draft>) => setDraft({ ...draft, ...change });
  const { isWhole } = saidSoFar(draft.condition);
  const look = useLook({ condition: draft.condition, kind: draft.kind, of: id });
  const save = useMutation({
    mutationFn: async () => {
      const { kind, ...change } = draft;
      if (id) await api.patch(`/segments/${id}`, change);
      return id ?? (await api.post<{ id: number }>('/segments', { ...change, kind })).id;
    },
    onSuccess: async (made) => {
      await touch('segments');
      await navigate(`/segments/${made}`);
    },
  });
  const people = draft.kind === 'organization' ? 'organizations' : 'people';
  return (
    <form
      className="flex h-full min-h-0 max-md:flex-col"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <div className="min-h-0 min-w-0 flex-1 overflow-y-auto px-4.5 py-3.5">
        <div className="flex items-center gap-3">
          <Link
            to={id ? `/segments/${id}` : '/segments'}
            aria-label="Back to the segments"
            className="text-ink2 hover:text-ink"
          >
            ←
          </Link>
          <h1 className="text-[16px] font-bold">{id ? `Change ${first.name}` : 'Build a segment'}</h1>
        </div>
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <label className="flex items-center gap-2">
            <span className="text-ink2">Name</span>
            <input
              className="field w-60"
              value={draft.name}
              maxLength={80}
              autoFocus={!id}
              onChange={(event) => set({ name: event.target.value })}
            />
          </label>
          <select
            className="field"
            aria-label="Whom it is about"
            value={draft.kind}
            disabled={id !== null}
            onChange={(event) => set({ kind: event.target.value as ContactKind })}
          >
            <option value="person">people</option>
            <option value="organization">organizations</option>
          </select>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={draft.isShared}
              onChange={(event) => set({ isShared: event.target.checked })}
            />
            shared with everybody
          </label>
        </div>
        <label className="mt-2 flex items-center gap-2">
          <span className="text-ink2">What for</span>
          <input
            className="field flex-1"
            value={draft.description}
            maxLength={500}
            onChange={(event) => set({ description: event.target.value })}
          />
        </label>
        <div className="mt-4 border-t border-strong pt-2">
          <ConditionBuilder
            condition={draft.condition}
            known={known}
            counts={look.counts}
            isEstimate={look.isEstimate}
            onChange={(condition) => set({ condition })}
          />
        </div>
      </div>
      <aside
        aria-label="What it finds"
        className="flex min-h-0 w-96 shrink-0 flex-col border-l border-strong bg-page px-4.5 py-3.5 max-md:w-full max-md:border-t max-md:border-l-0"
      >
        <p className="text-[26px] font-bold tabular-nums" aria-live="polite">
          {look.data ? `${look.isEstimate ? 'about ' : ''}${count(look.data.total)}` : '…'}
          <span className="ml-2 text-[13px] font-normal text-ink2">
            {people}
            {look.isCounting ? ' · counting' : ''}
          </span>
        </p>
        <p className="mt-1 text-ink2">{sayCondition(saidSoFar(draft.condition).condition, known)}</p>
        <ul className="mt-3 min-h-0 flex-1 overflow-y-auto" aria-label="First people">
          {look.rows.map((row) => (
            <li key={row.id} className="flex gap-2 border-b border-hair py-1">
              <span className="truncate">{row.name}</span>
              <span className="ml-auto truncate text-ink2">{row.email || row.tel}</span>
            </li>
          ))}
        </ul>
        <Fault error={save.error ?? look.error} />
        <div className="mt-3 flex items-center gap-2">
          <Button
            kind="action"
            type="submit"
            needs="editor"
            busy={save.isPending}
            disabled={!isWhole || !draft.name.trim()}
          >
            {id ? 'Save the segment' : 'Keep the segment'}
          </Button>
          <span className="text-[12px] text-ink2">
            {!draft.name.trim() ? 'Give it a name.' : isWhole ? '' : 'A condition has nothing to compare with yet.'}
          </span>
        </div>
      </aside>
    </form>
  );
}
