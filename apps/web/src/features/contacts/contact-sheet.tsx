import { May, useMay } from '../../app/may';
import { keys } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useRef, useState, type ReactNode } from 'react';
import { Link, Navigate } from 'react-router';
import type { ContactDetail, Lists } from '@gray-loom/wire';
import { firstText, isRelation, lifecycleOf, valuesOf, type Value } from '@gray-loom/core/model';
import {
  CUSTOM_PREFIX,
  PERSON_FIELDS,
  STANDARD_FIELDS,
  showValue,
  sumMoney,
  type FieldDefinition,
} from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { useRefresh } from '../../app/lists';
import { Combobox } from '../../ui/combobox';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { contactsWith } from '../../app/where';
import { When } from '../../ui/when';
import { AlsoHere } from './also-here';
import { ContactHistory } from './contact-history';
import { feeInWords } from './fee-words';
import { EditableValue } from './editable-value';
import { ActivitySection } from '../activity/activity-section';
import { EraseDialog } from '../erasing/erase-dialog';
import { FilesSection } from '../activity/files-section';
import { HandOverDialog } from '../people/hand-over';
import { OpportunitySection } from '../opportunities/opportunity-section';
import { HouseholdSection } from './household-section';
import { PermissionSection } from './permission-section';
import { SyncSection } from './sync-section';
import { TagLine } from './tag-line';

/** Shown at the top, or from which what is shown was made. */
const HEAD = new Set(['tags', 'fullName', 'photo', 'letterLine', 'salutation']);
const ALSO = 'also.';
/** One contact in full: every value with its thread, edited in place; permissions; history below. */
export function ContactSheet({ id, onClose, lists }: { id: number; onClose: () => void; lists: Lists | undefined }) {
  const contact = useQuery({ queryKey: keys.contact(id), queryFn: () => api.get<ContactDetail>(`/contacts/${id}`) });
  if (contact.isPending) return <Loading what="the contact" />;
  if (contact.isLoadingError) return <Failed error={contact.error} retry={() => void contact.refetch()} />;
  const { mergedInto } = contact.data;
  // An id that was merged away leads to the contact that took it in, for as long as the merge stands.
  if (mergedInto) return <Navigate to={`/contacts/${mergedInto.id}`} replace />;
  if (contact.data.state === 'erased') return <Erased contact={contact.data} onClose={onClose} lists={lists} />;
  return <Sheet contact={contact.data} onClose={onClose} lists={lists} />;
}

/** What is left of somebody who was erased: that fields changed, and when. */
function Erased({
  contact,
  onClose,
  lists,
}: {
  contact: ContactDetail;
  onClose: () => void;
  lists: Lists | undefined;
}) {
  return (
    <article className="px-4.5 pb-8">
      <SheetHead contact={contact} next={undefined} onNext={() => undefined} onClose={onClose} />
      <p className="mb-2 border border-strong bg-wash px-3 py-2">
        Erased on request, and kept out since. Below stands what is left: that fields changed, and when.
      </p>
      <ContactHistory id={contact.id} fields={lists?.fields ?? STANDARD_FIELDS} />
    </article>
  );
}

function Sheet({ contact, onClose, lists }: { contact: ContactDetail; onClose: () => void; lists: Lists | undefined }) {
  const { id, record, groupId, kind } = contact;
  const refresh = useRefresh();
  const [adding, setAdding] = useState<string | null>(null);
  const [erasing, setErasing] = useState(false);
  const life = useMutation({
    mutationFn: (gone: boolean) => (gone ? api.delete(`/contacts/${id}`) : api.post(`/contacts/${id}/restore`)),
    onSuccess: refresh,
  });
  const fields = lists?.fields ?? STANDARD_FIELDS;
  const deleted = lifecycleOf(record)?.state === 'deleted';
  const inUse = fields.filter((field) => !field.retired && (kind === 'person' || !PERSON_FIELDS.has(field.key)));
  const shown = inUse.filter((field) => !HEAD.has(field.key) && valuesOf(record, field.key).length > 0);
  const retired = fields.filter((field) => field.retired && valuesOf(record, field.key).length > 0);
  const addable = inUse.filter(
    (field) => field.key !== 'fullName' && (field.several || valuesOf(record, field.key).length === 0),
  );
  const addingField = fields.find((field) => field.key === adding);
  const next = contact.addNext.flatMap((key) => fields.find((field) => field.key === key) ?? [])[0];
  const sheet = useRef<HTMLElement>(null);
  /** Puts the cursor where what is missing is typed. */
  const addNext = () => {
    if (!next) return;
    if (next.key === 'tags') sheet.current?.querySelector<HTMLElement>('[aria-label="Add a tag"]')?.click();
    else setAdding(next.key);
  };
  useShortcut('a', 'Add what is missing next', 'Contact', addNext, { enabled: next !== undefined, needs: 'editor' });
  const mayEdit = useMay('editor');
  const readOnly = deleted || !mayEdit;
  const common = { contact, lists, readOnly };
  return (
    <article ref={sheet} className="px-4.5 pb-8">
      <SheetHead contact={contact} next={readOnly ? undefined : next} onNext={addNext} onClose={onClose} />
      <AlsoHere id={id} />
      <Fault error={life.error} onClose={() => life.reset()} />
      {deleted ? (
        <p className="mb-2 flex items-center gap-3 border border-strong bg-wash px-3 py-2">
          This contact is deleted.
          <Button needs="editor" onClick={() => life.mutate(false)} busy={life.isPending}>
            Bring back
          </Button>
          <Button kind="quiet" needs="administrator" onClick={() => setErasing(true)}>
            Erase
          </Button>
        </p>
      ) : null}
      {deleted ? null : <OwnerLine contact={contact} readOnly={readOnly} />}
      {groupId ? (
        <p className="mb-2 border-l-2 border-ink bg-cloth px-3 py-1.5">
          Likely a duplicate.{' '}
          <Link to={`/duplicates/${groupId}`} className="link">
            Compare
          </Link>
        </p>
      ) : null}
      <TagLine contact={contact} lists={lists} readOnly={readOnly} />
      <dl>
        <FieldRows fields={shown.filter((field) => !field.key.startsWith(CUSTOM_PREFIX))} {...common} />
        <RelatedRows contact={contact} />
        {kind === 'person' ? <LetterRows {...common} fields={fields} /> : null}
        {contact.area ? (
          <PlainRow name="Area">
            <Link className="link" to={contactsWith('@area', contact.area)}>
              {contact.area}
            </Link>
          </PlainRow>
        ) : null}
      </dl>
      <OwnFields fields={shown.filter((field) => field.key.startsWith(CUSTOM_PREFIX))} {...common} />
      {addingField ? (
        <dl>
          <EditableValue
            key={`new:${adding}`}
            {...common}
            field={addingField}
            value={null}
            readOnly={false}
            also={[]}
            onDone={() => setAdding(null)}
          />
        </dl>
      ) : null}
      {deleted ? null : (
        <div className="mt-2 flex items-center gap-4">
          <May role="editor">
            <Combobox
              label="Add a value"
              value={null}
              choices={addable.map((field) => ({ value: field.key, text: field.name }))}
              onChoose={setAdding}
              className="text-ink2 hover:text-ink"
            >
              + value
            </Combobox>
          </May>
          <span className="ml-auto flex flex-wrap justify-end gap-x-4 text-ink2 [&>*]:whitespace-nowrap">
            <a className="hover:text-ink" href={`/api/contacts/${id}.vcf`} download>
              vCard
            </a>
            <May role="editor">
              <a
                className="hover:text-ink"
                href={`/api/contacts/${id}/everything`}
                download
                title="Everything held on this contact, with its files, to be handed over"
              >
                Everything
              </a>
            </May>
            <Link className="hover:text-ink" to={`/print/contact/${id}`}>
              Print
            </Link>
            <May role="editor">
              <button
                type="button"
                className="hover:text-alarm"
                disabled={life.isPending}
                onClick={() => life.mutate(true)}
              >
                Delete contact
              </button>
            </May>
            <May role="administrator">
              <button
                type="button"
                className="hover:text-alarm"
                title="Erase for good, for somebody who asks to be forgotten"
                onClick={() => setErasing(true)}
              >
                Erase
              </button>
            </May>
          </span>
        </div>
      )}
      {retired.length ? (
        <details className="mt-3">
          <summary className="cursor-pointer text-[12.5px] text-ink3">
            {retired.length === 1 ? 'A field that was retired' : `${retired.length} fields that were retired`}
          </summary>
          <dl>
            <FieldRows fields={retired} {...common} readOnly />
          </dl>
        </details>
      ) : null}
      {kind === 'organization' ? <People contact={contact} /> : null}
      {kind === 'person' ? <HouseholdSection contact={contact} readOnly={readOnly} /> : null}
      <ActivitySection contactId={id} stage={firstText(record, 'stage')} readOnly={readOnly} />
      <FilesSection contactId={id} readOnly={readOnly} />
      <OpportunitySection contactId={id} readOnly={readOnly} />
      <PermissionSection contact={contact} readOnly={readOnly} />
      {kind === 'person' ? <SyncSection contactId={id} /> : null}
      <ContactHistory id={id} fields={fields} />
      {erasing ? <EraseDialog id={id} onClose={() => setErasing(false)} /> : null}
    </article>
  );
}

interface HeadProps {
  contact: ContactDetail;
  /** What adds most to completeness of what is missing. */
  next: FieldDefinition | undefined;
  onNext: () => void;
  onClose: () => void;
}

function SheetHead({ contact, next, onNext, onClose }: HeadProps) {
  const { record, name, completeness, kind, organizationId } = contact;
  const photo = firstText(record, 'photo');
  const changedAt = Object.values(contact.threads).reduce((last, { at }) => (at > last ? at : last), '');
  const line =
    kind === 'organization'
      ? 'Organization'
      : [firstText(record, 'title'), firstText(record, 'organization')].filter(Boolean).join(', ');
  return (
    <header className="flex items-start gap-3 pt-3.5 pb-2">
      {photo ? (
        <img
          src={`/api/pictures/${photo}`}
          alt={kind === 'organization' ? `Logo of ${name}` : `Photo of ${name}`}
          className="size-14 rounded-loom border border-hair object-cover"
        />
      ) : null}
      <div className="min-w-0 flex-1">
        <h2 className="text-[18px] leading-tight font-bold break-words">{name}</h2>
        <p className="truncate text-ink2">
          {organizationId ? (
            <Link className="link" to={`/contacts/${organizationId}?kind=organization`}>
              {line}
            </Link>
          ) : (
            line
          )}
          {line && record.f.stage?.[0] ? ' · ' : ''}
          {record.f.stage?.[0] ? showValue('stage', record.f.stage[0]) : ''}
        </p>
      </div>
      <span className="text-right text-[12.5px] whitespace-nowrap text-ink2">
        {contact.state === 'erased' ? 'erased' : `${completeness}% complete`}
        {changedAt ? (
          <>
            {' · '}
            <When at={changedAt} />
          </>
        ) : null}
        {next ? (
          <button type="button" className="link block w-full text-right" onClick={onNext}>
            add next: {next.name}
          </button>
        ) : null}
      </span>
      <button type="button" aria-label="Close the sheet" className="px-1 text-ink3 hover:text-ink" onClick={onClose}>
        ×
      </button>
    </header>
  );
}

interface RowsProps {
  contact: ContactDetail;
  lists: Lists | undefined;
  readOnly: boolean;
  fields: readonly FieldDefinition[];
}

function FieldRows({ fields, contact, ...rest }: RowsProps) {
  return fields.flatMap((field) =>
    valuesOf(contact.record, field.key).map((value) => (
      <EditableValue
        key={`${field.key}:${value.slot}`}
        contact={contact}
        field={field}
        value={value}
        also={alsoOf(contact, field)}
        {...rest}
      />
    )),
  );
}

/** Own fields under their headings. */
function OwnFields({ fields, ...rest }: RowsProps) {
  const headings = [...new Set(fields.map((field) => field.heading ?? ''))];
  return headings.map((heading) => (
    <section key={heading}>
      {heading ? <h3 className="mt-3 text-[12.5px] font-semibold">{heading}</h3> : null}
      <dl>
        <FieldRows fields={fields.filter((field) => (field.heading ?? '') === heading)} {...rest} />
      </dl>
    </section>
  ));
}

/** Line for letters and salutation: as somebody wrote them, else as they are worked out. */
function LetterRows({ contact, fields, ...rest }: RowsProps) {
  const derived: Record<string, string> = { letterLine: contact.letterLine, salutation: contact.salutation };
  return Object.entries(derived).map(([key, text]) => {
    const field = fields.find((one) => one.key === key);
    const [value] = valuesOf(contact.record, key);
    return field && (value || text) ? (
      <EditableValue
        key={`${key}:${value ? 'own' : text}`}
        contact={contact}
        field={field}
        value={value ?? null}
        derived={text}
        also={[]}
        {...rest}
      />
    ) : null;
  });
}

function PlainRow({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[104px_minmax(0,1fr)] items-baseline border-b border-hair py-1">
      <dt className="text-[12.5px] text-ink2">{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}

/** Who owns the contact, and the way to hand it over or take it on. */
function OwnerLine({ contact, readOnly }: { contact: ContactDetail; readOnly: boolean }) {
  const [asked, setAsked] = useState(false);
  const owner = firstText(contact.record, 'owner');
  if (readOnly) return null;
  return (
    <p className="mb-2 flex items-baseline gap-2 text-[12.5px] text-ink2">
      {owner ? <span>Owned by {owner}</span> : <span>Owned by nobody</span>}
      <button type="button" className="link" onClick={() => setAsked(true)}>
        {owner ? 'hand over' : 'take on or hand over'}
      </button>
      {asked ? (
        <HandOverDialog
          what={{ ids: [contact.id] }}
          words={contact.name}
          owner={owner}
          onClose={() => setAsked(false)}
        />
      ) : null}
    </p>
  );
}

/** Relationships that others keep with this contact, seen from here. */
function RelatedRows({ contact }: { contact: ContactDetail }) {
  const own = valuesOf(contact.record, 'related').flatMap(({ v }) =>
    isRelation(v) && v.relation === 'referred' && v.owed ? [v.owed] : [],
  );
  const others = contact.relatedBy.flatMap(({ relation, owed }) => (relation === 'referred' && owed ? [owed] : []));
  const sums = sumMoney([...own, ...others]);
  const rows = contact.relatedBy.map((one) => (
    <PlainRow key={`${one.contactId}:${one.relation}`} name="Relationship">
      <Link className="link" to={`/contacts/${one.contactId}`}>
        {one.name}
      </Link>{' '}
      {one.relation}
      {feeInWords(one.owed ?? undefined, one.fee)}
    </PlainRow>
  ));
  if (own.length + others.length < 2) return rows;
  return [
    ...rows,
    <PlainRow key="fees" name="Fees in all">
      {sums.map((sum) => showValue('', { v: sum })).join(' and ')} for {own.length + others.length} referred ·{' '}
      <Link className="link" to="/contacts/referrals">
        all referrals
      </Link>
    </PlainRow>,
  ];
}

function People({ contact }: { contact: ContactDetail }) {
  return (
    <section className="mt-5">
      <h3 className="border-b border-strong pb-1 font-semibold">People</h3>
      {contact.people.length === 0 ? (
        <p className="py-1 text-ink2">Nobody names this organization yet.</p>
      ) : (
        <ul>
          {contact.people.map((person) => (
            <li key={person.id} className="flex border-b border-hair py-1">
              <Link className="link" to={`/contacts/${person.id}`}>
                {person.name}
              </Link>
              <span className="ml-auto text-ink2">{person.title}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** Values that a merge did not choose; they stay with the contact. */
function alsoOf(contact: ContactDetail, field: FieldDefinition): Value[] {
  return valuesOf(contact.record, ALSO + field.key);
}
