import { keys } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ConversionTrial, FieldChange, FieldClashes, Lists } from '@gray-loom/wire';
import {
  CUSTOM_PREFIX,
  CUSTOM_TYPES,
  TYPE_NAMES,
  UNIQUE_TYPES,
  type FieldDefinition,
  type FieldType,
  type UniqueRule,
} from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { useRefresh } from '../../app/lists';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { SheetHead } from '../../ui/sheet-head';
import { count } from '../../ui/when';
import { ChoicesSection } from './choices-section';

const UNIQUE_WORDS: Record<UniqueRule, string> = {
  no: 'may stand with several contacts',
  warn: 'should stand once; a clash is warned about',
  refuse: 'may stand once only; a clash is refused',
};

/** One field: what it is called, where it stands, what is asked of it, its type with a trial, and its end. */
export function FieldSheet({ field, lists, onClose }: { field: FieldDefinition; lists: Lists; onClose: () => void }) {
  const refresh = useRefresh();
  const isOwn = field.key.startsWith(CUSTOM_PREFIX);
  const change = useMutation({
    mutationFn: (changes: Partial<FieldChange>) => api.patch(`/fields/${field.key}`, changes),
    onSettled: refresh,
  });
  const canBeUnique = UNIQUE_TYPES.includes(field.type);
  return (
    <article className="space-y-4 px-4.5 py-3.5">
      <SheetHead title={field.name} onClose={onClose}>
        <span className="text-ink2">
          {TYPE_NAMES[field.type]}
          {field.retired ? ', retired' : ''}
        </span>
      </SheetHead>
      <Fault error={change.error} onClose={() => change.reset()} />
      {isOwn ? (
        <OwnShape field={field} lists={lists} busy={change.isPending} onChange={change.mutate} />
      ) : (
        <p className="text-ink2">A standard field; its name and type stay as they are.</p>
      )}
      <section>
        <h3 className="font-semibold">At entry</h3>
        <label className="flex items-center gap-2 border-b border-hair py-1.5">
          <input
            type="checkbox"
            checked={field.required ?? false}
            disabled={change.isPending}
            onChange={(event) => change.mutate({ required: event.target.checked })}
          />
          Asked for when a person is entered by hand
        </label>
        {canBeUnique ? (
          <fieldset className="py-1.5 [&_label]:min-h-6">
            <legend className="sr-only">Unique</legend>
            {(['no', 'warn', 'refuse'] as const).map((rule) => (
              <label key={rule} className="flex items-center gap-2 py-0.5">
                <input
                  type="radio"
                  name="unique"
                  checked={(field.unique ?? 'no') === rule}
                  disabled={change.isPending}
                  onChange={() => change.mutate({ unique: rule })}
                />
                {UNIQUE_WORDS[rule]}
              </label>
            ))}
          </fieldset>
        ) : null}
        {canBeUnique && field.unique && field.unique !== 'no' ? <Clashes field={field} /> : null}
      </section>
      {isOwn ? <TypeChange field={field} /> : null}
      {isOwn && field.choices?.length && (field.type === 'choice' || field.type === 'choices') ? (
        <ChoicesSection field={field} />
      ) : null}
      {isOwn ? (
        <section>
          <Button busy={change.isPending} onClick={() => change.mutate({ retired: !field.retired })}>
            {field.retired ? 'Bring the field back' : 'Retire the field'}
          </Button>
          <p className="mt-1 text-[12.5px] text-ink2">
            {field.retired
              ? 'Its values are kept with their contacts and are there again at once.'
              : 'It is no longer offered or shown; its values are kept and come back with it.'}
          </p>
        </section>
      ) : null}
    </article>
  );
}

function OwnShape({
  field,
  lists,
  busy,
  onChange,
}: {
  field: FieldDefinition;
  lists: Lists;
  busy: boolean;
  onChange: (change: Partial<FieldChange>) => void;
}) {
  const [name, setName] = useState(field.name);
  const [heading, setHeading] = useState(field.heading ?? '');
  const own = lists.fields.filter((one) => one.key.startsWith(CUSTOM_PREFIX) && !one.retired);
  const at = own.findIndex((one) => one.key === field.key);
  const refresh = useRefresh();
  const move = useMutation({
    mutationFn: async (step: number) => {
      const order = own.map((one) => one.key);
      const [one] = order.splice(at, 1);
      if (one) order.splice(at + step, 0, one);
      await Promise.all(order.map((key, ordinal) => api.patch(`/fields/${key}`, { ordinal })));
    },
    onSettled: refresh,
  });
  return (
    <form
      className="space-y-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        onChange({ ...(name !== field.name ? { name } : {}), ...(heading !== field.heading ? { heading } : {}) });
      }}
    >
      <label className="grid grid-cols-[104px_1fr] items-baseline">
        <span className="text-ink2">Name</span>
        <input className="field" value={name} maxLength={60} onChange={(event) => setName(event.target.value)} />
      </label>
      <label className="grid grid-cols-[104px_1fr] items-baseline">
        <span className="text-ink2">Heading</span>
        <input
          className="field"
          value={heading}
          maxLength={60}
          list="headings"
          placeholder="none"
          onChange={(event) => setHeading(event.target.value)}
        />
      </label>
      <div className="flex gap-2">
        <Button type="submit" busy={busy} disabled={name === field.name && heading === (field.heading ?? '')}>
          Save name and heading
        </Button>
        {at >= 0 ? (
          <>
            <Button kind="quiet" disabled={at === 0} busy={move.isPending} onClick={() => move.mutate(-1)}>
              Move up
            </Button>
            <Button kind="quiet" disabled={at === own.length - 1} busy={move.isPending} onClick={() => move.mutate(1)}>
              Move down
            </Button>
          </>
        ) : null}
      </div>
      {move.error ? <p className="text-alarm">{move.error.message}</p> : null}
    </form>
  );
}

/** Values that several contacts have already. */
function Clashes({ field }: { field: FieldDefinition }) {
  const clashes = useQuery({
    queryKey: keys.contacts('clashes', field.key),
    queryFn: () => api.get<FieldClashes>(`/fields/${field.key}/clashes`),
  });
  if (clashes.isPending) return <Loading what="clashes" />;
  if (clashes.isLoadingError) return <Failed error={clashes.error} retry={() => void clashes.refetch()} />;
  const { groups, more } = clashes.data;
  if (!groups.length) return <p className="text-ink2">No two contacts share a value of it now.</p>;
  return (
    <div>
      <p>
        <strong className="font-semibold">
          {count(groups.length)}
          {more ? ' or more' : ''} {groups.length === 1 ? 'value is' : 'values are'} shared already.
        </strong>{' '}
        They stay as they are; nothing is added to them.
      </p>
      <ul className="max-h-64 overflow-y-auto" tabIndex={0} aria-label="Shared values">
        {groups.map((group) => (
          <li key={group.value} className="border-b border-hair py-1">
            <span className="break-all">{group.value}</span>
            <span className="text-ink2">
              {': '}
              {group.contacts.map((contact, i) => (
                <span key={contact.id}>
                  {i ? ', ' : ''}
                  <Link className="link" to={`/contacts/${contact.id}`}>
                    {contact.name}
                  </Link>
                </span>
              ))}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function TypeChange({ field }: { field: FieldDefinition }) {
  const refresh = useRefresh();
  const [type, setType] = useState<FieldType>(field.type);
  const [choices, setChoices] = useState((field.choices ?? []).join('; '));
  const [currency, setCurrency] = useState(field.currency ?? 'EUR');
  const to = {
    type,
    choices:
      type === 'choice' || type === 'choices'
        ? choices
            .split(';')
            .map((choice) => choice.trim())
            .filter(Boolean)
        : [],
    currency: type === 'money' ? currency : null,
  };
  const trial = useMutation({ mutationFn: () => api.post<ConversionTrial>(`/fields/${field.key}/try-type`, to) });
  const convert = useMutation({
    mutationFn: () => api.post(`/fields/${field.key}/type`, to),
    onSuccess: async () => {
      trial.reset();
      await refresh();
    },
  });
  const choose = (next: FieldType) => {
    setType(next);
    trial.reset();
    convert.reset();
  };
  return (
    <section>
      <h3 className="font-semibold">Type</h3>
      <div className="flex flex-wrap gap-2 py-1">
        <select
          aria-label="Type of the field"
          className="field"
          value={type}
          onChange={(event) => choose(event.target.value as FieldType)}
        >
          {CUSTOM_TYPES.map((one) => (
            <option key={one} value={one}>
              {TYPE_NAMES[one]}
            </option>
          ))}
        </select>
        {type === 'choice' || type === 'choices' ? (
          <input
            aria-label="Choices, parted by semicolons"
            placeholder="choices; parted; so"
            className="field min-w-0 flex-1"
            value={choices}
            onChange={(event) => {
              setChoices(event.target.value);
              trial.reset();
            }}
          />
        ) : null}
        {type === 'money' ? (
          <input
            aria-label="Currency"
            className="field w-20"
            maxLength={3}
            value={currency}
            onChange={(event) => {
              setCurrency(event.target.value.toUpperCase());
              trial.reset();
            }}
          />
        ) : null}
        {type !== field.type ? (
          <Button busy={trial.isPending} onClick={() => trial.mutate()}>
            Try it
          </Button>
        ) : null}
      </div>
      {trial.error || convert.error ? (
        <p role="alert" className="text-alarm">
          {(trial.error ?? convert.error)?.message}
        </p>
      ) : null}
      {trial.data ? (
        <div className="border-l-2 border-strong bg-cloth px-3 py-2">
          <p>
            <strong className="font-semibold">
              {count(trial.data.converts)} of {count(trial.data.values)} values convert
            </strong>
            {trial.data.fails
              ? `; ${count(trial.data.fails)} do not, and stay beside the field where they can be seen.`
              : '.'}
          </p>
          <TrialList title="Do not convert" rows={trial.data.failing} />
          <TrialList title="Convert" rows={trial.data.examples} />
          <Button className="mt-2" kind="action" busy={convert.isPending} onClick={() => convert.mutate()}>
            Change the type of {count(trial.data.values)} {trial.data.values === 1 ? 'value' : 'values'}
          </Button>
        </div>
      ) : null}
    </section>
  );
}

function TrialList({ title, rows }: { title: string; rows: ConversionTrial['examples'] }) {
  if (!rows.length) return null;
  return (
    <>
      <h4 className="mt-1.5 text-[12px] text-ink3">{title}</h4>
      <ul>
        {rows.map((row, i) => (
          <li key={`${row.contactId}:${i}`} className="text-[12.5px]">
            <Link className="link" to={`/contacts/${row.contactId}`}>
              {row.name}
            </Link>
            : {row.before}
            {row.after === null ? '' : ` → ${row.after}`}
          </li>
        ))}
      </ul>
    </>
  );
}
