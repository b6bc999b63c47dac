import { useMutation } from '@tanstack/react-query';
import { useEffect, useId } from 'react';
import { REMIT_PARTS, type Account, type Remit, type RemitTrial } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useLists } from '../../app/lists';
import { count } from '../../ui/when';

const NO_PART: Remit = { owners: [], sources: [], tags: [], areas: [] };
const WORDS: Record<keyof Remit, [one: string, many: string]> = {
  owners: ['owner', 'Owners'],
  sources: ['source', 'Sources'],
  tags: ['tag', 'Tags'],
  areas: ['area', 'Areas'],
};

/** A remit in one line: "owner Tom Okoro; tag boat fair". */
export function remitInWords(remit: Remit): string {
  const named = REMIT_PARTS.flatMap((kind) =>
    remit[kind].length
      ? [`${WORDS[kind][remit[kind].length > 1 ? 1 : 0].toLowerCase()} ${remit[kind].join(', ')}`]
      : [],
  );
  return named.join('; ') || 'nobody yet';
}

interface RemitFormProps {
  value: Remit | null;
  onChange: (remit: Remit | null) => void;
  accounts: readonly Account[];
  /** Name of the account it is for, who may be nobody's owner yet. */
  ownName: string;
}

/** Which part of the book an account sees, tried as it is chosen: how many people that is stands below. */
export function RemitForm({ value, onChange, accounts, ownName }: RemitFormProps) {
  const name = useId();
  const lists = useLists().data;
  const trial = useMutation({
    mutationFn: (remit: Remit) => api.post<RemitTrial>('/people/remit-trial', { remit }),
  });
  const { mutate } = trial;
  const asked = value && REMIT_PARTS.some((kind) => value[kind].length) ? JSON.stringify(value) : '';
  useEffect(() => {
    if (asked) mutate(JSON.parse(asked) as Remit);
  }, [asked, mutate]);
  const offered: Record<keyof Remit, string[]> = {
    owners: [
      ...new Set([
        ...(ownName.trim() ? [ownName.trim()] : []),
        ...accounts.filter(({ retiredAt }) => !retiredAt).map((one) => one.name),
        ...(lists?.owners ?? []).map(({ label }) => label),
      ]),
    ],
    sources: (lists?.sources ?? []).map(({ label }) => label),
    tags: (lists?.tags ?? []).map(({ label }) => label),
    areas: (lists?.areas ?? []).map(({ label }) => label),
  };
  return (
    <fieldset className="space-y-1.5">
      <legend className="sr-only">Which contacts the account sees and changes</legend>
      <label className="flex items-center gap-2">
        <input type="radio" name={name} checked={value === null} onChange={() => onChange(null)} /> sees and changes
        everybody
      </label>
      <label className="flex items-center gap-2">
        <input type="radio" name={name} checked={value !== null} onChange={() => onChange(value ?? NO_PART)} /> sees and
        changes only contacts with one of these
      </label>
      {value ? (
        <div className="grid grid-cols-[72px_minmax(0,1fr)] items-baseline gap-x-3 gap-y-1.5 pl-5">
          {REMIT_PARTS.map((kind) => (
            <PartLine
              key={kind}
              kind={kind}
              named={value[kind]}
              offered={offered[kind]}
              onChange={(named) => onChange({ ...value, [kind]: named })}
            />
          ))}
          <p className="col-start-2 text-[12.5px] text-ink2" role="status">
            {!asked
              ? 'Choose an owner, source, tag or area.'
              : trial.data
                ? `${count(trial.data.within)} of ${count(trial.data.of)} people`
                : (trial.error?.message ?? 'counting')}
          </p>
        </div>
      ) : null}
    </fieldset>
  );
}

function PartLine({
  kind,
  named,
  offered,
  onChange,
}: {
  kind: keyof Remit;
  named: string[];
  offered: string[];
  onChange: (named: string[]) => void;
}) {
  const [one, many] = WORDS[kind];
  const rest = offered.filter((label) => !named.includes(label));
  return (
    <>
      <span className="text-ink2">{many}</span>
      <span className="flex flex-wrap items-center gap-1.5">
        {named.map((label) => (
          <span key={label} className="inline-flex items-baseline border border-strong bg-page pl-1.5">
            {label}
            {offered.includes(label) ? null : <span className="pl-1 text-alarm">is gone</span>}
            <button
              type="button"
              aria-label={`Take out the ${one} ${label}`}
              className="min-h-6 min-w-6 text-ink3 hover:text-alarm"
              onClick={() => onChange(named.filter((other) => other !== label))}
            >
              ×
            </button>
          </span>
        ))}
        {rest.length ? (
          <select
            aria-label={`Add ${one === 'owner' || one === 'area' ? 'an' : 'a'} ${one}`}
            className="field max-w-36 py-0.5"
            value=""
            onChange={(event) => onChange([...named, event.target.value])}
          >
            <option value="">add…</option>
            {rest.map((label) => (
              <option key={label} value={label}>
                {label}
              </option>
            ))}
          </select>
        ) : named.length ? null : (
          <span className="text-ink3">none here</span>
        )}
      </span>
    </>
  );
}
