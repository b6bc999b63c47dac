import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Lists } from '@gray-loom/wire';
import { CUSTOM_PREFIX, CUSTOM_TYPES, TYPE_NAMES, type FieldDefinition, type FieldType } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { useRefresh } from '../../app/lists';
import { Button, Heading } from '../../ui/controls';
import { SplitView } from '../../ui/split-view';
import { FieldSheet } from './field-sheet';
import { NotMade } from './making';

/** The field catalogue: own fields under their headings, then the standard ones; a sheet for the one picked. */
export function FieldsPage({ lists }: { lists: Lists }) {
  const [params, setParams] = useSearchParams();
  const picked = lists.fields.find((field) => field.key === params.get('field'));
  const own = lists.fields.filter((field) => field.key.startsWith(CUSTOM_PREFIX));
  const standard = lists.fields.filter((field) => !field.key.startsWith(CUSTOM_PREFIX) && field.key !== 'fullName');
  const pick = (key: string | null) => setParams(key ? { field: key } : {}, { replace: true });
  const headings = [...new Set(own.filter((field) => !field.retired).map((field) => field.heading ?? ''))];
  const retired = own.filter((field) => field.retired);
  const list = (fields: FieldDefinition[]) => <FieldList fields={fields} picked={picked?.key} onPick={pick} />;
  return (
    <SplitView
      list={
        <div className="min-h-0 flex-1 space-y-5 overflow-y-auto px-5 py-4">
          <section>
            <Heading aside={own.length - retired.length || undefined}>Our own fields</Heading>
            {own.length === 0 ? (
              <p className="py-2 text-ink2">None yet. Make one here, or above a column of a file.</p>
            ) : null}
            {headings.map((heading) => (
              <div key={heading}>
                {heading ? <h3 className="pt-2 text-[12.5px] font-semibold">{heading}</h3> : null}
                {list(own.filter((field) => !field.retired && (field.heading ?? '') === heading))}
              </div>
            ))}
            <NewField headings={headings.filter(Boolean)} onMade={pick} />
          </section>
          {retired.length ? (
            <section>
              <Heading aside={retired.length}>Retired</Heading>
              {list(retired)}
            </section>
          ) : null}
          <section>
            <Heading aside={standard.length}>Standard fields</Heading>
            {list(standard)}
          </section>
        </div>
      }
      sheet={picked ? <FieldSheet key={picked.key} field={picked} lists={lists} onClose={() => pick(null)} /> : null}
    />
  );
}

function FieldList({
  fields,
  picked,
  onPick,
}: {
  fields: FieldDefinition[];
  picked: string | undefined;
  onPick: (key: string) => void;
}) {
  return (
    <ul>
      {fields.map((field) => (
        <li key={field.key}>
          <button
            type="button"
            aria-current={field.key === picked || undefined}
            className={
              `grid w-full grid-cols-[minmax(0,1fr)_minmax(0,1.4fr)_minmax(0,1fr)] gap-3 border-b border-hair py-1 ` +
              `text-left ${field.key === picked ? 'bg-picked' : 'hover:bg-cloth'}`
            }
            onClick={() => onPick(field.key)}
          >
            <span className="truncate">{field.name}</span>
            <span className="truncate text-ink2">
              {TYPE_NAMES[field.type]}
              {field.choices?.length ? `: ${field.choices.join(', ')}` : ''}
            </span>
            <span className="truncate text-right text-ink2">
              {[
                field.required ? 'asked for' : '',
                field.unique === 'refuse' ? 'unique' : field.unique === 'warn' ? 'unique, warns' : '',
              ]
                .filter(Boolean)
                .join(' · ')}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function NewField({ headings, onMade }: { headings: string[]; onMade: (key: string) => void }) {
  const refresh = useRefresh();
  const [name, setName] = useState('');
  const [type, setType] = useState<FieldType>('text');
  const [choices, setChoices] = useState('');
  const [heading, setHeading] = useState('');
  const make = useMutation({
    mutationFn: (despite: boolean) =>
      api.post<{ key: string }>('/fields', {
        despite,
        name,
        type,
        heading,
        choices: choices
          .split(';')
          .map((choice) => choice.trim())
          .filter(Boolean),
      }),
    onSuccess: async ({ key }) => {
      setName('');
      setChoices('');
      await refresh();
      onMade(key);
    },
  });
  return (
    <form
      className="mt-3 flex flex-wrap items-center gap-2"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate(false);
      }}
    >
      <input
        className="field w-40"
        aria-label="Name of the new field"
        aria-invalid={!!make.error}
        placeholder="New field"
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <select
        className="field"
        aria-label="Type of the new field"
        value={type}
        onChange={(event) => setType(event.target.value as FieldType)}
      >
        {CUSTOM_TYPES.map((value) => (
          <option key={value} value={value}>
            {TYPE_NAMES[value]}
          </option>
        ))}
      </select>
      {type === 'choice' || type === 'choices' ? (
        <input
          className="field w-44"
          aria-label="Choices, parted by semicolons"
          placeholder="choices; parted; so"
          value={choices}
          onChange={(event) => setChoices(event.target.value)}
        />
      ) : null}
      <input
        className="field w-36"
        aria-label="Heading of the new field"
        placeholder="under a heading"
        list="headings"
        value={heading}
        onChange={(event) => setHeading(event.target.value)}
      />
      <datalist id="headings">
        {headings.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      <Button type="submit" busy={make.isPending}>
        Make field
      </Button>
      <NotMade error={make.error} busy={make.isPending} onDespite={() => make.mutate(true)} />
    </form>
  );
}
