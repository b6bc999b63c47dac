import { useTouch } from '../../app/keys';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { PipelinesRequest } from '@gray-loom/wire';
import type { Pipeline, StageOutcome } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { usePipelines, useRefresh } from '../../app/lists';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count } from '../../ui/when';

type Draft = PipelinesRequest['pipelines'][number];

const OUTCOMES: Record<StageOutcome, string> = { open: 'still open', won: 'ends well', lost: 'comes to nothing' };

function draftOf({ name, stages }: Pipeline): Draft {
  return { name, was: name, stages: stages.map((stage) => ({ ...stage, was: stage.label })) };
}

/** Pipelines with their ordered stages; saved together, so that a rename takes its opportunities along. */
export function PipelinesPage() {
  const pipelines = usePipelines();
  if (pipelines.isPending) return <Loading what="the pipelines" />;
  if (pipelines.isLoadingError) return <Failed error={pipelines.error} retry={() => void pipelines.refetch()} />;
  return <Editor key={JSON.stringify(pipelines.data)} pipelines={pipelines.data} />;
}

function Editor({ pipelines }: { pipelines: readonly Pipeline[] }) {
  const touch = useTouch();
  const refresh = useRefresh();
  const [drafts, setDrafts] = useState<Draft[]>(() => pipelines.map(draftOf));
  const [moved, setMoved] = useState<number | null>(null);
  const changed = JSON.stringify(drafts) !== JSON.stringify(pipelines.map(draftOf));
  const set = (at: number, draft: Draft | null) => {
    setMoved(null);
    setDrafts(drafts.flatMap((one, i) => (i === at ? (draft ? [draft] : []) : [one])));
  };
  const save = useMutation({
    mutationFn: () => api.put<{ moved: number }>('/pipelines', { pipelines: drafts }),
    onSuccess: async (found) => {
      setMoved(found.moved);
      await touch('setup');
      await refresh();
    },
  });
  return (
    <form
      className="h-full max-w-4xl overflow-y-auto px-5 py-4"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <Heading aside={count(drafts.length)}>Pipelines</Heading>
      <p className="mt-1 mb-3 text-ink2">
        An opportunity goes from stage to stage, first to last. How a stage ends says what counts as open, won or lost.
      </p>
      <Fault error={save.error} onClose={() => save.reset()} />
      {drafts.map((draft, at) => (
        <PipelineBox
          key={draft.was ?? `new ${at}`}
          draft={draft}
          only={drafts.length === 1}
          onChange={(next) => set(at, next)}
        />
      ))}
      <div className="mt-4 flex items-center gap-3">
        <Button
          onClick={() =>
            setDrafts([
              ...drafts,
              {
                name: '',
                stages: [
                  { label: 'Begun', outcome: 'open', meaning: '' },
                  { label: 'Won', outcome: 'won', meaning: '' },
                  { label: 'Lost', outcome: 'lost', meaning: '' },
                ],
              },
            ])
          }
        >
          Add a pipeline
        </Button>
        <Button kind="action" type="submit" busy={save.isPending} disabled={!changed}>
          Save the pipelines
        </Button>
        {changed ? (
          <Button kind="quiet" onClick={() => setDrafts(pipelines.map(draftOf))}>
            Put back
          </Button>
        ) : null}
        {moved ? (
          <span role="status" className="text-ink2">
            {count(moved)} {moved === 1 ? 'opportunity goes' : 'opportunities go'} by the new name; the ledger has the
            way back.
          </span>
        ) : null}
      </div>
    </form>
  );
}

interface BoxProps {
  draft: Draft;
  only: boolean;
  onChange: (draft: Draft | null) => void;
}

function PipelineBox({ draft, only, onChange }: BoxProps) {
  const { stages } = draft;
  const setStage = (at: number, changes: Partial<Draft['stages'][number]>) =>
    onChange({ ...draft, stages: stages.map((stage, i) => (i === at ? { ...stage, ...changes } : stage)) });
  const swap = (at: number, by: -1 | 1) => {
    const next = [...stages];
    const [one, other] = [next[at], next[at + by]];
    if (!one || !other) return;
    next[at] = other;
    next[at + by] = one;
    onChange({ ...draft, stages: next });
  };
  return (
    <fieldset className="mt-3 border border-hair bg-cloth p-3">
      <legend className="sr-only">{draft.name || 'New pipeline'}</legend>
      <div className="flex items-center gap-2">
        <input
          aria-label="Name of the pipeline"
          placeholder="name of the pipeline"
          required
          maxLength={80}
          className="field w-64 font-semibold"
          value={draft.name}
          onChange={(event) => onChange({ ...draft, name: event.target.value })}
        />
        <Button kind="quiet" className="ml-auto" disabled={only} onClick={() => onChange(null)}>
          Remove pipeline
        </Button>
      </div>
      <ol className="mt-2 space-y-1">
        {stages.map((stage, at) => (
          <li key={stage.was ?? at} className="flex items-center gap-1.5">
            <span className="w-5 text-right text-ink3">{at + 1}</span>
            <input
              aria-label={`Stage ${at + 1}`}
              required
              maxLength={80}
              className="field w-40"
              value={stage.label}
              onChange={(event) => setStage(at, { label: event.target.value })}
            />
            <select
              aria-label={`How stage ${at + 1} ends`}
              className="field w-36"
              value={stage.outcome}
              onChange={(event) => setStage(at, { outcome: event.target.value as StageOutcome })}
            >
              {Object.entries(OUTCOMES).map(([outcome, text]) => (
                <option key={outcome} value={outcome}>
                  {text}
                </option>
              ))}
            </select>
            <input
              aria-label={`What stage ${at + 1} means`}
              placeholder="what it means"
              maxLength={300}
              className="field min-w-0 flex-1"
              value={stage.meaning}
              onChange={(event) => setStage(at, { meaning: event.target.value })}
            />
            <button
              type="button"
              className="min-h-6 min-w-6 text-ink3 enabled:hover:text-ink disabled:opacity-30"
              aria-label={`Move ${stage.label} up`}
              disabled={at === 0}
              onClick={() => swap(at, -1)}
            >
              ↑
            </button>
            <button
              type="button"
              className="min-h-6 min-w-6 text-ink3 enabled:hover:text-ink disabled:opacity-30"
              aria-label={`Move ${stage.label} down`}
              disabled={at === stages.length - 1}
              onClick={() => swap(at, 1)}
            >
              ↓
            </button>
            <button
              type="button"
              className="min-h-6 min-w-6 text-ink3 enabled:hover:text-alarm disabled:opacity-30"
              aria-label={`Take ${stage.label} away`}
              disabled={stages.length === 1}
              onClick={() => onChange({ ...draft, stages: stages.filter((_, i) => i !== at) })}
            >
              ×
            </button>
          </li>
        ))}
      </ol>
      <button
        type="button"
        className="mt-1.5 ml-6.5 text-ink2 hover:text-ink"
        onClick={() => onChange({ ...draft, stages: [...stages, { label: '', outcome: 'open', meaning: '' }] })}
      >
        + stage
      </button>
    </fieldset>
  );
}
