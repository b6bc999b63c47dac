import { useMutation } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { nearMisses } from '@gray-loom/core/quality';
import { api, Refused } from '../../app/api';
import { useRefresh } from '../../app/lists';
import { Button } from '../../ui/controls';

interface MergeFormProps {
  /** source, tag, stage, or the key of a field with choices. */
  list: string;
  label: string;
  others: string[];
  onDone: () => void;
}

/** Gives a value another name, or makes it one with another value, everywhere; one run that can be undone. */
export function MergeForm({ list, label, others, onDone }: MergeFormProps) {
  const id = useId();
  const refresh = useRefresh();
  const [into, setInto] = useState('');
  const merge = useMutation({
    mutationFn: (despite: boolean) =>
      api.post('/picks/merge', { list, from: label, into, ...(despite ? { despite } : {}) }),
    onSuccess: async () => {
      onDone();
      await refresh();
    },
  });
  const rest = others.filter((other) => other !== label);
  const exists = rest.includes(into.trim());
  const near = nearMisses(label, rest);
  return (
    <form
      className="space-y-1.5 py-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        merge.mutate(false);
      }}
    >
      <div className="flex gap-2">
        <input
          className="field min-w-0 flex-1"
          aria-label={`What ${label} becomes`}
          placeholder="another name, or one that exists"
          list={id}
          maxLength={80}
          value={into}
          onChange={(event) => setInto(event.target.value)}
        />
        <datalist id={id}>
          {rest.map((other) => (
            <option key={other} value={other} />
          ))}
        </datalist>
        <Button type="submit" disabled={!into.trim() || into.trim() === label} busy={merge.isPending}>
          {exists ? `Merge into ${into.trim()}` : 'Rename'}
        </Button>
      </div>
      {near.length ? (
        <p className="text-[12.5px] text-ink2">
          Much like:{' '}
          {near.map((one) => (
            <button key={one.label} type="button" className="link mr-2" onClick={() => setInto(one.label)}>
              {one.label}
            </button>
          ))}
        </p>
      ) : null}
      {merge.error ? (
        <p role="alert" className="text-alarm">
          {merge.error.message}{' '}
          {merge.error instanceof Refused && merge.error.problem.code === 'inRemit' ? (
            <Button busy={merge.isPending} onClick={() => merge.mutate(true)}>
              Merge all the same
            </Button>
          ) : null}
        </p>
      ) : null}
    </form>
  );
}
