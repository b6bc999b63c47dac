import { useMutation } from '@tanstack/react-query';
import type { ContactDetail, Lists } from '@gray-loom/wire';
import { valuesOf, type Value } from '@gray-loom/core/model';
import { nearMisses } from '@gray-loom/core/quality';
import { api } from '../../app/api';
import { useRefresh } from '../../app/lists';
import { Combobox } from '../../ui/combobox';
import { Tag } from '../../ui/tag';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count } from '../../ui/when';

/** The tags of a contact: each with its thread, one more by choosing or typing. */
export function TagLine({
  contact,
  lists,
  readOnly,
}: {
  contact: ContactDetail;
  lists: Lists | undefined;
  readOnly: boolean;
}) {
  const refresh = useRefresh();
  const save = useMutation({
    mutationFn: ({ text, before }: { text: string | null; before: Value | null }) =>
      api.patch(`/contacts/${contact.id}`, {
        edits: [{ field: 'tags', slot: before?.slot ?? null, before, text }],
      }),
    onSettled: refresh,
  });
  const tags = valuesOf(contact.record, 'tags');
  const add = (text: string) => save.mutate({ text, before: null });
  const known = lists?.tags ?? [];
  const free = known.filter((tag) => !tags.some((value) => value.v === tag.label));
  const colourOf = (label: string) => known.find((tag) => tag.label === label)?.colour ?? 0;
  return (
    <div className="mb-1.5 flex flex-wrap items-center gap-1.5" role="group" aria-label="Tags">
      {tags.map((tag) => {
        const thread = contact.threads[tag.run];
        const label = String(tag.v);
        return (
          <Tag key={tag.slot} label={label} colour={colourOf(label)}>
            {thread ? <ThreadSwatch kind={thread.kind} look={thread.look} title={thread.name} /> : null}
            {readOnly ? null : (
              <button
                type="button"
                aria-label={`Remove tag ${label}`}
                className="min-w-4 text-ink3 hover:text-alarm"
                onClick={() => save.mutate({ text: null, before: tag })}
              >
                ×
              </button>
            )}
          </Tag>
        );
      })}
      {readOnly ? null : (
        <Combobox
          label="Add a tag"
          value={null}
          choices={free.map((tag) => ({
            value: tag.label,
            text: tag.label,
            hint: count(tag.people + tag.organizations),
          }))}
          near={(text) =>
            nearMisses(
              text,
              free.map((tag) => tag.label),
            ).map(({ label }) => label)
          }
          onChoose={add}
          onCreate={add}
          createText={(text) => `Make the tag "${text}"`}
          className="text-[12.5px] text-ink3 hover:text-ink"
        >
          + tag
        </Combobox>
      )}
      {save.error ? (
        <span role="alert" className="text-alarm">
          {save.error.message}
        </span>
      ) : null}
    </div>
  );
}
