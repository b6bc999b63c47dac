import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Account, Giving } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { useLists } from '../../app/lists';
import { Button, Failed, Loading } from '../../ui/controls';

/** Who takes turns when people are given out, and who has which area. */
export function GivingForm({ accounts }: { accounts: readonly Account[] }) {
  const giving = useQuery({ queryKey: keys.giving(), queryFn: () => api.get<Giving>('/giving') });
  if (giving.isPending) return <Loading what="who takes turns" />;
  if (giving.isLoadingError) return <Failed error={giving.error} retry={() => void giving.refetch()} />;
  return <Form key={JSON.stringify(giving.data)} giving={giving.data} accounts={accounts} />;
}

function Form({ giving, accounts }: { giving: Giving; accounts: readonly Account[] }) {
  const touch = useTouch();
  const areas = (useLists().data?.areas ?? []).map(({ label }) => label);
  const [draft, setDraft] = useState(giving);
  const save = useMutation({ mutationFn: () => api.put('/giving', draft), onSuccess: () => touch('setup') });
  const gone = draft.byArea.filter(({ area }) => !areas.includes(area)).map(({ area }) => area);
  const here = new Set(accounts.map(({ id }) => id));
  const retired = draft.inTurn.filter((id) => !here.has(id)).length;
  const ownerOf = (area: string) => draft.byArea.find((one) => one.area === area)?.accountId;
  const changed = JSON.stringify(draft) !== JSON.stringify(giving);
  return (
    <div className="space-y-2 pt-1.5">
      <p className="text-ink2">
        An import, or a list that is handed over, can give people without an owner to these, fairly. Who is retired is
        passed over.
      </p>
      <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
        <legend className="font-semibold">In turn</legend>
        {accounts.map(({ id, name }) => (
          <label key={id} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={draft.inTurn.includes(id)}
              onChange={(event) =>
                setDraft({
                  ...draft,
                  inTurn: event.target.checked ? [...draft.inTurn, id] : draft.inTurn.filter((other) => other !== id),
                })
              }
            />
            {name}
          </label>
        ))}
        {retired ? (
          <span className="text-ink2">
            {retired} retired{' '}
            <button
              type="button"
              className="link"
              onClick={() => setDraft({ ...draft, inTurn: draft.inTurn.filter((id) => here.has(id)) })}
            >
              take out
            </button>
          </span>
        ) : null}
      </fieldset>
      {[...areas, ...gone].length ? (
        <fieldset className="grid grid-cols-[minmax(0,200px)_minmax(0,240px)] items-baseline gap-x-3 gap-y-1.5">
          <legend className="font-semibold">By area; elsewhere in turn</legend>
          {[...areas, ...gone].map((area) => (
            <label key={area} className="contents">
              <span className="truncate">
                {area}
                {gone.includes(area) ? <span className="text-alarm"> is gone</span> : null}
              </span>
              <select
                className="field"
                value={ownerOf(area) ?? ''}
                onChange={(event) => {
                  const rest = draft.byArea.filter((one) => one.area !== area);
                  const accountId = Number(event.target.value);
                  setDraft({ ...draft, byArea: accountId ? [...rest, { area, accountId }] : rest });
                }}
              >
                <option value="">in turn</option>
                {accounts.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          ))}
        </fieldset>
      ) : null}
      {save.error ? (
        <p role="alert" className="text-alarm">
          {save.error.message}
        </p>
      ) : null}
      {changed ? (
        <p className="flex gap-2">
          <Button kind="action" busy={save.isPending} onClick={() => save.mutate()}>
            Save who is given people
          </Button>
          <Button kind="quiet" onClick={() => setDraft(giving)}>
            As it was
          </Button>
        </p>
      ) : null}
    </div>
  );
}
