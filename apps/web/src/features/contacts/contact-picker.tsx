import { keys } from '../../app/keys';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useDeferredValue, useState } from 'react';
import type { ContactPage } from '@gray-loom/wire';
import { api } from '../../app/api';

interface ContactPickerProps {
  label: string;
  exceptId: number | null;
  autoFocus?: boolean;
  onChoose: (contact: { id: number; name: string }) => void;
  /** Somebody who is no contact, by name, where that will do. */
  onName?: (name: string) => void;
}

/** Finds a contact as one types; a name alone will do for somebody who is none. */
export function ContactPicker({ label, exceptId, autoFocus, onChoose, onName }: ContactPickerProps) {
  const [typed, setTyped] = useState('');
  const asked = useDeferredValue(typed.trim());
  const found = useQuery({
    queryKey: keys.contacts('picker', asked),
    queryFn: ({ signal }) =>
      api.get<ContactPage>(`/contacts?limit=8&sort=family&find=${encodeURIComponent(asked)}`, signal),
    enabled: asked.length > 1,
    placeholderData: keepPreviousData,
  });
  const rows = asked.length > 1 ? (found.data?.rows ?? []).filter((row) => row.id !== exceptId) : [];
  return (
    <Command shouldFilter={false} label={label} className="border border-strong bg-page">
      <Command.Input
        autoFocus={autoFocus}
        value={typed}
        onValueChange={setTyped}
        placeholder={onName ? 'Name of the other' : 'Name, e-mail or phone'}
        className="w-full bg-page px-2 py-1 outline-none"
      />
      <Command.List className="max-h-48 overflow-y-auto">
        {rows.map((row) => (
          <Command.Item
            key={row.id}
            value={String(row.id)}
            onSelect={() => onChoose({ id: row.id, name: row.givenFirst })}
            className="flex cursor-pointer gap-2 border-t border-hair px-2 py-0.5 data-[selected=true]:bg-picked"
          >
            <span>{row.givenFirst}</span>
            <span className="ml-auto truncate text-[12px] text-ink3">{row.email || row.tel || row.organization}</span>
          </Command.Item>
        ))}
        {onName && typed.trim().length > 1 ? (
          <Command.Item
            value="by name"
            onSelect={() => onName(typed.trim())}
            className="cursor-pointer border-t border-hair px-2 py-0.5 text-ink2 data-[selected=true]:bg-picked"
          >
            {typed.trim()}, who is no contact
          </Command.Item>
        ) : null}
      </Command.List>
    </Command>
  );
}
