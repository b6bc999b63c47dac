import { keys } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useId, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { EntryCheck, LikelyMatch } from '@gray-loom/wire';
import type { FieldDefinition } from '@gray-loom/core/fields';
import type { ContactKind } from '@gray-loom/core/model';
import { api, Refused } from '../../app/api';
import { useLists, useRefresh } from '../../app/lists';
import { Combobox } from '../../ui/combobox';
import { Button, Failed, Loading } from '../../ui/controls';
import { Modal } from '../../ui/modal';
import { EMPTY_DRAFT, hasLabel, isBlank, typedOf, type Draft } from './draft';
import { ValueInput } from './value-input';

const QUICK: Record<ContactKind, string[]> = {
  person: ['givenName', 'familyName', 'email', 'tel', 'source'],
  organization: ['organization', 'webDomain', 'email', 'tel', 'source'],
};
const NOT_OFFERED = new Set(['fullName', 'letterLine', 'salutation']);

interface Line {
  id: number;
  key: string;
  draft: Draft;
}

/** What was typed is kept in this tab until it is saved or thrown away, also over a reload. */
const KEPT = 'gray-loom-entry';
interface Kept {
  kind: ContactKind;
  lines: Line[];
}

function readKept(): Kept | null {
  try {
    return JSON.parse(sessionStorage.getItem(KEPT) ?? 'null') as Kept | null;
  } catch {
    return null;
  }
}

/** One contact by hand: the few facts that matter first, everything else one step away; whoever it may be is shown. */
export function NewContact({ onClose }: { onClose: () => void }) {
  const lists = useLists();
  return (
    <Modal title="New contact" onClose={onClose} width={600}>
      {lists.isPending ? (
        <Loading what="the fields" />
      ) : lists.error ? (
        <Failed error={lists.error} retry={() => void lists.refetch()} />
      ) : (
        <Entry onClose={onClose} fields={lists.data.fields} />
      )}
    </Modal>
  );
}

function Entry({ onClose, fields }: { onClose: () => void; fields: FieldDefinition[] }) {
  const lists = useLists().data;
  const navigate = useNavigate();
  const refresh = useRefresh();
  const nextId = useRef(1000);
  const fieldOf = useMemo(() => new Map(fields.map((field) => [field.key, field])), [fields]);
  const linesFor = (kind: ContactKind, kept: Line[]): Line[] => {
    const required = kind === 'person' ? fields.filter((field) => field.required && !field.retired) : [];
    const keys = [...QUICK[kind], ...required.map((field) => field.key).filter((key) => !QUICK[kind].includes(key))];
    const quick = keys.map((key, i) => kept.find((line) => line.key === key) ?? { id: i, key, draft: EMPTY_DRAFT });
    const rest = kept.filter((line) => !quick.includes(line) && !isBlank(line.draft) && fieldOf.has(line.key));
    return [...quick, ...rest.map((line, i) => ({ ...line, id: 100 + i }))];
  };
  const [kind, setKind] = useState<ContactKind>(() => readKept()?.kind ?? 'person');
  const [lines, setLines] = useState<Line[]>(() => linesFor(readKept()?.kind ?? 'person', readKept()?.lines ?? []));
  const keep = (nextKind: ContactKind, next: Line[]) => {
    // What was refused was said of other facts.
    if (save.isError) save.reset();
    setKind(nextKind);
    setLines(next);
    sessionStorage.setItem(KEPT, JSON.stringify({ kind: nextKind, lines: next }));
  };
  const leave = () => {
    sessionStorage.removeItem(KEPT);
    onClose();
  };
  const body = (despite: boolean) => ({
    kind,
    despite,
    values: lines.filter(({ draft }) => !isBlank(draft)).map(({ key, draft }) => ({ field: key, ...sent(draft) })),
  });
  const asked = useDeferredValue(JSON.stringify(body(false)));
  const filled = body(false).values;
  const check = useQuery({
    queryKey: keys.check(kind, asked),
    queryFn: ({ signal }) => checkEntry(asked, signal),
    enabled: filled.some(({ field }) => field !== 'source'),
    // What was told of the other kind does not stay while this one is looked up.
    placeholderData: (known, query) => (query?.queryKey[1] === kind ? known : undefined),
    staleTime: 30_000,
  });
  const matches = filled.length ? (check.data?.matches ?? []) : [];
  const elsewhere = filled.length ? (check.data?.elsewhere ?? 0) : 0;
  const erasedOn = filled.length ? check.data?.erasedOn : null;
  const open = (id: number) => {
    leave();
    void navigate(`/contacts/${id}${kind === 'organization' ? '?kind=organization' : ''}`);
  };
  const save = useMutation({
    mutationFn: (despite: boolean) =>
      api.post<{ contactId: number }>('/contacts', { ...body(despite), seen: matches.map((match) => match.contactId) }),
    onSuccess: async ({ contactId }) => {
      await refresh();
      open(contactId);
    },
    // Somebody else may have entered them meanwhile: then they are shown.
    onError: () => void check.refetch(),
  });
  const add = useMutation({
    mutationFn: (id: number) => api.post(`/contacts/${id}/facts`, body(true)),
    onSuccess: async (_, id) => {
      await refresh();
      open(id);
    },
  });
  const error = save.error ?? add.error;
  const refused = error instanceof Refused ? error.problem : null;
  const wrongField = (refused?.facts?.field as string | undefined) ?? null;
  const wrongHere = lines.some((line) => line.key === wrongField);
  const offered = fields.filter(
    (field) =>
      !field.retired && !NOT_OFFERED.has(field.key) && (field.several || !lines.some((line) => line.key === field.key)),
  );
  const clashes = filled.length ? (check.data?.clashes ?? []) : [];
  return (
    <>
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          if (!save.isPending) save.mutate(false);
        }}
      >
        <fieldset className="mb-2 flex gap-4">
          <legend className="sr-only">Kind</legend>
          {(['person', 'organization'] as const).map((one) => (
            <label key={one} className="flex items-center gap-1.5">
              <input type="radio" name="kind" checked={kind === one} onChange={() => keep(one, linesFor(one, lines))} />
              {one}
            </label>
          ))}
        </fieldset>
        <div className="space-y-1.5">
          {lines.map((line, i) => {
            const field = fieldOf.get(line.key);
            if (!field) return null;
            const clash = clashes.find((one) => one.field === field.key);
            return (
              <EntryLine
                key={line.id}
                field={field}
                draft={line.draft}
                focus={i === 0 || (line.id >= 1000 && i === lines.length - 1)}
                fault={wrongField === field.key ? (error?.message ?? null) : null}
                warning={
                  clash
                    ? `${holders(clash)} ${clash.contacts.length + clash.elsewhere > 1 ? 'have' : 'has'} it
                       already${clash.rule === 'refuse' ? '; it may stand once only' : ''}.`
                    : null
                }
                onChange={(draft) =>
                  keep(
                    kind,
                    lines.map((one) => (one.id === line.id ? { ...one, draft } : one)),
                  )
                }
                lists={lists}
              />
            );
          })}
        </div>
        <div className="mt-2">
          <Combobox
            label="Add a fact"
            value={null}
            choices={offered.map((field) => ({
              value: field.key,
              text: field.name,
              ...(field.heading ? { hint: field.heading } : {}),
            }))}
            className="text-ink2 hover:text-ink"
            onChoose={(key) => keep(kind, [...lines, { id: nextId.current++, key, draft: EMPTY_DRAFT }])}
          >
            + more
          </Combobox>
        </div>
        {error && !wrongHere ? (
          <p role="alert" className="mt-3 text-alarm">
            {error.message}
          </p>
        ) : null}
        <div className="mt-3 flex gap-2">
          {refused && DESPITE.has(refused.code) ? (
            <Button kind="action" busy={save.isPending} onClick={() => save.mutate(true)}>
              {refused.code === 'uniqueWarning' ? 'Save it twice' : 'Save another one'}
            </Button>
          ) : (
            <Button kind="action" type="submit" busy={save.isPending}>
              Save {kind === 'organization' ? 'organization' : 'contact'}
            </Button>
          )}
          <Button kind="quiet" onClick={leave}>
            Throw away
          </Button>
        </div>
      </form>
      {erasedOn ? (
        <p className="mt-4 border-t border-strong pt-2 text-alarm" role="status">
          Whoever this is was erased on request on {erasedOn}, and is kept out. An administrator can lift that under
          Settings, Erased people.
        </p>
      ) : null}
      {elsewhere ? (
        <p className="mt-4 border-t border-strong pt-2" role="status">
          {elsewhere === 1 ? '1 person' : `${elsewhere} people`} who may be the same, in somebody else's remit: ask
          before you save another one.
        </p>
      ) : null}
      {matches.length ? (
        <section className="mt-4 border-t border-strong pt-2" aria-live="polite">
          <h3 className="font-semibold">Already here?</h3>
          {matches.map((match) => (
            <Match
              key={match.contactId}
              match={match}
              busy={add.isPending}
              onOpen={() => open(match.contactId)}
              onAdd={() => add.mutate(match.contactId)}
            />
          ))}
        </section>
      ) : null}
    </>
  );
}

const DESPITE = new Set(['uniqueWarning', 'alreadyHere', 'alreadyElsewhere']);

/** Who has a value that should stand once. */
function holders({ contacts, elsewhere }: EntryCheck['clashes'][number]): string {
  const names = contacts.map((one) => one.name);
  return [...names, ...(elsewhere ? [`${elsewhere === 1 ? 'somebody' : elsewhere} outside your remit`] : [])].join(
    ', ',
  );
}

const sent = (draft: Draft) => ({ ...typedOf(draft), text: draft.text });

async function checkEntry(asked: string, signal: AbortSignal): Promise<EntryCheck> {
  // A moment's rest, so that not every key asks.
  await new Promise((resolve) => setTimeout(resolve, 120));
  if (signal.aborted) throw new DOMException('typed on', 'AbortError');
  return api.post<EntryCheck>('/contacts/check', JSON.parse(asked));
}

interface EntryLineProps {
  field: FieldDefinition;
  draft: Draft;
  focus: boolean;
  fault: string | null;
  warning: string | null;
  lists: ReturnType<typeof useLists>['data'];
  onChange: (draft: Draft) => void;
}

function EntryLine({ field, draft, focus, fault, warning, lists, onChange }: EntryLineProps) {
  const id = useId();
  return (
    <div className="grid grid-cols-[110px_1fr] items-baseline gap-x-3">
      <label htmlFor={id} className="text-ink2">
        {field.name}
        {field.required ? <span className="text-ink3"> (asked for)</span> : null}
      </label>
      <div>
        <div className="flex gap-1.5">
          <div className="min-w-0 flex-1">
            <ValueInput
              id={id}
              field={field}
              draft={draft}
              onChange={onChange}
              lists={lists}
              contactId={null}
              invalid={!!fault}
              describedBy={fault || warning ? `${id}-note` : undefined}
              autoFocus={focus}
            />
          </div>
          {hasLabel(field) && !isBlank(draft) ? (
            <input
              aria-label={`Label of ${field.name}`}
              placeholder="label"
              maxLength={40}
              className="field w-20"
              value={draft.label}
              onChange={(event) => onChange({ ...draft, label: event.target.value })}
            />
          ) : null}
        </div>
        {fault || warning ? (
          <p id={`${id}-note`} role={fault ? 'alert' : 'status'} className={fault ? 'text-alarm' : 'text-ink2'}>
            {fault ?? warning}
          </p>
        ) : null}
      </div>
    </div>
  );
}

function Match({
  match,
  busy,
  onOpen,
  onAdd,
}: {
  match: LikelyMatch;
  busy: boolean;
  onOpen: () => void;
  onAdd: () => void;
}) {
  const where = [match.stage, match.owner ? `with ${match.owner}` : ''].filter(Boolean).join(', ');
  return (
    <div className="border-b border-hair py-1.5">
      <p className="flex items-baseline gap-2">
        <button type="button" className="link font-semibold" onClick={onOpen}>
          {match.name}
        </button>
        <span className="min-w-0 truncate text-ink2">{[match.email, match.tel].filter(Boolean).join(' · ')}</span>
        <span className="ml-auto shrink-0 text-ink2">{[where, match.band].filter(Boolean).join(' · ')}</span>
      </p>
      <p className="flex items-baseline gap-3 text-[12.5px] text-ink2">
        <span className="min-w-0 flex-1">
          {match.reasons
            .slice(0, 3)
            .map((reason) => `${reason.text} ${reason.bits > 0 ? '+' : ''}${reason.bits}`)
            .join(' · ')}
        </span>
        <Button busy={busy} onClick={onAdd} aria-label={`Add these facts to ${match.name}`}>
          Add these facts
        </Button>
      </p>
    </div>
  );
}
