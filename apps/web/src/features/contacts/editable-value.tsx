import { keys } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useId, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { ContactDetail, HistoryEntry, Lists } from '@gray-loom/wire';
import { showValue, type FieldDefinition } from '@gray-loom/core/fields';
import { isRelation, valuesOf, type Value } from '@gray-loom/core/model';
import { api, Refused } from '../../app/api';
import { useRefresh } from '../../app/lists';
import { Button } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { ago, exactly } from '../../ui/when';
import { draftOf, hasLabel, hasParts, isBlank, sameDraft, typedOf, type Draft } from './draft';
import { feeInWords } from './fee-words';
import { ValueInput } from './value-input';

const LABELS = ['home', 'work', 'mobile', 'other'];

interface EditableValueProps {
  contact: ContactDetail;
  field: FieldDefinition;
  value: Value | null;
  lists: Lists | undefined;
  readOnly: boolean;
  also: Value[];
  /** What is worked out where nobody wrote anything; shown, and overridden by typing. */
  derived?: string;
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
export function EditableValue(props: EditableValueProps) {
  const { contact, field, value, readOnly, also, derived, onDone } = props;
  const [editing, setEditing] = useState(value === null && derived === undefined);
  const name = value?.label ? `${field.name}, ${value.label}` : field.name;
  const thread = value ? contact.threads[value.run] : undefined;
  const close = () => {
    setEditing(false);
    onDone?.();
  };
  const words = value ? showValue(field.key, value) : (derived ?? '');
  return (
    <div className="grid grid-cols-[104px_minmax(0,1fr)] items-baseline border-b border-hair py-1">
      <dt className="truncate pr-2 text-[12.5px] text-ink2" title={name}>
        {name}
      </dt>
      <dd>
        {editing ? (
          <ValueForm {...props} onClose={close} />
        ) : (
          <div className="flex items-baseline gap-2">
            {value && thread ? (
              <ThreadSwatch kind={thread.kind} look={thread.look} title={threadWords(contact, value)} />
            ) : null}
            {value && isRelation(value.v) && value.v.to !== null ? (
              <RelatedLink contact={contact} value={value} />
            ) : null}
            <button
              type="button"
              disabled={readOnly}
              className={`min-w-0 flex-1 text-left break-words whitespace-pre-wrap enabled:hover:bg-wash ${value ? '' : 'text-ink2'}`}
              aria-label={`${name}: ${words}. Change`}
              onClick={() => setEditing(true)}
            >
              <Shown field={field} value={value} words={words} />
              {also.length ? (
                <span className="ml-2 text-[12px] text-ink3">
                  also {also.map((one) => showValue(field.key, one)).join(', ')}
                </span>
              ) : null}
            </button>
            <span
              className="shrink-0 text-[12px] text-ink3"
              title={value ? threadWords(contact, value) : 'Worked out; type to override'}
            >
              {value ? (value.atMs || thread ? ago(value.atMs ?? thread?.at ?? 0) : '') : 'derived'}
            </span>
          </div>
        )}
      </dd>
    </div>
  );
}

function Shown({ field, value, words }: { field: FieldDefinition; value: Value | null; words: string }) {
  if (value && field.type === 'longText') return <span className="line-clamp-4">{words}</span>;
  if (value && field.type === 'picture')
    return <img src={`/api/pictures/${String(value.v)}`} alt={field.name} className="max-h-24 border border-hair" />;
  if (value && isRelation(value.v)) {
    const { relation, name, fee, owed, to } = value.v;
    return (
      <>
        {to === null ? `${name ?? ''} · ` : ''}
        {relation}
        {feeInWords(owed, fee)}
      </>
    );
  }
  return <>{words}</>;
}

function RelatedLink({ contact, value }: { contact: ContactDetail; value: Value }) {
  const other = isRelation(value.v) && value.v.to !== null ? contact.related[value.v.to] : undefined;
  return other ? (
    <Link to={`/contacts/${other.id}`} className="link shrink-0">
      {other.name}
    </Link>
  ) : (
    <span className="text-ink3">somebody who is gone</span>
  );
}

interface Save {
  draft: Draft | null;
  before: Value | null;
  despite: boolean;
}

/** The box in which a value is changed. A clash with somebody else's change shows both, and loses neither. */
function ValueForm({ contact, field, value, lists, derived, onClose }: EditableValueProps & { onClose: () => void }) {
  const start = value || derived === undefined ? draftOf(field, value) : { text: derived, value: null, label: '' };
  const [draft, setDraft] = useState(start);
  const faultId = useId();
  const labelsId = useId();
  // What is replaced is what was seen when editing began, so that a change meanwhile is noticed.
  const before = useRef(value);
  const refresh = useRefresh();
  const save = useMutation({
    mutationFn: ({ draft: sent, before: over, despite }: Save) =>
      api.patch(`/contacts/${contact.id}`, {
        edits: [
          { field: field.key, slot: value?.slot ?? null, before: over, ...typedOf(sent ?? draftOf(field, null)) },
        ],
        despite,
      }),
    onSuccess: async () => {
      await refresh();
      onClose();
    },
  });
  const code = save.error instanceof Refused ? save.error.problem.code : '';
  const clash =
    save.error instanceof Refused && code === 'valueChanged'
      ? (save.error.problem.facts?.now as Value | null)
      : undefined;
  const unchanged = sameDraft(draft, start) && (value !== null || derived !== undefined);
  const send = (over: Value | null, despite = false) => {
    if (unchanged) onClose();
    else save.mutate({ draft: isBlank(draft) ? null : draft, before: over, despite });
  };
  return (
    <form
      className="space-y-1.5 py-0.5"
      noValidate
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
      <ValueInput
        field={field}
        draft={draft}
        onChange={setDraft}
        lists={lists}
        contactId={contact.id}
        names={contact.related}
        invalid={!!save.error}
        describedBy={save.error ? faultId : undefined}
        autoFocus
        onSend={() => send(before.current)}
      />
      {hasLabel(field) ? (
        <>
          <input
            aria-label="Label"
            placeholder="label, such as home"
            list={labelsId}
            maxLength={40}
            className="field w-full"
            value={draft.label}
            onChange={(event) => setDraft({ ...draft, label: event.target.value })}
          />
          <datalist id={labelsId}>
            {LABELS.map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
        </>
      ) : null}
      {save.error ? (
        <p id={faultId} role="alert" className="text-alarm">
          {save.error.message}
        </p>
      ) : null}
      <div className="flex flex-wrap gap-1.5">
        {clash !== undefined ? (
          <Button kind="action" onClick={() => send(clash)}>
            Replace with mine
          </Button>
        ) : code === 'uniqueWarning' ? (
          <Button kind="action" onClick={() => send(before.current, true)}>
            Save it twice
          </Button>
        ) : (
          <Button kind="action" type="submit" busy={save.isPending}>
            Save
          </Button>
        )}
        <Button kind="quiet" onClick={onClose}>
          {clash !== undefined ? 'Keep what is there' : 'Cancel'}
        </Button>
        {value ? <MakeFirst contact={contact} field={field} value={value} onDone={onClose} /> : null}
        {value && !isNameLike(field.key) ? (
          <Button
            kind="quiet"
            className="ml-auto"
            onClick={() => save.mutate({ draft: null, before: before.current, despite: false })}
          >
            Remove
          </Button>
        ) : null}
      </div>
      {value ? <ValueHistory contactId={contact.id} field={field.key} value={value} /> : null}
    </form>
  );
}

/** What stood in this place before, newest first, each with its thread. */
function ValueHistory({ contactId, field, value }: { contactId: number; field: string; value: Value }) {
  const history = useQuery({
    queryKey: keys.history(contactId),
    queryFn: () => api.get<HistoryEntry[]>(`/contacts/${contactId}/history`),
  });
  const earlier = (history.data ?? []).flatMap((entry) =>
    (entry.changes ?? []).flatMap((change) =>
      change.field === field && change.before && change.before.slot === value.slot
        ? [{ entry, before: change.before }]
        : [],
    ),
  );
  if (!earlier.length) return null;
  return (
    <ol aria-label="What stood here before" className="border-t border-hair pt-1 text-[12.5px] text-ink2">
      {earlier.map(({ entry, before }) => (
        <li key={`${entry.runId}:${before.run}`} className="flex items-baseline gap-2">
          <span className="text-ink3">until {exactly(entry.at)}</span>
          <span className="min-w-0 flex-1 truncate">{showValue(field, before)}</span>
          <ThreadSwatch kind={entry.thread.kind} title={`changed by ${entry.thread.name}`} />
        </li>
      ))}
    </ol>
  );
}

function isNameLike(key: string): boolean {
  return key === 'givenName' || key === 'familyName';
}

/** Puts one of several values of a field before the others. */
function MakeFirst({
  contact,
  field,
  value,
  onDone,
}: {
  contact: ContactDetail;
  field: FieldDefinition;
  value: Value;
  onDone: () => void;
}) {
  const refresh = useRefresh();
  const values = valuesOf(contact.record, field.key);
  const save = useMutation({
    mutationFn: () =>
      api.patch(`/contacts/${contact.id}`, {
        edits: [value, ...values.filter((one) => one.slot !== value.slot)].map((one, rank) => ({
          field: field.key,
          slot: one.slot,
          before: one,
          rank,
          ...typedOf(draftOf(field, one)),
          ...(hasParts(field) ? { value: one.v } : {}),
        })),
      }),
    onSuccess: async () => {
      await refresh();
      onDone();
    },
  });
  if (!field.several || values.length < 2 || values[0]?.slot === value.slot) return null;
  return (
    <>
      <Button kind="quiet" busy={save.isPending} onClick={() => save.mutate()}>
        Make it the first
      </Button>
      {save.error ? <span className="text-alarm">{save.error.message}</span> : null}
    </>
  );
}
