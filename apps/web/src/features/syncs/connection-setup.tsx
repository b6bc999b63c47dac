import { keys } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link, useBlocker, useNavigate } from 'react-router';
import type { ConnectionDetail, ConnectionTestResult, PairLook, SyncSetup } from '@gray-loom/wire';
import { api, Refused } from '../../app/api';
import { useLists } from '../../app/lists';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { LOOKS, ThreadSwatch } from '../../ui/thread-swatch';
import { count } from '../../ui/when';
import { useConnection, useRuns } from './connection-state';
import { useKnown } from '../segments/names';
import { LineTable } from './line-table';
import { ListTable } from './list-table';
import { SettingsBoxes, useConnectors } from './settings-boxes';
import { TestSteps } from './new-connection';
import { ScopeEditor } from './scope-editor';
import { StageLabels } from './stage-labels';

/** The set-up of a connection on one page: who takes part, what goes where, what happens in between, when to stop. */
export function ConnectionSetup({ id }: { id: number }) {
  const connection = useConnection(id);
  if (connection.isPending) return <Loading what="the set-up" />;
  if (connection.isLoadingError) return <Failed error={connection.error} retry={() => void connection.refetch()} />;
  return <Setup data={connection.data} />;
}

function Setup({ data }: { data: ConnectionDetail }) {
  const { id } = data;
  const navigate = useNavigate();
  const lists = useLists().data;
  const segments = useKnown().choices?.segments ?? [];
  const { run, refresh } = useRuns(id);
  const [draft, setDraft] = useState<SyncSetup>(data.setup);
  const [nth, setNth] = useState(0);
  const isChanged = JSON.stringify(draft) !== JSON.stringify(data.setup);
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => isChanged && currentLocation.pathname !== nextLocation.pathname,
  );
  const set = (change: Partial<SyncSetup>) => setDraft((known) => ({ ...known, ...change }));
  const look = useQuery({
    queryKey: keys.pair(id, nth, JSON.stringify(draft.lines)),
    queryFn: () => api.post<PairLook>(`/connections/${id}/pair`, { lines: draft.lines, nth }),
    placeholderData: (before) => before,
    retry: false,
  });
  const save = useMutation({
    mutationFn: (setup: SyncSetup) => api.patch<ConnectionDetail>(`/connections/${id}`, { setup }),
    onSuccess: async (saved, sent) => {
      // What was changed while it was being saved stays.
      setDraft((now) => (now === sent ? saved.setup : now));
      await refresh();
    },
  });
  const saveAndTry = () =>
    save.mutate(draft, {
      onSuccess: () => run.mutate({ trial: true }, { onSuccess: () => void navigate(`/syncs/${id}/trial`) }),
    });
  const again = useMutation({
    mutationFn: () => api.post<ConnectionDetail>(`/connections/${id}/refresh`),
    onSettled: refresh,
  });
  const refused = save.error instanceof Refused ? save.error : null;
  return (
    <div>
      <Fault
        error={refused ?? save.error ?? run.error ?? again.error}
        onClose={() => [save, run, again].forEach((one) => one.reset())}
      />
      {blocker.state === 'blocked' ? (
        <div
          role="alertdialog"
          aria-label="Changes are not saved"
          className="flex items-center gap-3 border-b border-hair bg-cloth px-6 py-2"
        >
          <span className="flex-1">The set-up has changes that are not saved.</span>
          <Button onClick={() => blocker.reset()}>Stay here</Button>
          <Button kind="danger" onClick={() => blocker.proceed()}>
            Drop them
          </Button>
        </div>
      ) : null}
      <div className="sticky top-0 z-10 flex items-center gap-3 border-b border-strong bg-ground px-6 py-2">
        <h2 className="text-[15px] font-semibold">Set-up of {data.name}</h2>
        <Link to={`/syncs/${id}`} className="link">
          back to its state
        </Link>
        <span className="ml-auto text-[12.5px] text-ink2">
          {isChanged ? 'not saved; tried again before it runs' : data.needsTrial ? 'not tried yet' : 'saved and tried'}
        </span>
        <Button busy={save.isPending} disabled={!isChanged} onClick={() => save.mutate(draft)}>
          Save
        </Button>
        <Button kind="action" busy={save.isPending || run.isPending} onClick={saveAndTry}>
          Save and try
        </Button>
      </div>
      <div className="space-y-6 px-6 py-4">
        {data.fights.length ? (
          <p className="border-l-2 border-alarm bg-alarmwash px-3 py-2 text-alarm">
            {data.fights.map(({ field, with: other }) => `${field} is replaced by ${other} as well.`).join(' ')} The two
            would put their own value back for ever. Let one of them ask, or fill blanks only.
          </p>
        ) : null}
        <section>
          <Heading aside="the first that fits counts">Who takes part</Heading>
          <ScopeEditor scopes={draft.scopes} data={data} lists={lists} onChange={(scopes) => set({ scopes })} />
          <p className="mt-3 flex flex-wrap gap-x-8 gap-y-1">
            <Tick checked={draft.newThere} onChange={(newThere) => set({ newThere })}>
              Make people over there who take part and are here only
            </Tick>
            <Tick checked={draft.newHere} onChange={(newHere) => set({ newHere })}>
              Make people here who are over there only
            </Tick>
          </p>
        </section>
        <section>
          <Heading
            aside={
              <span className="flex items-center gap-2">
                {look.data?.name ? (
                  <>
                    shown with <strong className="font-semibold text-ink">{look.data.name}</strong>
                    {look.data.contactId ? '' : ', who is nobody here yet'}
                  </>
                ) : look.error ? (
                  <span className="text-alarm">no pair: {look.error.message}</span>
                ) : null}
                <Button kind="quiet" onClick={() => setNth(nth + 1)}>
                  Another pair
                </Button>
                <Button kind="quiet" busy={again.isPending} onClick={() => again.mutate()}>
                  Fetch its fields again
                </Button>
              </span>
            }
          >
            What goes where
          </Heading>
          <p className="mt-1 text-[12.5px] text-ink2">
            The other side holds{' '}
            {data.capabilities.records === null ? 'records' : `${count(data.capabilities.records)} records`}
            {data.capabilities.mostRecords === null
              ? ' and says no limit'
              : ` and has room for ${count(data.capabilities.mostRecords)}`}
            ; it{' '}
            {data.capabilities.tellsTimes
              ? 'says when a record was changed'
              : 'does not say when a record was changed, so "newest wins" asks'}
            {data.capabilities.canRemove ? '' : ', and removes nothing'}
            {data.capabilities.keepsStops.length ? '' : '. Who is not to be written to is kept here only'}
            {data.capabilities.perDay === undefined
              ? ''
              : `. It takes ${count(data.capabilities.perDay)} requests a day, of which a tenth is kept for stops`}
            .
          </p>
          <LineTable
            lines={draft.lines}
            data={data}
            lists={lists}
            look={look.data}
            onChange={(lines) => set({ lines })}
          />
        </section>
        {draft.lines.some((line) => line.stageLabels) ? (
          <section>
            <Heading aside="a contact is in one stage, so it has one of these labels">Stages as labels</Heading>
            <StageLabels lines={draft.lines} data={data} lists={lists} onChange={(lines) => set({ lines })} />
          </section>
        ) : null}
        {data.capabilities.labels ? (
          <section>
            <Heading aside="a list follows its segment, a tag its list">Lists</Heading>
            <ListTable
              lines={draft.lists ?? []}
              data={data}
              lists={lists}
              segments={segments}
              onChange={(lines) => set({ lists: lines })}
            />
          </section>
        ) : null}
        <section>
          <Heading>People who go</Heading>
          <div className="mt-2 grid grid-cols-2 gap-x-8 gap-y-2">
            <Choice
              label="Deleted over there"
              value={draft.whenGoneThere}
              choices={{ keep: 'kept here, no longer in step', makeAgain: 'made over there again' }}
              onChoose={(whenGoneThere) => set({ whenGoneThere })}
            />
            <Choice
              label="Deleted here"
              value={draft.whenGoneHere}
              choices={{ keep: 'kept over there, no longer in step', remove: 'removed over there' }}
              onChoose={(whenGoneHere) => set({ whenGoneHere })}
            />
            <Choice
              label="Does not take part any more"
              value={draft.whenLeaving}
              choices={{
                keep: 'kept over there, no longer in step',
                takeLabelOff: 'kept over there without its label',
                remove: 'removed over there',
              }}
              onChoose={(whenLeaving) => set({ whenLeaving })}
            />
            <Choice
              label="Two records, merged here"
              value={draft.whenMergedHere}
              choices={{ ask: 'asks what becomes of the second', remove: 'second one removed over there' }}
              onChoose={(whenMergedHere) => set({ whenMergedHere })}
            />
            {data.capabilities.oneFor === undefined ? null : (
              <Choice
                label="Several people with one address"
                value={draft.whoShares ?? 'first'}
                choices={{ first: 'whoever was here first has the record', ask: 'somebody says whose the record is' }}
                onChoose={(whoShares) => set({ whoShares })}
              />
            )}
          </div>
          <p className="mt-2 text-[12.5px] text-ink2">A sync never deletes anybody here.</p>
        </section>
        <section>
          <Heading>The brake</Heading>
          <p className="mt-2 flex flex-wrap items-center gap-2">
            A run stops and asks when it would take away more than
            <input
              type="number"
              min={0}
              className="field w-20"
              aria-label="Most that is taken away"
              value={draft.limits.removals}
              onChange={(event) => set({ limits: { ...draft.limits, removals: Number(event.target.value) } })}
            />
            values or records on a side, or replace more than
            <input
              type="number"
              min={0}
              className="field w-20"
              aria-label="Most that is replaced"
              value={draft.limits.overwrites}
              onChange={(event) => set({ limits: { ...draft.limits, overwrites: Number(event.target.value) } })}
            />
            values.
          </p>
        </section>
        <Access data={data} onSaved={refresh} />
      </div>
    </div>
  );
}

function Tick({
  checked,
  onChange,
  children,
}: {
  checked: boolean;
  onChange: (checked: boolean) => void;
  children: ReactNode;
}) {
  return (
    <label className="flex items-center gap-2">
      <input type="checkbox" checked={checked} onChange={(event) => onChange(event.target.checked)} />
      {children}
    </label>
  );
}

function Choice<T extends string>({
  label,
  value,
  choices,
  onChoose,
}: {
  label: string;
  value: T;
  choices: Record<T, string>;
  onChoose: (value: T) => void;
}) {
  return (
    <label className="flex items-center gap-2">
      <span className="w-44 shrink-0 text-ink2">{label}</span>
      <select className="field min-w-0 flex-1" value={value} onChange={(event) => onChoose(event.target.value as T)}>
        {(Object.entries(choices) as [T, string][]).map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Name, address and credentials, saved apart from the set-up. */
function Access({ data, onSaved }: { data: ConnectionDetail; onSaved: () => Promise<unknown> }) {
  const [name, setName] = useState(data.name);
  const connector = useConnectors().find(({ kind }) => kind === data.kind);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [look, setLook] = useState(data.look);
  const test = useMutation({
    mutationFn: () =>
      api.post<ConnectionTestResult>('/connections/test', { kind: data.kind, settings: typed, of: data.id }),
  });
  const save = useMutation({
    mutationFn: () =>
      api.patch(`/connections/${data.id}`, {
        ...(name === data.name ? {} : { name }),
        ...(Object.keys(typed).length ? { settings: typed } : {}),
        ...(look === data.look ? {} : { look }),
      }),
    onSuccess: async () => {
      setTyped({});
      await onSaved();
    },
  });
  const isChanged =
    name !== data.name ||
    Object.entries(typed).some(([key, text]) => text !== (data.settings[key] ?? '')) ||
    look !== data.look;
  return (
    <section>
      <Heading>Name, thread, and how it is reached</Heading>
      <div className="mt-2 grid grid-cols-4 gap-3">
        <label className="block">
          <span className="mb-0.5 block text-ink2">What you call it</span>
          <input className="field w-full" value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        <SettingsBoxes
          settings={connector?.settings ?? []}
          values={{ ...data.settings, ...typed }}
          keepsSecrets
          onType={(key, text) => setTyped({ ...typed, [key]: text })}
        />
      </div>
      <fieldset className="mt-2 flex items-center gap-4">
        <legend className="sr-only">Look of its thread</legend>
        <span className="text-ink2">Its thread</span>
        {Array.from({ length: LOOKS }, (_, i) => (
          <label key={i} className="flex items-center gap-1.5">
            <input type="radio" name="look" checked={look === i} onChange={() => setLook(i)} />
            <ThreadSwatch kind={data.kind} look={i} title={`Look ${i + 1}`} />
          </label>
        ))}
      </fieldset>
      <div className="mt-2 flex items-center gap-3">
        <Button busy={test.isPending} onClick={() => test.mutate()}>
          Test
        </Button>
        <Button busy={save.isPending} disabled={!isChanged} onClick={() => save.mutate()}>
          Save these
        </Button>
        {save.error ? <span className="text-alarm">{save.error.message}</span> : null}
        {test.error ? <span className="text-alarm">{test.error.message}</span> : null}
      </div>
      {test.data ? <TestSteps result={test.data} /> : null}
    </section>
  );
}
