import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Lists, SessionInfo } from '@gray-loom/wire';
import { api } from '../../app/api';
import { setPreference, usePreferences, type Preferences } from '../../app/preferences';
import { Button, Failed, Heading, Loading } from '../../ui/controls';
import { THREAD_NAMES, ThreadSwatch } from '../../ui/thread-swatch';
import { count } from '../../ui/when';

const TYPES: [string, string][] = [
  ['text', 'text'],
  ['number', 'number'],
  ['date', 'date'],
  ['yesNo', 'yes or no'],
  ['choice', 'choice'],
];

/** This browser's looks, fields, stages, pick-lists, and the way out. */
export function SetupPage() {
  const lists = useQuery({ queryKey: ['lists'], queryFn: () => api.get<Lists>('/lists') });
  if (lists.isPending) return <Loading what="the set-up" />;
  if (lists.error) return <Failed error={lists.error} retry={() => void lists.refetch()} />;
  const custom = lists.data.fields.filter((field) => field.key.startsWith('custom.'));
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto grid max-w-5xl gap-x-10 gap-y-7 px-6 py-5 md:grid-cols-2">
        <Appearance />
        <section>
          <Heading>Stages</Heading>
          <dl>
            {lists.data.stages.map((stage) => (
              <div key={stage.label} className="grid grid-cols-[110px_1fr] gap-2 border-b border-hair py-1">
                <dt className="font-semibold">{stage.label}</dt>
                <dd className="text-ink2">{stage.meaning || 'no meaning written yet'}</dd>
              </div>
            ))}
          </dl>
        </section>
        <section>
          <Heading aside={`${lists.data.fields.length - custom.length} standard`}>Our own fields</Heading>
          {custom.length === 0 ? (
            <p className="py-2 text-ink2">None yet. A field can also be made above a column of a file.</p>
          ) : null}
          <ul>
            {custom.map((field) => (
              <li key={field.key} className="grid grid-cols-[1fr_auto] border-b border-hair py-1">
                <span>{field.name}</span>
                <span className="text-ink2">
                  {TYPES.find(([type]) => type === field.type)?.[1] ?? field.type}
                  {field.choices?.length
                    ? `: ${field.choices.slice(0, 4).join(', ')}${field.choices.length > 4 ? '…' : ''}`
                    : ''}
                </span>
              </li>
            ))}
          </ul>
          <NewField />
        </section>
        <section>
          <Heading>Threads</Heading>
          <ul>
            {Object.entries(THREAD_NAMES).map(([kind, name]) => (
              <li key={kind} className="flex items-center gap-3 border-b border-hair py-1">
                <ThreadSwatch kind={kind as keyof typeof THREAD_NAMES} /> {name}
              </li>
            ))}
          </ul>
        </section>
        <section>
          <Heading aside={count(lists.data.tags.length)}>Tags</Heading>
          <PickList items={lists.data.tags} />
        </section>
        <section>
          <Heading aside={count(lists.data.sources.length)}>Sources</Heading>
          <PickList items={lists.data.sources} />
        </section>
      </div>
    </div>
  );
}

function PickList({ items }: { items: { label: string; count: number }[] }) {
  if (!items.length) return <p className="py-2 text-ink2">None yet.</p>;
  return (
    <ul>
      {items.map((item) => (
        <li key={item.label} className="flex border-b border-hair py-1">
          <span>{item.label}</span>
          <span className="ml-auto text-ink2">{count(item.count)}</span>
        </li>
      ))}
    </ul>
  );
}

function Appearance() {
  const client = useQueryClient();
  const { theme, singleKeys } = usePreferences();
  const session = useQuery({ queryKey: ['session'], queryFn: () => api.get<SessionInfo>('/session') });
  const out = useMutation({
    mutationFn: () => api.delete('/session'),
    onSuccess: () => client.resetQueries({ queryKey: ['session'] }),
  });
  return (
    <section>
      <Heading>This browser</Heading>
      <fieldset className="flex items-center gap-4 border-b border-hair py-2">
        <legend className="sr-only">Theme</legend>
        <span className="w-24 text-ink2">Theme</span>
        {(['system', 'light', 'dark'] as Preferences['theme'][]).map((one) => (
          <label key={one} className="flex gap-1.5">
            <input type="radio" name="theme" checked={theme === one} onChange={() => setPreference('theme', one)} />{' '}
            {one === 'system' ? 'as the system' : one}
          </label>
        ))}
      </fieldset>
      <label className="flex items-center gap-4 border-b border-hair py-2">
        <span className="w-24 text-ink2">Keyboard</span>
        <input
          type="checkbox"
          checked={singleKeys}
          onChange={(event) => setPreference('singleKeys', event.target.checked)}
        />{' '}
        Single-key shortcuts
      </label>
      <div className="flex items-center gap-4 py-2">
        <span className="w-24 text-ink2">Signed in</span>
        {session.data?.name}, {session.data?.role}
        <Button className="ml-auto" busy={out.isPending} onClick={() => out.mutate()}>
          Sign out
        </Button>
      </div>
    </section>
  );
}

function NewField() {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [type, setType] = useState('text');
  const [choices, setChoices] = useState('');
  const make = useMutation({
    mutationFn: () =>
      api.post('/fields', {
        name,
        type,
        choices: choices
          .split(';')
          .map((choice) => choice.trim())
          .filter(Boolean),
      }),
    onSuccess: async () => {
      setName('');
      setChoices('');
      await client.invalidateQueries({ queryKey: ['lists'] });
    },
  });
  return (
    <form
      className="mt-3 flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <input
        className="field w-40"
        aria-label="Name of the new field"
        placeholder="New field"
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <select
        className="field"
        aria-label="Type of the new field"
        value={type}
        onChange={(event) => setType(event.target.value)}
      >
        {TYPES.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
      {type === 'choice' ? (
        <input
          className="field w-44"
          aria-label="Choices, parted by semicolons"
          placeholder="choices; parted; so"
          value={choices}
          onChange={(event) => setChoices(event.target.value)}
        />
      ) : null}
      <Button type="submit" busy={make.isPending}>
        Make field
      </Button>
      {make.error ? <p className="w-full text-alarm">{make.error.message}</p> : null}
    </form>
  );
}
