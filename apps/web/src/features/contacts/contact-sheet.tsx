import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, Navigate } from 'react-router';
import type { ContactDetail, Lists } from '@gray-loom/wire';
import { lifecycleOf, valuesOf, type Value } from '@gray-loom/core/model';
import { STANDARD_FIELDS, type FieldDefinition, showValue } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { Combobox } from '../../ui/combobox';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { ContactHistory } from './contact-history';
import { EditableValue } from './editable-value';

const HEAD = new Set(['tags', 'fullName']);
const ALSO = 'also.';

/** One contact in full: every value with its thread, edited in place; history below. */
export function ContactSheet({ id, onClose, lists }: { id: number; onClose: () => void; lists: Lists | undefined }) {
  const client = useQueryClient();
  const contact = useQuery({ queryKey: ['contact', id], queryFn: () => api.get<ContactDetail>(`/contacts/${id}`) });
  const [adding, setAdding] = useState<string | null>(null);
  const life = useMutation({
    mutationFn: (gone: boolean) => (gone ? api.delete(`/contacts/${id}`) : api.post(`/contacts/${id}/restore`)),
    onSuccess: () =>
      Promise.all(
        ['contact', 'contacts', 'history', 'tape', 'duplicates', 'worklist'].map((key) =>
          client.invalidateQueries({ queryKey: [key] }),
        ),
      ),
  });
  if (contact.isPending) return <Loading what="the contact" />;
  if (contact.error) return <Failed error={contact.error} retry={() => void contact.refetch()} />;
  const { record, name, mergedInto, groupId, completeness } = contact.data;
  // An id that was merged away leads to the contact that took it in, for as long as the merge stands.
  if (mergedInto) return <Navigate to={`/contacts/${mergedInto.id}`} replace />;
  const fields = lists?.fields ?? STANDARD_FIELDS;
  const deleted = lifecycleOf(record)?.state === 'deleted';
  const shown = fields.filter((field) => !HEAD.has(field.key) && valuesOf(record, field.key).length > 0);
  const addable = fields.filter(
    (field) => field.key !== 'fullName' && (field.several || valuesOf(record, field.key).length === 0),
  );
  return (
    <article className="px-4.5 pb-8">
      <header className="flex items-baseline gap-2.5 pt-3.5 pb-2">
        <h2 className="text-[18px] font-bold">{name}</h2>
        <span className="truncate text-ink2">{record.f.stage?.[0] ? showValue('stage', record.f.stage[0]) : ''}</span>
        <span className="ml-auto text-[12.5px] whitespace-nowrap text-ink2">{completeness}% complete</span>
        <button type="button" aria-label="Close the sheet" className="px-1 text-ink3 hover:text-ink" onClick={onClose}>
          ×
        </button>
      </header>
      <Fault error={life.error} onClose={() => life.reset()} />
      {deleted ? (
        <p className="mb-2 flex items-center gap-3 border border-strong bg-wash px-3 py-2">
          This contact is deleted.
          <Button onClick={() => life.mutate(false)} busy={life.isPending}>
            Bring back
          </Button>
        </p>
      ) : null}
      {groupId ? (
        <p className="mb-2 border-l-2 border-ink bg-cloth px-3 py-1.5">
          Likely a duplicate.{' '}
          <Link to={`/duplicates/${groupId}`} className="link">
            Compare
          </Link>
        </p>
      ) : null}
      <TagLine contact={contact.data} fields={fields} lists={lists} />
      <dl>
        {shown.flatMap((field) =>
          valuesOf(record, field.key).map((value) => (
            <EditableValue
              key={`${field.key}:${value.slot}`}
              contact={contact.data}
              field={field}
              value={value}
              lists={lists}
              readOnly={deleted}
              also={alsoOf(contact.data, field)}
            />
          )),
        )}
        {adding ? (
          <EditableValue
            key={`new:${adding}`}
            contact={contact.data}
            field={fields.find((field) => field.key === adding) ?? (STANDARD_FIELDS[0] as FieldDefinition)}
            value={null}
            lists={lists}
            readOnly={false}
            also={[]}
            onDone={() => setAdding(null)}
          />
        ) : null}
      </dl>
      {deleted ? null : (
        <div className="mt-2 flex items-center gap-4">
          <Combobox
            label="Add a value"
            value={null}
            choices={addable.map((field) => ({ value: field.key, text: field.name }))}
            onChoose={setAdding}
            className="text-ink2 hover:text-ink"
          >
            + value
          </Combobox>
          <button
            type="button"
            className="ml-auto text-ink2 hover:text-alarm"
            disabled={life.isPending}
            onClick={() => life.mutate(true)}
          >
            Delete contact
          </button>
        </div>
      )}
      <ContactHistory id={id} fields={fields} />
    </article>
  );
}

/** Values that a merge did not choose; they stay with the contact. */
function alsoOf(contact: ContactDetail, field: FieldDefinition): Value[] {
  return valuesOf(contact.record, ALSO + field.key);
}

function TagLine({
  contact,
  fields,
  lists,
}: {
  contact: ContactDetail;
  fields: readonly FieldDefinition[];
  lists: Lists | undefined;
}) {
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: (edit: unknown) => api.patch(`/contacts/${contact.id}`, [edit]),
    onSettled: () =>
      Promise.all(
        ['contact', 'contacts', 'history', 'tape', 'lists'].map((key) => client.invalidateQueries({ queryKey: [key] })),
      ),
  });
  const tags = valuesOf(contact.record, 'tags');
  const add = (text: string) => save.mutate({ field: 'tags', slot: null, before: null, text, label: null });
  const free = (lists?.tags ?? []).filter((tag) => !tags.some((value) => value.v === tag.label));
  return (
    <div
      className="mb-1.5 flex flex-wrap items-center gap-1.5"
      aria-label={fields.find((field) => field.key === 'tags')?.name ?? 'Tags'}
    >
      {tags.map((tag) => {
        const thread = contact.threads[tag.run];
        return (
          <span
            key={tag.slot}
            className="inline-flex items-center gap-1.5 border border-hair bg-wash px-1.5 py-px text-[12.5px]"
          >
            {thread ? <ThreadSwatch kind={thread.kind} title={`${thread.name}`} /> : null}
            {String(tag.v)}
            <button
              type="button"
              aria-label={`Remove tag ${String(tag.v)}`}
              className="text-ink3 hover:text-alarm"
              onClick={() => save.mutate({ field: 'tags', slot: tag.slot, before: tag, text: null, label: null })}
            >
              ×
            </button>
          </span>
        );
      })}
      <Combobox
        label="Add a tag"
        value={null}
        choices={free.map((tag) => ({ value: tag.label, text: tag.label, hint: String(tag.count) }))}
        onChoose={add}
        onCreate={add}
        createText={(text) => `Make the tag "${text}"`}
        className="text-[12.5px] text-ink3 hover:text-ink"
      >
        + tag
      </Combobox>
      {save.error ? <span className="text-alarm">{save.error.message}</span> : null}
    </div>
  );
}
