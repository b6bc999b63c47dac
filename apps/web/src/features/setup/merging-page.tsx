import { keys, useTouch } from '../../app/keys';
import { isLengthy } from '@gray-loom/core/merging';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { MergeRuleSetup, MergeRuleTrial, Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button, Failed, Heading, Loading } from '../../ui/controls';
import { THREAD_NAMES, ThreadSwatch } from '../../ui/thread-swatch';
import { count } from '../../ui/when';

const RULES: [MergeRuleSetup['otherwise'], string][] = [
  ['newest', 'the newest'],
  ['trusted', 'that of the most trusted thread'],
  ['frequent', 'what most records say'],
  ['longest', 'the longest'],
];

/** How a merge chooses among values, field by field; tried on the groups that wait before it is kept. */
export function MergingPage({ lists }: { lists: Lists }) {
  const client = useQueryClient();
  const touch = useTouch();
  const kept = useQuery({
    queryKey: keys.duplicates('rules'),
    queryFn: () => api.get<MergeRuleSetup>('/duplicates/rules'),
  });
  const [wanted, setWanted] = useState<MergeRuleSetup | null>(null);
  const trial = useQuery({
    queryKey: keys.duplicates('rules', 'trial', wanted),
    queryFn: () => api.post<MergeRuleTrial>('/duplicates/rules/trial', wanted),
    enabled: wanted !== null,
  });
  const save = useMutation({
    mutationFn: (rules: MergeRuleSetup) => api.put<MergeRuleSetup>('/duplicates/rules', rules),
    onSuccess: async (saved, sent) => {
      client.setQueryData(keys.duplicates('rules'), saved);
      // What was changed while it was being saved is still wanted.
      setWanted((now) => (now === sent ? null : now));
      await touch('groups');
    },
  });
  if (kept.isPending) return <Loading what="the rules" />;
  if (kept.isLoadingError) return <Failed error={kept.error} retry={() => void kept.refetch()} />;
  const rules = wanted ?? kept.data;
  const change = (more: Partial<MergeRuleSetup>) => setWanted({ ...rules, ...more });
  const fields = lists.fields.filter((field) => !field.several && !field.retired);
  const move = (at: number, by: number) => {
    const trusted = [...rules.trusted];
    const [kind] = trusted.splice(at, 1);
    if (kind) trusted.splice(at + by, 0, kind);
    change({ trusted });
  };
  return (
    <div className="relative flex h-full min-h-0 flex-col">
      <div className="grid min-h-0 flex-1 gap-8 overflow-y-auto px-6 py-4 lg:grid-cols-2">
        <section>
          <Heading>Which value stays</Heading>
          <p className="mb-2 text-ink2">
            Of several values for one field, a merge proposes one; the others stay with the contact. Fields with several
            values, such as e-mail and phone, keep them all. A name written in capitals only gives way to one that is
            not.
          </p>
          <label className="flex items-center gap-3 border-b border-strong py-1.5 font-semibold">
            <span className="w-40">Every field</span>
            <select
              className="field"
              value={rules.otherwise}
              onChange={(event) => change({ otherwise: event.target.value as MergeRuleSetup['otherwise'] })}
            >
              {RULES.map(([rule, name]) => (
                <option key={rule} value={rule}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          {fields.map((field) => (
            <label key={field.key} className="flex items-center gap-3 border-b border-hair py-1">
              <span className="w-40 truncate">{field.name}</span>
              <select
                value={rules.byField[field.key] ?? ''}
                onChange={(event) => {
                  const byField = { ...rules.byField };
                  if (event.target.value) byField[field.key] = event.target.value as MergeRuleSetup['otherwise'];
                  else delete byField[field.key];
                  change({ byField });
                }}
                className={`field ${rules.byField[field.key] ? '' : 'text-ink2'}`}
              >
                <option value="">as every field</option>
                {RULES.filter(([rule]) => rule !== 'longest' || isLengthy(field)).map(([rule, name]) => (
                  <option key={rule} value={rule}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          ))}
        </section>
        <div className="space-y-6">
          <section>
            <Heading>Whom to trust, most first</Heading>
            <ol>
              {rules.trusted.map((kind, i) => (
                <li key={kind} className="flex items-center gap-3 border-b border-hair py-0.5">
                  <span className="w-5 text-right text-ink2 tabular-nums">{i + 1}</span>
                  <ThreadSwatch kind={kind} />
                  <span className="flex-1">{THREAD_NAMES[kind]}</span>
                  <Button
                    kind="quiet"
                    disabled={i === 0}
                    aria-label={`${THREAD_NAMES[kind]} up`}
                    onClick={() => move(i, -1)}
                  >
                    ↑
                  </Button>
                  <Button
                    kind="quiet"
                    disabled={i === rules.trusted.length - 1}
                    aria-label={`${THREAD_NAMES[kind]} down`}
                    onClick={() => move(i, 1)}
                  >
                    ↓
                  </Button>
                </li>
              ))}
            </ol>
          </section>
          <section aria-live="polite">
            <Heading>Tried on the groups that wait</Heading>
            {!wanted ? (
              <p className="text-ink2">Change a rule to see what would come out otherwise. Nothing is written.</p>
            ) : trial.isPending ? (
              <Loading what="what would differ" />
            ) : trial.error ? (
              <p className="text-alarm">{trial.error.message}</p>
            ) : (
              <>
                <p className="mb-2">
                  In {count(trial.data.differing)} of {count(trial.data.groups)} groups the result would be another;{' '}
                  {count(trial.data.values)} {trial.data.values === 1 ? 'value' : 'values'} in all.
                </p>
                <ul>
                  {trial.data.examples.map((example) => (
                    <li key={example.groupId} className="border-b border-hair py-1">
                      <Link to={`/duplicates/${example.groupId}`} className="font-semibold hover:underline">
                        {example.name}
                      </Link>
                      {example.changed.map((one) => (
                        <span key={one.field} className="block text-[13px]">
                          <span className="text-ink2">{one.field}</span> <s className="text-ink2">{one.before}</s>{' '}
                          {one.after}
                        </span>
                      ))}
                    </li>
                  ))}
                </ul>
              </>
            )}
          </section>
        </div>
      </div>
      <div className="flex items-center gap-2 border-t border-strong px-6 py-2.5">
        <Button kind="action" disabled={!wanted} busy={save.isPending} onClick={() => save.mutate(rules)}>
          Save
        </Button>
        <Button disabled={!wanted} onClick={() => setWanted(null)}>
          As it was
        </Button>
        {save.error ? (
          <span role="alert" className="text-alarm">
            {save.error.message}
          </span>
        ) : null}
      </div>
    </div>
  );
}
