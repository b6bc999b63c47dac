import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { HouseholdEntry, HouseholdRequest, Households } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { Button, Failed, Fault, Heading, Loading, Notice } from '../../ui/controls';
import { count } from '../../ui/when';

type Decision = { id: number; keep: HouseholdRequest | null };

/** Homes that a scan found, to be kept or refused one after the other, and those that are kept. */
export function HouseholdsPanel() {
  const client = useQueryClient();
  const touch = useTouch();
  const list = useQuery({ queryKey: keys.households(), queryFn: () => api.get<Households>('/households') });
  const [at, setAt] = useState(0);
  const decide = useMutation({
    mutationFn: ({ id, keep }: Decision) =>
      keep ? api.put(`/households/${id}`, keep) : api.delete(`/households/${id}`),
    onSuccess: (_, { id }) =>
      client.setQueryData<Households>(
        keys.households(),
        (known) => known && { ...known, proposed: known.proposed.filter((one) => one.id !== id) },
      ),
    onSettled: () => touch('groups', 'run'),
  });
  const proposed = list.data?.proposed ?? [];
  const picked = proposed[Math.min(at, proposed.length - 1)];
  const step = (by: number) => setAt(Math.max(0, Math.min(proposed.length - 1, at + by)));
  const ready = picked !== undefined && !decide.isPending;
  const keep = (of: HouseholdEntry, name = '') =>
    decide.mutate({ id: of.id, keep: { memberIds: of.members.map(({ id }) => id), name } });
  useShortcut('PageDown / j', 'Next one', 'Households', () => step(1));
  useShortcut('PageUp / k', 'One before', 'Households', () => step(-1));
  useShortcut('Enter', 'Keep as a household', 'Households', () => picked && keep(picked), {
    enabled: ready,
    needs: 'editor',
  });
  useShortcut('x', 'Not a household', 'Households', () => picked && decide.mutate({ id: picked.id, keep: null }), {
    needs: 'editor',
    enabled: ready,
  });
  if (list.isPending) return <Loading what="the households" />;
  if (list.isLoadingError) return <Failed error={list.error} retry={() => void list.refetch()} />;
  const { kept } = list.data;
  if (!proposed.length && !kept.length)
    return (
      <Notice title="No household is known">
        A scan of everybody proposes people who share an address and a phone or e-mail. On a contact you can make one by
        hand.
      </Notice>
    );
  return (
    <div
      tabIndex={0}
      role="region"
      aria-label="Households"
      className="relative h-full overflow-auto px-4.5 pt-3 pb-6 outline-none"
    >
      <Fault error={decide.error} onClose={() => decide.reset()} />
      <h1 className="text-[18px] font-bold">Households</h1>
      <p className="mt-1 mb-3 max-w-2xl">
        People of one home get one letter and one label. They stay people of their own and are never merged.
      </p>
      <div className="max-w-4xl">
        <Heading aside={proposed.length ? 'they share an address and a line' : ''}>
          {proposed.length ? `${count(proposed.length)} proposed` : 'None is proposed'}
        </Heading>
        <ul aria-label="Proposed households" className="mb-5">
          {proposed.map((one, i) => (
            <Proposal
              key={one.id}
              household={one}
              picked={one === picked}
              busy={decide.isPending}
              onPick={() => setAt(i)}
              onKeep={(name) => keep(one, name)}
              onRefuse={() => decide.mutate({ id: one.id, keep: null })}
            />
          ))}
        </ul>
        {kept.length ? (
          <>
            <Heading>{count(kept.length)} kept</Heading>
            <ul aria-label="Kept households">
              {kept.map((one) => (
                <Kept key={one.id} household={one} busy={decide.isPending} onDecide={decide.mutate} />
              ))}
            </ul>
          </>
        ) : null}
      </div>
    </div>
  );
}

function Members({ household }: { household: HouseholdEntry }) {
  return (
    <ul className="mt-0.5">
      {household.members.map((member) => (
        <li key={member.id} className="grid leading-6 grid-cols-[minmax(0,14rem)_minmax(0,10rem)_minmax(0,1fr)] gap-3">
          <Link className="link min-h-6 truncate" to={`/contacts/${member.id}`}>
            {member.name}
          </Link>
          <span className="truncate text-ink2 tabular-nums">{member.tel}</span>
          <span className="truncate text-ink2">{member.email}</span>
        </li>
      ))}
    </ul>
  );
}

interface ProposalProps {
  household: HouseholdEntry;
  picked: boolean;
  busy: boolean;
  onPick: () => void;
  onKeep: (name: string) => void;
  onRefuse: () => void;
}

function Proposal({ household, picked, busy, onPick, onKeep, onRefuse }: ProposalProps) {
  const item = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (picked) item.current?.scrollIntoView({ block: 'nearest' });
  }, [picked]);
  const { name, joins, address, shared, line } = household;
  return (
    <li
      ref={item}
      aria-current={picked || undefined}
      onClick={onPick}
      className={`border-b border-hair px-2.5 py-2 ${picked ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : ''}`}
    >
      <div className="flex items-start gap-3">
        <p className="min-w-0 flex-1">
          <span className="font-semibold">{name}</span>
          {joins ? <span className="text-ink2"> · joins {joins.name}, which is kept</span> : null}
          <span className="block text-[12.5px] text-ink2">
            {[address, ...shared].filter(Boolean).join(' · ')}
            {line === name ? '' : ` · letters to ${line}`}
          </span>
        </p>
        <Button
          needs="editor"
          kind={picked ? 'action' : 'plain'}
          keys={picked ? 'Enter' : undefined}
          busy={busy}
          onClick={() => onKeep('')}
        >
          {joins ? 'Let them join' : 'Keep'}
        </Button>
        <Button needs="editor" keys={picked ? 'X' : undefined} busy={busy} onClick={onRefuse}>
          Not a household
        </Button>
      </div>
      <Members household={household} />
    </li>
  );
}

interface KeptProps {
  household: HouseholdEntry;
  busy: boolean;
  onDecide: (decision: Decision) => void;
}

function Kept({ household, busy, onDecide }: KeptProps) {
  const [name, setName] = useState<string | null>(null);
  const memberIds = household.members.map(({ id }) => id);
  const save = () => {
    onDecide({ id: household.id, keep: { memberIds, name: name ?? '' } });
    setName(null);
  };
  return (
    <li className="border-b border-hair px-2.5 py-2">
      <div className="flex items-start gap-3">
        {name === null ? (
          <p className="min-w-0 flex-1">
            <span className="font-semibold">{household.name}</span>
            <span className="block text-[12.5px] text-ink2">
              {[household.address, household.line === household.name ? '' : `letters to ${household.line}`]
                .filter(Boolean)
                .join(' · ')}
            </span>
          </p>
        ) : (
          <form
            className="flex min-w-0 flex-1 gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              save();
            }}
          >
            <input
              autoFocus
              aria-label="Name of the household"
              value={name}
              maxLength={120}
              placeholder="empty: made of its people's names"
              onChange={(event) => setName(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Escape') setName(null);
              }}
              className="w-72 border border-strong bg-page px-2 py-0.5"
            />
            <Button needs="editor" kind="action" type="submit" busy={busy}>
              Save
            </Button>
          </form>
        )}
        {name === null ? (
          <>
            <Button needs="editor" kind="quiet" onClick={() => setName(household.named ? household.name : '')}>
              Name it
            </Button>
            <Button needs="editor" kind="quiet" busy={busy} onClick={() => onDecide({ id: household.id, keep: null })}>
              End it
            </Button>
          </>
        ) : null}
      </div>
      <Members household={household} />
    </li>
  );
}
