import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { CountedPick, Lists, PickChange, PickKind } from '@gray-loom/wire';
import { nearMisses } from '@gray-loom/core/quality';
import { api } from '../../app/api';
import { useRefresh } from '../../app/lists';
import { Button, Fault, Heading } from '../../ui/controls';
import { SheetHead } from '../../ui/sheet-head';
import { SplitView } from '../../ui/split-view';
import { COLOUR_NAMES, Tag } from '../../ui/tag';
import { count } from '../../ui/when';
import { NotMade } from './making';
import { MergeForm } from './merge-form';
import { inOrder, MuchAlike, Step } from './much-alike';
import { everyone, WhoHasIt } from './who-has-it';

const WORDS: Record<PickKind, { title: string; one: string; lists: 'tags' | 'sources' | 'stages' }> = {
  tag: { title: 'Tags', one: 'tag', lists: 'tags' },
  source: { title: 'Sources', one: 'source', lists: 'sources' },
  stage: { title: 'Stages', one: 'stage', lists: 'stages' },
};

/** One pick-list: its values with how many use them, those that look alike, those nobody uses; a sheet for the one picked. */
export function PicksPage({ kind, lists }: { kind: PickKind; lists: Lists }) {
  const [params, setParams] = useSearchParams();
  const refresh = useRefresh();
  const words = WORDS[kind];
  const order = useMutation({
    scope: { id: `order of ${kind}` },
    mutationFn: (labels: string[]) => api.put(`/picks/${kind}`, { labels }),
    onSettled: refresh,
  });
  // In the order that was just asked for, so that who is fast moves on from there.
  const items = order.isPending ? inOrder(lists[words.lists], order.variables) : lists[words.lists];
  const picked = items.find((item) => item.label === params.get('pick'));
  const pick = (label: string | null) => setParams(label ? { pick: label } : {}, { replace: true });
  const unused = items.filter((item) => everyone(item) === 0);
  const merge = useMutation({
    mutationFn: (labels: { from: string; into: string }) => api.post('/picks/merge', { list: kind, ...labels }),
    onSettled: refresh,
  });
  const drop = useMutation({
    mutationFn: async (labels: string[]) => {
      for (const label of labels) await api.delete(`/picks/${kind}/${encodeURIComponent(label)}`);
    },
    onSettled: refresh,
  });
  const move = (at: number, step: number) => {
    const labels = items.map((item) => item.label);
    const [one] = labels.splice(at, 1);
    if (one) labels.splice(at + step, 0, one);
    order.mutate(labels);
  };
  return (
    <SplitView
      list={
        <div className="min-h-0 flex-1 space-y-5 overflow-y-auto px-5 py-4">
          <Fault
            error={merge.error ?? order.error ?? drop.error}
            onClose={() => [merge, order, drop].forEach((one) => one.reset())}
          />
          <MuchAlike
            items={items.map((item) => ({ label: item.label, count: everyone(item) }))}
            enabled={kind !== 'stage'}
            busy={merge.isPending}
            onMerge={(from, into) => merge.mutate({ from, into })}
          />
          <section>
            <Heading aside={count(items.length)}>{words.title}</Heading>
            {kind === 'stage' ? (
              <p className="py-1 text-ink2">
                A contact has exactly one stage. What each means stands beside it wherever it is chosen.
              </p>
            ) : null}
            {items.length === 0 ? <p className="py-2 text-ink2">None yet.</p> : null}
            <ul>
              {items.map((item, at) => (
                <li
                  key={item.label}
                  className={`flex items-baseline gap-2 border-b border-hair ${item === picked ? 'bg-picked' : ''}`}
                >
                  <button
                    type="button"
                    aria-current={item === picked || undefined}
                    className="grid min-w-0 flex-1 grid-cols-[minmax(90px,auto)_minmax(0,1fr)] gap-3 py-1 text-left"
                    onClick={() => pick(item.label)}
                  >
                    <span>
                      {kind === 'tag' ? (
                        <Tag label={item.label} colour={item.colour} />
                      ) : (
                        <span className={kind === 'stage' ? 'font-semibold' : ''}>{item.label}</span>
                      )}
                    </span>
                    <span className="truncate text-ink2">
                      {item.meaning || (kind === 'stage' ? 'no meaning written yet' : '')}
                    </span>
                  </button>
                  {kind === 'stage' ? (
                    <>
                      <Step text={`Move ${item.label} up`} sign="↑" off={at === 0} onClick={() => move(at, -1)} />
                      <Step
                        text={`Move ${item.label} down`}
                        sign="↓"
                        off={at === items.length - 1}
                        onClick={() => move(at, 1)}
                      />
                    </>
                  ) : null}
                  <span className="w-14 text-right text-ink2">{everyone(item) ? count(everyone(item)) : 'nobody'}</span>
                </li>
              ))}
            </ul>
            <NewPick kind={kind} labels={items.map((item) => item.label)} onPick={pick} />
          </section>
          {unused.length && kind !== 'stage' ? (
            <p className="flex items-baseline gap-3 text-ink2">
              Nobody uses {unused.length === 1 ? `"${unused[0]?.label}"` : `${count(unused.length)} of them`}.
              <Button busy={drop.isPending} onClick={() => drop.mutate(unused.map((item) => item.label))}>
                Take {unused.length === 1 ? 'it' : 'them'} away
              </Button>
            </p>
          ) : null}
        </div>
      }
      sheet={
        picked ? (
          <PickSheet key={picked.label} kind={kind} item={picked} items={items} onClose={() => pick(null)} />
        ) : null
      }
    />
  );
}

function NewPick({ kind, labels, onPick }: { kind: PickKind; labels: string[]; onPick: (label: string) => void }) {
  const refresh = useRefresh();
  const [label, setLabel] = useState('');
  const near = nearMisses(label.trim(), labels);
  const make = useMutation({
    mutationFn: (despite: boolean) => api.post('/picks', { kind, label, despite }),
    onSuccess: async () => {
      await refresh();
      onPick(label.trim());
      setLabel('');
    },
  });
  return (
    <form
      className="mt-2 flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate(false);
      }}
    >
      <input
        className="field w-48"
        aria-label={`New ${WORDS[kind].one}`}
        placeholder={`New ${WORDS[kind].one}`}
        maxLength={80}
        value={label}
        onChange={(event) => setLabel(event.target.value)}
      />
      <Button type="submit" busy={make.isPending}>
        Make {WORDS[kind].one}
      </Button>
      {near.length ? (
        <span className="text-ink2">
          Here already:{' '}
          {near.map((one) => (
            <button key={one.label} type="button" className="link mr-2 font-semibold" onClick={() => onPick(one.label)}>
              {one.label}
            </button>
          ))}
        </span>
      ) : null}
      <NotMade error={make.error} busy={make.isPending} onDespite={() => make.mutate(true)} />
    </form>
  );
}

function PickSheet({
  kind,
  item,
  items,
  onClose,
}: {
  kind: PickKind;
  item: CountedPick;
  items: CountedPick[];
  onClose: () => void;
}) {
  const refresh = useRefresh();
  const [meaning, setMeaning] = useState(item.meaning);
  const address = `/picks/${kind}/${encodeURIComponent(item.label)}`;
  const change = useMutation({
    mutationFn: (changes: Partial<PickChange>) => api.patch(address, changes),
    onSettled: refresh,
  });
  const drop = useMutation({
    mutationFn: () => api.delete(address),
    onSuccess: async () => {
      onClose();
      await refresh();
    },
  });
  return (
    <article className="space-y-4 px-4.5 py-3.5">
      <SheetHead title={item.label} onClose={onClose} />
      <p>{everyone(item) ? <WhoHasIt by={kind} counts={item} /> : 'Nobody has it.'}</p>
      <Fault error={change.error ?? drop.error} onClose={() => [change, drop].forEach((one) => one.reset())} />
      {kind === 'tag' ? (
        <fieldset>
          <legend className="font-semibold">Colour</legend>
          <div className="mt-1 flex flex-wrap gap-1.5">
            {COLOUR_NAMES.map((name, colour) => (
              <label
                key={name}
                className={`flex cursor-pointer items-center gap-1.5 border px-1.5 py-0.5 ${item.colour === colour ? 'border-ink' : 'border-hair'}`}
              >
                <input
                  type="radio"
                  name="colour"
                  className="sr-only"
                  checked={item.colour === colour}
                  onChange={() => change.mutate({ colour })}
                />
                <span
                  aria-hidden
                  className="inline-block h-3.5 w-3.5"
                  style={{ background: colour ? `var(--tag${colour})` : 'var(--wash)' }}
                />
                {name}
              </label>
            ))}
          </div>
        </fieldset>
      ) : null}
      <form
        className="space-y-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ meaning });
        }}
      >
        <label className="block">
          <span className="font-semibold">What it means</span>
          <textarea
            rows={3}
            maxLength={300}
            className="field mt-1 w-full"
            value={meaning}
            onChange={(event) => setMeaning(event.target.value)}
          />
        </label>
        <Button type="submit" busy={change.isPending} disabled={meaning === item.meaning}>
          Save the meaning
        </Button>
      </form>
      <section>
        <h3 className="font-semibold">Rename or merge</h3>
        <p className="text-[12.5px] text-ink2">Changes it with everybody who has it, as one run that can be undone.</p>
        <MergeForm list={kind} label={item.label} others={items.map((one) => one.label)} onDone={onClose} />
      </section>
      {everyone(item) === 0 ? (
        <Button busy={drop.isPending} onClick={() => drop.mutate()}>
          Take it away
        </Button>
      ) : null}
    </article>
  );
}
