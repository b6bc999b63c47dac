import { useTouch } from '../../app/keys';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { Opportunity, OpportunityRequest } from '@gray-loom/wire';
import { currencyOf, type Pipeline } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { useLists } from '../../app/lists';
import { Button, Fault } from '../../ui/controls';

interface OpportunityFormProps {
  contactId: number;
  pipelines: readonly Pipeline[];
  /** The one that is changed; null for a new one. */
  opportunity: Opportunity | null;
  onDone: () => void;
}

interface Draft {
  name: string;
  pipeline: string;
  stage: string;
  amount: string;
  currency: string;
  closeDate: string;
  owner: string;
  note: string;
}

/** Everything of an opportunity in one form; a new one starts at the first stage of the first pipeline. */
export function OpportunityForm({ contactId, pipelines, opportunity, onDone }: OpportunityFormProps) {
  const touch = useTouch();
  const lists = useLists().data;
  const [first] = pipelines;
  const [draft, setDraft] = useState<Draft>(() => ({
    name: opportunity?.name ?? '',
    pipeline: opportunity?.pipeline || (first?.name ?? ''),
    stage: opportunity?.stage || (first?.stages[0]?.label ?? ''),
    amount: opportunity?.value ? String(opportunity.value.amount) : '',
    currency: opportunity?.value?.currency ?? currencyOf(lists?.country ?? ''),
    closeDate: opportunity?.closeDate ?? '',
    owner: opportunity?.owner ?? '',
    note: opportunity?.note ?? '',
  }));
  const set = (changes: Partial<Draft>) => setDraft({ ...draft, ...changes });
  const stages = pipelines.find(({ name }) => name === draft.pipeline)?.stages ?? [];
  const amount = Number(draft.amount.replace(/[\s,]/g, ''));
  const badAmount = draft.amount.trim() !== '' && !Number.isFinite(amount);
  const save = useMutation({
    mutationFn: () => {
      const request: OpportunityRequest = {
        ...draft,
        contactId,
        currency: draft.currency.trim().toUpperCase(),
        amount: draft.amount.trim() === '' ? null : amount,
        closeDate: draft.closeDate || null,
        ...(opportunity ? { version: opportunity.version } : {}),
      };
      return opportunity ? api.put(`/opportunities/${opportunity.id}`, request) : api.post('/opportunities', request);
    },
    onSuccess: async () => {
      await touch('contacts', 'run');
      onDone();
    },
  });
  const label = 'text-[12.5px] text-ink2';
  const meaning = stages.find((stage) => stage.label === draft.stage)?.meaning;
  return (
    <form
      className="mt-2 space-y-2 border border-hair bg-cloth p-3"
      aria-label={opportunity ? `Change ${opportunity.name}` : 'New opportunity'}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onDone();
      }}
    >
      <Fault error={save.error} onClose={() => save.reset()} />
      <label className="block">
        <span className={label}>What it is about</span>
        <input
          className="field w-full"
          required
          maxLength={200}
          autoFocus
          value={draft.name}
          onChange={(event) => set({ name: event.target.value })}
        />
      </label>
      <div className="grid grid-cols-2 gap-2">
        <label className="block">
          <span className={label}>Pipeline</span>
          <select
            className="field w-full"
            value={draft.pipeline}
            onChange={(event) => {
              const next = pipelines.find(({ name }) => name === event.target.value);
              set({ pipeline: event.target.value, stage: next?.stages[0]?.label ?? '' });
            }}
          >
            {pipelines.map(({ name }) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
        <label className="block">
          <span className={label}>Stage</span>
          <select className="field w-full" value={draft.stage} onChange={(event) => set({ stage: event.target.value })}>
            {stages.map((stage) => (
              <option key={stage.label} title={stage.meaning}>
                {stage.label}
              </option>
            ))}
          </select>
        </label>
      </div>
      {meaning ? <p className="text-[12.5px] text-ink2">{meaning}</p> : null}
      <div className="grid grid-cols-[minmax(0,1fr)_70px_minmax(0,1fr)] gap-2">
        <label className="block">
          <span className={label}>Value</span>
          <input
            className="field w-full"
            inputMode="decimal"
            aria-invalid={badAmount}
            value={draft.amount}
            onChange={(event) => set({ amount: event.target.value })}
          />
        </label>
        <label className="block">
          <span className={label}>Currency</span>
          <input
            className="field w-full uppercase"
            maxLength={3}
            value={draft.currency}
            onChange={(event) => set({ currency: event.target.value })}
          />
        </label>
        <label className="block">
          <span className={label}>Expected on</span>
          <input
            className="field w-full"
            type="date"
            value={draft.closeDate}
            onChange={(event) => set({ closeDate: event.target.value })}
          />
        </label>
      </div>
      {badAmount ? <p className="text-alarm">The value is no number. Write it like 1450.50.</p> : null}
      <label className="block">
        <span className={label}>Owner</span>
        <input
          className="field w-full"
          maxLength={80}
          list="opportunity-owners"
          value={draft.owner}
          onChange={(event) => set({ owner: event.target.value })}
        />
      </label>
      <datalist id="opportunity-owners">
        {lists?.owners.map((owner) => (
          <option key={owner.label} value={owner.label} />
        ))}
      </datalist>
      <label className="block">
        <span className={label}>Note</span>
        <textarea
          className="field w-full"
          rows={2}
          value={draft.note}
          onChange={(event) => set({ note: event.target.value })}
        />
      </label>
      <div className="flex gap-2">
        <Button kind="action" type="submit" busy={save.isPending} disabled={badAmount || !draft.name.trim()}>
          {opportunity ? 'Save' : 'Add the opportunity'}
        </Button>
        <Button kind="quiet" onClick={onDone}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
