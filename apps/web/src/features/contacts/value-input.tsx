import { useMutation } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { PICTURE_LIMIT_BYTES, type Lists } from '@gray-loom/wire';
import {
  currencyOf,
  parseMoney,
  RELATIONS,
  showValue,
  typeValue,
  type FieldDefinition,
  type FieldType,
} from '@gray-loom/core/fields';
import { isAddress, isRelation, type MoneyValue, type RelationValue } from '@gray-loom/core/model';
import { sendPicture } from '../../app/send-picture';
import { NearMisses } from '../../ui/near-misses';
import { AddressForm } from './address-form';
import { ContactPicker } from './contact-picker';
import type { Draft } from './draft';

const HINTS: Partial<Record<FieldType, string>> = {
  date: 'such as 14 Jul 1971',
  partialDate: 'such as 14 Jul 1971, or 14 Jul',
  number: 'such as 14 or 2.5',
  range: 'such as 12 to 16, from 12, up to 16',
  url: 'https://',
};

export interface ValueInputProps {
  field: FieldDefinition;
  draft: Draft;
  onChange: (draft: Draft) => void;
  lists: Lists | undefined;
  contactId: number | null;
  names?: Record<number, { id: number; name: string }>;
  invalid?: boolean;
  autoFocus?: boolean;
  id?: string;
  describedBy?: string;
  /** Saves from within, by Ctrl Enter where Enter begins a line. */
  onSend?: () => void;
}

/** The box for a value of any type; one for entry, sheet and wherever else a value is typed. */
export function ValueInput(props: ValueInputProps) {
  const { field, draft, onChange, lists, invalid, autoFocus, id, describedBy, onSend } = props;
  const listId = useId();
  const setText = (text: string) => onChange({ ...draft, text });
  const common = {
    id,
    'aria-label': field.name,
    'aria-invalid': invalid || undefined,
    'aria-describedby': describedBy,
    className: 'field w-full',
    value: draft.text,
    autoFocus,
  };
  switch (field.type) {
    case 'address':
      return (
        <AddressForm
          value={isAddress(draft.value ?? undefined) ? (draft.value as object) : {}}
          home={lists?.country ?? 'GB'}
          autoFocus={autoFocus}
          invalid={invalid}
          onChange={(value) => onChange({ ...draft, value })}
        />
      );
    case 'relation':
      return <RelationForm {...props} />;
    case 'picture':
      return <PictureBox {...props} />;
    case 'stage': {
      const meaning = lists?.stages.find((stage) => stage.label === draft.text)?.meaning;
      return (
        <>
          <select {...common} onChange={(event) => setText(event.target.value)}>
            <option value="">none</option>
            {lists?.stages.map((stage) => (
              <option key={stage.label} value={stage.label} title={stage.meaning}>
                {stage.label}
              </option>
            ))}
          </select>
          {meaning ? <p className="text-[12px] text-ink2">{meaning}</p> : null}
        </>
      );
    }
    case 'choice':
    case 'yesNo':
      return (
        <select {...common} onChange={(event) => setText(event.target.value)}>
          <option value="">none</option>
          {(field.type === 'yesNo' ? ['yes', 'no'] : (field.choices ?? [])).map((choice) => (
            <option key={choice}>{choice}</option>
          ))}
        </select>
      );
    case 'choices': {
      const chosen = draft.text
        .split(';')
        .map((one) => one.trim())
        .filter(Boolean);
      return (
        <div role="group" aria-label={field.name} className="flex flex-wrap gap-x-4">
          {(field.choices ?? []).map((choice, i) => (
            <label key={choice} className="flex items-center gap-1.5 py-0.5">
              <input
                type="checkbox"
                autoFocus={autoFocus && i === 0}
                checked={chosen.includes(choice)}
                onChange={(event) =>
                  setText(
                    (event.target.checked ? [...chosen, choice] : chosen.filter((one) => one !== choice)).join('; '),
                  )
                }
              />
              {choice}
            </label>
          ))}
        </div>
      );
    }
    case 'longText':
      return (
        <textarea
          {...common}
          rows={4}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) onSend?.();
          }}
        />
      );
    default: {
      const options = optionsOf(field, lists);
      return (
        <>
          <input
            {...common}
            autoComplete="off"
            type={field.type === 'email' ? 'email' : field.type === 'tel' ? 'tel' : 'text'}
            list={options.length ? listId : undefined}
            placeholder={field.type === 'money' ? `such as 250 ${field.currency ?? 'EUR'}` : HINTS[field.type]}
            onChange={(event) => setText(event.target.value)}
          />
          {options.length ? (
            <datalist id={listId}>
              {options.map((option) => (
                <option key={option} value={option} />
              ))}
            </datalist>
          ) : null}
          {field.type === 'source' || field.type === 'tag' ? (
            <NearMisses typed={draft.text} labels={options} what={field.name} onChoose={setText} />
          ) : null}
        </>
      );
    }
  }
}

function optionsOf(field: FieldDefinition, lists: Lists | undefined): string[] {
  if (field.type === 'source') return (lists?.sources ?? []).map((source) => source.label);
  if (field.type === 'tag') return (lists?.tags ?? []).map((tag) => tag.label);
  if (field.type === 'owner') return (lists?.owners ?? []).map((owner) => owner.label);
  if (field.key === 'tz') return Intl.supportedValuesOf('timeZone');
  return [];
}

/** Who the other is to this contact, who it is, and what a referrer is owed. */
function RelationForm({ draft, onChange, contactId, names, autoFocus, lists }: ValueInputProps) {
  const id = useId();
  const now: Partial<RelationValue> = isRelation(draft.value ?? undefined) ? (draft.value as RelationValue) : {};
  const [chosen, setChosen] = useState(now.to ? (names?.[now.to]?.name ?? '') : (now.name ?? ''));
  const set = (change: Partial<RelationValue>) =>
    onChange({ ...draft, value: { relation: '', to: null, ...now, ...change } });
  return (
    <div className="space-y-1.5">
      <input
        aria-label="What the other is"
        placeholder="Spouse, assistant, referred by, or your own word"
        autoFocus={autoFocus}
        autoComplete="off"
        list={`${id}-kinds`}
        className="field w-full"
        value={now.relation ?? ''}
        onChange={(event) => set({ relation: event.target.value })}
      />
      <datalist id={`${id}-kinds`}>
        {RELATIONS.map((relation) => (
          <option key={relation} value={relation} />
        ))}
      </datalist>
      {chosen ? (
        <p className="flex items-baseline gap-2">
          <strong className="font-semibold">{chosen}</strong>
          <button
            type="button"
            className="link text-[12.5px]"
            onClick={() => {
              setChosen('');
              set({ to: null, name: undefined });
            }}
          >
            another one
          </button>
        </p>
      ) : (
        <ContactPicker
          label="The other"
          exceptId={contactId}
          onChoose={({ id: to, name }) => {
            setChosen(name);
            set({ to, name: undefined });
          }}
          onName={(name) => {
            setChosen(name);
            set({ to: null, name });
          }}
        />
      )}
      {now.relation === 'referred by' || now.relation === 'referred' || now.fee || now.owed ? (
        <div className="grid grid-cols-[minmax(0,2fr)_minmax(0,3fr)] gap-1.5">
          <OwedInput owed={now.owed} currency={currencyOf(lists?.country ?? '')} onChange={(owed) => set({ owed })} />
          <input
            aria-label="Terms of the fee"
            placeholder="on what terms"
            className="field min-w-0"
            value={now.fee ?? ''}
            onChange={(event) => set({ fee: event.target.value })}
          />
        </div>
      ) : null}
    </div>
  );
}

interface OwedInputProps {
  owed: MoneyValue | undefined;
  /** Of an amount that names none. */
  currency: string;
  onChange: (owed: MoneyValue | undefined) => void;
}

/** The fee of a referrer, as an amount with its currency. What is none is said, and not kept. */
function OwedInput({ owed, currency, onChange }: OwedInputProps) {
  const [text, setText] = useState(owed ? typeValue({ v: owed }) : '');
  const read = parseMoney(text, '.', currency);
  const isWrong = text.trim() !== '' && (!read || read.amount < 0);
  return (
    <span className="min-w-0">
      <input
        aria-label="Fee of the referrer"
        aria-invalid={isWrong}
        placeholder={`fee, such as 250 ${currency}`}
        className="field w-full"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          const amount = parseMoney(event.target.value, '.', currency);
          onChange(amount && amount.amount >= 0 ? amount : undefined);
        }}
      />
      {isWrong ? (
        <span role="alert" className="text-[12px] text-alarm">
          no amount; write terms beside it
        </span>
      ) : read && text.trim() ? (
        <span className="text-[12px] text-ink2">{showValue('', { v: read })}</span>
      ) : null}
    </span>
  );
}

/** A photo or logo: chosen, sent, shown. The limit is said before. */
function PictureBox({ field, draft, onChange, autoFocus }: ValueInputProps) {
  const send = useMutation({ mutationFn: sendPicture, onSuccess: (hash) => onChange({ ...draft, value: hash }) });
  return (
    <div className="space-y-1">
      {typeof draft.value === 'string' ? (
        <img
          src={`/api/pictures/${draft.value}`}
          alt="The picture as it is kept"
          className="max-h-40 border border-hair"
        />
      ) : null}
      <input
        type="file"
        aria-label={field.name}
        autoFocus={autoFocus}
        accept="image/jpeg,image/png,image/webp"
        className="block w-full"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) send.mutate(file);
        }}
      />
      <p className="text-[12px] text-ink2">
        {send.isPending
          ? 'Sending…'
          : `JPEG, PNG or WebP, up to ${PICTURE_LIMIT_BYTES / 1048576} MB. Place and camera are taken out of it.`}
      </p>
      {send.error ? (
        <p role="alert" className="text-alarm">
          {send.error.message}
        </p>
      ) : null}
    </div>
  );
}
