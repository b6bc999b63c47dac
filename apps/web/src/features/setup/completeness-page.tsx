import { useMutation, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { EQUAL_WEIGHTS, MOST_WEIGHT, type FieldDefinition } from '@gray-loom/core/fields';
import type { Lists, WeightsInForce, WeightsTrial } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count } from '../../ui/when';

const FIFTHS = ['0 to 19%', '20 to 39%', '40 to 59%', '60 to 79%', '80 to 100%'];
/** Made from other fields. */
const MADE = new Set(['fullName', 'letterLine', 'salutation']);

/** What each field adds to completeness; tried on everybody before it is saved. */
export function CompletenessPage({ lists }: { lists: Lists }) {
  const touch = useTouch();
  const kept = useQuery({ queryKey: keys.completeness(), queryFn: () => api.get<WeightsInForce>('/completeness') });
  const [wanted, setWanted] = useState<Record<string, number> | null>(null);
  const asked = useDeferredValue(wanted);
  const trial = useQuery({
    queryKey: keys.completeness('trial', asked),
    queryFn: () => api.post<WeightsTrial>('/completeness/trial', { weights: asked }),
    enabled: asked !== null,
    placeholderData: (before) => before,
    retry: false,
  });
  const save = useMutation({
    mutationFn: (weights: Record<string, number>) => api.put('/completeness', { weights }),
    onSuccess: async () => {
      await touch('setup', 'contacts', 'run');
      setWanted(null);
    },
  });
  if (kept.isPending) return <Loading what="weights" />;
  if (kept.isLoadingError) return <Failed error={kept.error} retry={() => void kept.refetch()} />;
  const weights = wanted ?? kept.data.weights;
  const fields = lists.fields.filter(({ key, retired }) => !retired && !MADE.has(key));
  const counted = fields.filter(({ key }) => (weights[key] ?? 0) > 0);
  const others = fields.filter(({ key }) => (weights[key] ?? 0) === 0);
  const whole = counted.reduce((sum, { key }) => sum + (weights[key] ?? 0), 0);
  const set = (key: string, weight: number) => setWanted({ ...weights, [key]: weight });
  const row = (field: FieldDefinition) => (
    <Weight key={field.key} field={field} weight={weights[field.key] ?? 0} whole={whole} onChange={set} />
  );
  return (
    <form
      className="flex h-full min-h-0 flex-col"
      aria-label="Completeness"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(weights);
      }}
    >
      <Fault error={save.error} onClose={() => save.reset()} />
      <div className="grid min-h-0 flex-1 gap-8 overflow-y-auto px-6 py-4 lg:grid-cols-2">
        <section>
          <Heading aside={`${counted.length} ${counted.length === 1 ? 'field' : 'fields'}`}>What counts</Heading>
          <p className="my-2 text-ink2">
            A contact is as complete as the share of these weights that it has a value for. The sheet asks for the
            heaviest that is missing. Fields of people do not count for organizations.
          </p>
          <ul>{counted.map(row)}</ul>
          {counted.length ? null : <p className="py-2 text-alarm">At least one field has to count.</p>}
          <details className="mt-4">
            <summary className="cursor-pointer text-ink2">{others.length} fields that do not count</summary>
            <ul>{others.map(row)}</ul>
          </details>
          <p className="mt-3">
            <button type="button" className="link text-[12.5px]" onClick={() => setWanted({ ...EQUAL_WEIGHTS })}>
              All as shipped
            </button>
          </p>
        </section>
        <section aria-live="polite">
          <Heading>{wanted ? 'How it would be' : 'How it is'}</Heading>
          {wanted ? null : (
            <p className="my-2 text-ink2">Change a weight to see how complete people would be. Nothing is written.</p>
          )}
          {trial.error && wanted ? <p className="my-2 text-alarm">{trial.error.message}</p> : null}
          <table className="mt-2 w-full">
            <thead>
              <tr className="border-b border-hair text-left text-[12.5px] text-ink2">
                <th className="py-1 font-normal">People who are complete to</th>
                <th className="py-1 text-right font-normal">now</th>
                {wanted ? <th className="py-1 text-right font-normal">then</th> : null}
              </tr>
            </thead>
            <tbody>
              {FIFTHS.map((name, at) => (
                <tr key={name} className="border-b border-hair">
                  <td className="py-1">{name}</td>
                  <td className="py-1 text-right">{count(kept.data.now.bands[at] ?? 0)}</td>
                  {wanted ? (
                    <td className="py-1 text-right font-semibold">
                      {trial.data ? count(trial.data.bands[at] ?? 0) : '…'}
                    </td>
                  ) : null}
                </tr>
              ))}
              <tr>
                <td className="py-1 font-semibold">On average</td>
                <td className="py-1 text-right font-semibold">{kept.data.now.mean}%</td>
                {wanted ? (
                  <td className="py-1 text-right font-semibold">{trial.data ? `${trial.data.mean}%` : '…'}</td>
                ) : null}
              </tr>
            </tbody>
          </table>
        </section>
      </div>
      {wanted ? (
        <div className="flex gap-2 border-t border-strong bg-page px-6 py-2">
          <Button kind="action" type="submit" busy={save.isPending} disabled={!counted.length}>
            Save
          </Button>
          <Button kind="quiet" onClick={() => setWanted(null)}>
            Do not change
          </Button>
        </div>
      ) : null}
    </form>
  );
}

interface WeightProps {
  field: FieldDefinition;
  weight: number;
  whole: number;
  onChange: (key: string, weight: number) => void;
}

function Weight({ field, weight, whole, onChange }: WeightProps) {
  return (
    <li className="border-b border-hair">
      <label className="flex items-center gap-3 py-1">
        <span className="flex-1 truncate">{field.name}</span>
        <input
          type="range"
          min={0}
          max={MOST_WEIGHT}
          className="w-36 accent-(--ink)"
          aria-label={`Weight of ${field.name}`}
          value={weight}
          onChange={(event) => onChange(field.key, event.target.valueAsNumber)}
        />
        <span className="w-4 text-right tabular-nums">{weight}</span>
        <span className="w-10 text-right text-[12.5px] text-ink2 tabular-nums">
          {weight && whole ? `${Math.round((weight / whole) * 100)}%` : ''}
        </span>
      </label>
    </li>
  );
}
