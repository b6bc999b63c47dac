import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { ContactDetail, ContactEdit, Lists } from '@gray-loom/wire';
import { countryName, type FieldDefinition, showValue, typeValue } from '@gray-loom/core/fields';
import type { AddressValue, Value } from '@gray-loom/core/model';
import { api, Refused } from '../../app/api';
import { Button } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { ago, exactly } from '../../ui/when';

const PARTS: [keyof AddressValue, string][] = [
  ['street', 'Street'],
  ['locality', 'Town'],
  ['region', 'Region'],
  ['postalCode', 'Postal code'],
  ['country', 'Country'],
];
const LABELS = ['', 'home', 'work', 'mobile', 'other'];

interface EditableValueProps {
  contact: ContactDetail;
  field: FieldDefinition;
  value: Value | null;
  lists: Lists | undefined;
  readOnly: boolean;
  also: Value[];
  onDone?: () => void;
}

function threadWords(contact: ContactDetail, value: Value): string {
  const thread = contact.threads[value.run];
  if (!thread) return '';
  const when = exactly(value.atMs ?? thread.at);
  return [
    thread.name,
    value.row ? `row ${value.row}` : '',
    thread.actor && thread.kind === 'hand' ? thread.actor : '',
    when,
  ]
    .filter(Boolean)
    .join(' · ');
}

/** One value: shown with its thread and age, edited in place, saved on its own. */
export function EditableValue({ contact, field, value, lists, readOnly, also, onDone }: EditableValueProps) {
  const [editing, setEditing] = useState(value === null);
  const name = value?.label ? `${field.name}, ${value.label}` : field.name;
  const thread = value ? contact.threads[value.run] : undefined;
  const close = () => {
    setEditing(false);
    onDone?.();
  };
  return (
    <div className="grid grid-cols-[104px_minmax(0,1fr)] items-baseline border-b border-hair py-1">
      <dt className="truncate text-[12.5px] text-ink2" title={name}>
        {name}
      </dt>
      <dd>
        {editing ? (
          <ValueForm contact={contact} field={field} value={value} lists={lists} onClose={close} />
        ) : value ? (
          <div className="flex items-baseline gap-2">
            {thread ? <ThreadSwatch kind={thread.kind} title={threadWords(contact, value)} /> : null}
            <button
              type="button"
              disabled={readOnly}
              className="min-w-0 flex-1 text-left break-words whitespace-pre-wrap enabled:hover:bg-wash"
              aria-label={`${name}: ${showValue(field.key, value)}. Change`}
              onClick={() => setEditing(true)}
            >
              {field.type === 'longText' ? <LongText text={String(value.v)} /> : showValue(field.key, value)}
              {also.length ? (
                <span className="ml-2 text-[12px] text-ink3">
                  also {also.map((one) => showValue(field.key, one)).join(', ')}
                </span>
              ) : null}
            </button>
            <span className="shrink-0 text-[12px] text-ink3" title={threadWords(contact, value)}>
              {value.atMs || thread ? ago(value.atMs ?? thread?.at ?? 0) : ''}
            </span>
          </div>
        ) : null}
      </dd>
    </div>
  );
}

function LongText({ text }: { text: string }) {
  return <span className="line-clamp-4">{text}</span>;
}

function useSave(contact: ContactDetail, onClose: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (edit: ContactEdit) => api.patch(`/contacts/${contact.id}`, [edit]),
    onSuccess: async () => {
      await Promise.all(
        ['contact', 'contacts', 'history', 'tape', 'lists'].map((key) => client.invalidateQueries({ queryKey: [key] })),
      );
      onClose();
    },
  });
}

/** The box in which a value is changed. A clash with somebody else's change shows both, and loses neither. */
function ValueForm({
  contact,
  field,
  value,
  lists,
  onClose,
}: {
  contact: ContactDetail;
  field: FieldDefinition;
  value: Value | null;
  lists: Lists | undefined;
  onClose: () => void;
}) {
  const [text, setText] = useState(value ? typeValue(value) : '');
  const [label, setLabel] = useState(value?.label ?? '');
  const [address, setAddress] = useState<AddressValue>(() => {
    const now = value && field.type === 'address' ? (value.v as AddressValue) : {};
    return { ...now, ...(now.country ? { country: countryName(now.country) } : {}) };
  });
  // What is replaced is what was seen when editing began, so that a change meanwhile is noticed.
  const before = useRef(value);
  const save = useSave(contact, onClose);
  const clash =
    save.error instanceof Refused && save.error.problem.code === 'valueChanged'
      ? (save.error.problem.facts?.now as Value | null)
      : undefined;
  const isAddress = field.type === 'address';
  const typed = isAddress ? (Object.values(address).some(Boolean) ? JSON.stringify(address) : '') : text;
  const unchanged = value !== null && !isAddress && typed === typeValue(value) && label === (value.label ?? '');
  const send = (over: Value | null) => {
    if (unchanged) onClose();
    else
      save.mutate({
        field: field.key,
        slot: value?.slot ?? null,
        before: over,
        text: typed || null,
        label: label || null,
      });
  };
  const labelled = field.several && ['email', 'tel', 'address', 'url'].includes(field.type);
  return (
    <form
      className="space-y-1.5 py-0.5"
      onSubmit={(event) => {
        event.preventDefault();
        send(before.current);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation();
          onClose();
        }
      }}
    >
      {isAddress ? (
        PARTS.map(([part, partName], i) => (
          <input
            key={part}
            aria-label={partName}
            placeholder={partName}
            autoFocus={i === 0}
            className="field w-full"
            value={address[part] ?? ''}
            onChange={(event) => setAddress({ ...address, [part]: event.target.value })}
          />
        ))
      ) : (
        <TextBox
          field={field}
          text={text}
          setText={setText}
          lists={lists}
          invalid={!!save.error}
          onSend={() => send(before.current)}
        />
      )}
      {labelled ? (
        <select aria-label="Label" className="field" value={label} onChange={(event) => setLabel(event.target.value)}>
          {[...new Set([...LABELS, label])].map((one) => (
            <option key={one} value={one}>
              {one || 'no label'}
            </option>
          ))}
        </select>
      ) : null}
      {save.error ? (
        <p role="alert" className="text-alarm">
          {save.error.message}
        </p>
      ) : null}
      <div className="flex gap-1.5">
        {clash !== undefined ? (
          <Button kind="action" onClick={() => send(clash)}>
            Replace with mine
          </Button>
        ) : (
          <Button kind="action" type="submit" busy={save.isPending}>
            Save
          </Button>
        )}
        <Button kind="quiet" onClick={onClose}>
          {clash !== undefined ? 'Keep what is there' : 'Cancel'}
        </Button>
        {value && !isNameLike(field.key) ? (
          <Button
            kind="quiet"
            className="ml-auto"
            onClick={() =>
              save.mutate({ field: field.key, slot: value.slot, before: before.current, text: null, label: null })
            }
          >
            Remove
          </Button>
        ) : null}
      </div>
    </form>
  );
}

function isNameLike(key: string): boolean {
  return key === 'givenName' || key === 'familyName';
}

function TextBox({
  field,
  text,
  setText,
  lists,
  invalid,
  onSend,
}: {
  field: FieldDefinition;
  text: string;
  setText: (text: string) => void;
  lists: Lists | undefined;
  invalid: boolean;
  onSend: () => void;
}) {
  const common = {
    'aria-label': field.name,
    'aria-invalid': invalid,
    className: 'field w-full',
    value: text,
    autoFocus: true,
  };
  if (field.type === 'stage') {
    const meaning = lists?.stages.find((stage) => stage.label === text)?.meaning;
    return (
      <>
        <select {...common} onChange={(event) => setText(event.target.value)}>
          <option value="">none</option>
          {lists?.stages.map((stage) => (
            <option key={stage.label} value={stage.label}>
              {stage.label}
            </option>
          ))}
        </select>
        {meaning ? <p className="text-[12px] text-ink2">{meaning}</p> : null}
      </>
    );
  }
  if (field.type === 'choice' || field.type === 'yesNo') {
    return (
      <select {...common} onChange={(event) => setText(event.target.value)}>
        <option value="">none</option>
        {(field.type === 'yesNo' ? ['yes', 'no'] : (field.choices ?? [])).map((choice) => (
          <option key={choice}>{choice}</option>
        ))}
      </select>
    );
  }
  if (field.type === 'longText') {
    return (
      <textarea
        {...common}
        rows={4}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) onSend();
        }}
      />
    );
  }
  return (
    <>
      <input
        {...common}
        list={field.type === 'source' ? 'sheet-sources' : undefined}
        onChange={(event) => setText(event.target.value)}
      />
      {field.type === 'source' ? (
        <datalist id="sheet-sources">
          {lists?.sources.map((source) => (
            <option key={source.label} value={source.label} />
          ))}
        </datalist>
      ) : null}
    </>
  );
}
