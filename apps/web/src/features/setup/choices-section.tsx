import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { CountedChoice, FieldChange } from '@gray-loom/wire';
import type { FieldDefinition } from '@gray-loom/core/fields';
import { nearMisses } from '@gray-loom/core/quality';
import { api } from '../../app/api';
import { keys } from '../../app/keys';
import { useRefresh } from '../../app/lists';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { count } from '../../ui/when';
import { NotMade } from './making';
import { MergeForm } from './merge-form';
import { inOrder, MuchAlike, Step } from './much-alike';

/** The choices of a field: how many contacts have each, which are much alike, which nobody has; renamed, merged, put in order. */
export function ChoicesSection({ field }: { field: FieldDefinition }) {
  const refresh = useRefresh();
  const listed = field.choices ?? [];
  const [added, setAdded] = useState('');
  const [picked, setPicked] = useState<string | null>(null);
  const counted = useQuery({
    queryKey: keys.contacts('choices', field.key, listed.join('|')),
    queryFn: () => api.get<CountedChoice[]>(`/fields/${field.key}/choices`),
    placeholderData: (before) => before,
  });
  const change = useMutation({
    scope: { id: `choices of ${field.key}` },
    mutationFn: (changes: Pick<FieldChange, 'choices' | 'despite'>) => api.patch(`/fields/${field.key}`, changes),
    onSuccess: () => setAdded(''),
    onSettled: refresh,
  });
  const merge = useMutation({
    mutationFn: (labels: { from: string; into: string }) => api.post('/picks/merge', { list: field.key, ...labels }),
    onSettled: refresh,
  });
  if (counted.isPending) return <Loading what="the choices" />;
  if (counted.isLoadingError) return <Failed error={counted.error} retry={() => void counted.refetch()} />;
  const order = change.isPending ? (change.variables.choices ?? listed) : listed;
  const known = counted.data.filter(({ label, listed: isListed }) => isListed && order.includes(label));
  const shown = inOrder(
    [
      ...known,
      ...order.filter((label) => !known.some((one) => one.label === label)).map((label) => ({ label, count: 0 })),
    ],
    order,
  );
  const beside = counted.data.filter((one) => !one.listed);
  const unused = shown.filter((one) => one.count === 0).map(({ label }) => label);
  const text = added.trim();
  const near = nearMisses(text, order);
  const move = (at: number, step: number) => {
    const labels = [...order];
    const [one] = labels.splice(at, 1);
    if (one) labels.splice(at + step, 0, one);
    change.mutate({ choices: labels });
  };
  const add = (despite: boolean) => {
    if (text && !order.includes(text)) change.mutate({ choices: [...order, text], despite });
  };
  const isAdding = change.variables?.choices?.includes(text) === true && text !== '';
  return (
    <section className="space-y-2">
      <h3 className="font-semibold">Choices</h3>
      <Fault
        error={merge.error ?? (isAdding ? null : change.error)}
        onClose={() => [merge, change].forEach((one) => one.reset())}
      />
      <MuchAlike items={shown} busy={merge.isPending} onMerge={(from, into) => merge.mutate({ from, into })} />
      <ul>
        {shown.map((one, at) => (
          <li key={one.label} className="border-b border-hair py-1">
            <div className="flex items-baseline gap-1">
              <span className="min-w-0 flex-1 truncate">{one.label}</span>
              <span className="text-ink2">{one.count ? count(one.count) : 'nobody'}</span>
              <Step text={`Move ${one.label} up`} sign="↑" off={at === 0} onClick={() => move(at, -1)} />
              <Step
                text={`Move ${one.label} down`}
                sign="↓"
                off={at === shown.length - 1}
                onClick={() => move(at, 1)}
              />
              <button
                type="button"
                className="link min-h-6 text-[12.5px]"
                aria-expanded={picked === one.label}
                aria-label={`Rename or merge ${one.label}`}
                onClick={() => setPicked(picked === one.label ? null : one.label)}
              >
                rename or merge
              </button>
            </div>
            {picked === one.label ? (
              <MergeForm list={field.key} label={one.label} others={[...order]} onDone={() => setPicked(null)} />
            ) : null}
          </li>
        ))}
      </ul>
      {beside.length ? (
        <p className="text-ink2">
          Beside the list, from before: {beside.map((one) => `${one.label} (${count(one.count)})`).join(', ')}.
        </p>
      ) : null}
      <form
        className="flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          add(false);
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label="New choice"
          placeholder="new choice"
          maxLength={80}
          value={added}
          onChange={(event) => setAdded(event.target.value)}
        />
        <Button type="submit" busy={change.isPending && isAdding}>
          Add choice
        </Button>
        {near.length ? (
          <span className="basis-full text-ink2">Here already: {near.map(({ label }) => label).join(', ')}</span>
        ) : null}
        <NotMade error={isAdding ? change.error : null} busy={change.isPending} onDespite={() => add(true)} />
      </form>
      {unused.length ? (
        <p className="flex items-baseline gap-3 text-ink2">
          Nobody has {unused.length === 1 ? `"${unused[0]}"` : `${count(unused.length)} of them`}.
          {unused.length < shown.length ? (
            <Button
              busy={change.isPending}
              onClick={() => change.mutate({ choices: order.filter((label) => !unused.includes(label)) })}
            >
              Take {unused.length === 1 ? 'it' : 'them'} away
            </Button>
          ) : null}
        </p>
      ) : null}
    </section>
  );
}
