import { useMutation } from '@tanstack/react-query';
import { useState, type KeyboardEvent } from 'react';
import type { FieldDefinition } from '@gray-loom/core/fields';
import type { ConnectionDetail, OutsideFieldMade } from '@gray-loom/wire';
import { madeFieldKey, type NewFieldType } from '@gray-loom/core/syncing';
import { api } from '../../app/api';
import { useTouch } from '../../app/keys';

const TYPES: Record<NewFieldType, string> = { text: 'text', number: 'number', date: 'date', choice: 'one choice' };

interface MakeFieldProps {
  data: ConnectionDetail;
  /** Fields here that can be kept in step: one of the same name gives its type and options. */
  ours: readonly FieldDefinition[];
  taken: readonly string[];
  onMake: (key: string, field: string) => void;
}

/** Makes a field that is missing over there: at once where the tool is asked for it, else by the first value that is written into it. */
export function MakeField({ data, ours, taken, onMake }: MakeFieldProps) {
  const [name, setName] = useState<string | null>(null);
  const [chosen, setChosen] = useState<{ type?: NewFieldType; options?: string }>({});
  const touch = useTouch();
  const types = data.capabilities.newFieldTypes;
  const same = ours.find((field) => field.name.toLowerCase() === name?.trim().toLowerCase());
  const type = chosen.type ?? (types ? typeOf(same, types) : 'text');
  const options = chosen.options ?? same?.choices?.join('; ') ?? '';
  const close = () => {
    setName(null);
    setChosen({});
  };
  const ask = useMutation({
    mutationFn: () =>
      api.post<OutsideFieldMade>(`/connections/${data.id}/fields`, {
        name: name?.trim(),
        type,
        options: type === 'choice' ? options.split(';').flatMap((one) => one.trim() || []) : [],
      }),
    onSuccess: ({ key }) => {
      void touch('syncs');
      onMake(key, same?.key ?? '');
      close();
    },
  });
  if (name === null)
    return (
      <button type="button" className="text-ink2 hover:text-ink" onClick={() => setName('')}>
        + field over there
      </button>
    );
  const key = types ? name.trim() : madeFieldKey(name);
  const isTaken = !types && taken.includes(key);
  const make = () => {
    if (!key || isTaken || ask.isPending) return;
    if (types) ask.mutate();
    else {
      onMake(key, same?.key ?? '');
      close();
    }
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Escape') close();
    if (event.key === 'Enter') {
      event.preventDefault();
      make();
    }
  };
  const fault = isTaken ? 'There is one of this name.' : ask.error?.message;
  return (
    <span className="flex flex-wrap items-baseline gap-2">
      <input
        autoFocus
        aria-label="Name of the new field over there"
        className="field w-44"
        placeholder="its name over there"
        maxLength={50}
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={onKeyDown}
      />
      {types ? (
        <select
          aria-label="Type of the new field"
          className="field"
          value={type}
          onChange={(event) => setChosen({ ...chosen, type: event.target.value as NewFieldType })}
        >
          {types.map((one) => (
            <option key={one} value={one}>
              {TYPES[one]}
            </option>
          ))}
        </select>
      ) : null}
      {types && type === 'choice' ? (
        <input
          aria-label="Options, parted by semicolons"
          className="field w-64"
          placeholder="options; parted by; semicolons"
          value={options}
          onChange={(event) => setChosen({ ...chosen, options: event.target.value })}
          onKeyDown={onKeyDown}
        />
      ) : null}
      <button
        type="button"
        className="link disabled:opacity-50"
        disabled={!key || isTaken || ask.isPending}
        onClick={make}
      >
        Make it
      </button>
      {fault ? (
        <span role="alert" className="text-alarm">
          {fault}
        </span>
      ) : null}
    </span>
  );
}

/** The type that a field of ours has over there. */
function typeOf(field: FieldDefinition | undefined, types: readonly NewFieldType[]): NewFieldType {
  const wanted: NewFieldType =
    field?.type === 'choice'
      ? 'choice'
      : field?.type === 'date'
        ? 'date'
        : field?.type === 'number'
          ? 'number'
          : 'text';
  return types.includes(wanted) ? wanted : 'text';
}
