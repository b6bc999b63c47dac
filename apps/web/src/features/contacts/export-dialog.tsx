import { May } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { EXPORT_FORMATS, type ExportFormat, type ExportLayout, type Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Button, Fault } from '../../ui/controls';
import { Modal } from '../../ui/modal';

const FORMATS: Record<ExportFormat, string> = {
  csv: 'Table (CSV)',
  tsv: 'Table, parted by tabs',
  xlsx: 'Spreadsheet (.xlsx)',
};
/** What a table can have beside the fields of the catalogue, and what it never has. */
const NAME = { key: 'name', name: 'Name, as it is shown' };
const PERMISSIONS = { key: 'permissions', name: 'Permissions, a column for each channel' };
const NEVER = new Set(['fullName', 'photo']);

interface ExportDialogProps {
  query: string;
  lists: Lists | undefined;
  onClose: () => void;
}

/** A table with chosen fields in a chosen order, kept as a layout for the next time and for colleagues. */
export function ExportDialog({ query, lists, onClose }: ExportDialogProps) {
  const touch = useTouch();
  const layouts = useQuery({
    queryKey: keys.exportLayouts(),
    queryFn: () => api.get<ExportLayout[]>('/export-layouts'),
  });
  const [fields, setFields] = useState<string[]>(['name', 'email', 'tel']);
  const [format, setFormat] = useState<ExportFormat>('csv');
  const [name, setName] = useState('');
  const refresh = () => touch('layouts');
  const keep = useMutation({
    mutationFn: () => api.post<ExportLayout>('/export-layouts', { name, fields, format }),
    onSuccess: refresh,
  });
  const drop = useMutation({
    mutationFn: (id: number) => api.delete(`/export-layouts/${id}`),
    onSuccess: refresh,
  });
  const own = (lists?.fields ?? []).filter((field) => !NEVER.has(field.key) && !field.retired);
  const all = [NAME, ...own, PERMISSIONS];
  const nameOf = new Map(all.map((field) => [field.key, field.name]));
  const swap = (at: number, by: -1 | 1) => {
    const next = [...fields];
    const [one] = next.splice(at, 1);
    if (one) next.splice(at + by, 0, one);
    setFields(next);
  };
  const known = fields.filter((key) => nameOf.has(key));
  const step = 'min-h-6 min-w-6 text-ink3 enabled:hover:text-ink disabled:opacity-30';
  return (
    <Modal title="Choose what goes out" onClose={onClose} width={640}>
      <Fault
        error={keep.error ?? drop.error ?? layouts.error}
        onClose={() => [keep, drop].forEach((one) => one.reset())}
      />
      {layouts.data?.length ? (
        <ul className="mb-3 flex flex-wrap gap-2" aria-label="Layouts that were kept">
          {layouts.data.map((layout) => (
            <li key={layout.id} className="flex border border-strong">
              <button
                type="button"
                className="px-2 py-0.5 hover:bg-wash"
                onClick={() => {
                  setFields(layout.fields);
                  setFormat(layout.format);
                  setName(layout.name);
                }}
              >
                {layout.name}
              </button>
              <May role="editor">
                <button
                  type="button"
                  className="min-w-6 border-l border-hair text-ink3 hover:text-alarm"
                  aria-label={`Drop the layout ${layout.name}`}
                  onClick={() => drop.mutate(layout.id)}
                >
                  ×
                </button>
              </May>
            </li>
          ))}
        </ul>
      ) : null}
      <div className="grid grid-cols-2 gap-4">
        <section>
          <h3 className="text-[12.5px] text-ink2">Columns, from left to right</h3>
          <ol className="max-h-72 overflow-y-auto border border-hair">
            {known.map((key, at) => (
              <li key={key} className="flex items-center border-b border-hair pl-2">
                <span className="flex-1 truncate py-0.5">{nameOf.get(key)}</span>
                <button
                  type="button"
                  className={step}
                  aria-label={`Move ${nameOf.get(key)} up`}
                  disabled={at === 0}
                  onClick={() => swap(at, -1)}
                >
                  ↑
                </button>
                <button
                  type="button"
                  className={step}
                  aria-label={`Move ${nameOf.get(key)} down`}
                  disabled={at === known.length - 1}
                  onClick={() => swap(at, 1)}
                >
                  ↓
                </button>
                <button
                  type="button"
                  className={step}
                  aria-label={`Leave ${nameOf.get(key)} out`}
                  onClick={() => setFields(fields.filter((one) => one !== key))}
                >
                  ×
                </button>
              </li>
            ))}
            {known.length ? null : <li className="px-2 py-1 text-ink3">No column yet: choose some on the right.</li>}
          </ol>
        </section>
        <section>
          <h3 className="text-[12.5px] text-ink2">Not in the table</h3>
          <ul className="max-h-72 overflow-y-auto border border-hair">
            {all
              .filter(({ key }) => !fields.includes(key))
              .map(({ key, name: text }) => (
                <li key={key}>
                  <button
                    type="button"
                    className="w-full border-b border-hair px-2 py-0.5 text-left hover:bg-wash"
                    onClick={() => setFields([...fields, key])}
                  >
                    + {text}
                  </button>
                </li>
              ))}
          </ul>
        </section>
      </div>
      <p className="mt-3 text-[12.5px] text-ink2">
        What happened with these contacts goes out apart:{' '}
        <a className="link" href={`/api/activities.csv?${query}`} download>
          activity, a row for each entry (CSV)
        </a>
        . It can be brought in again.
      </p>
      <form
        className="mt-4 flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <select
          aria-label="Form"
          className="field"
          value={format}
          onChange={(event) => setFormat(event.target.value as ExportFormat)}
        >
          {EXPORT_FORMATS.map((one) => (
            <option key={one} value={one}>
              {FORMATS[one]}
            </option>
          ))}
        </select>
        <a
          className={
            `inline-flex min-h-7 items-center rounded-loom border border-action bg-action px-2.5 py-1 font-semibold ` +
            `text-onaction hover:opacity-90 ${known.length ? '' : 'pointer-events-none opacity-50'}`
          }
          aria-disabled={!known.length}
          href={`/api/contacts.${format}?${[query, `fields=${encodeURIComponent(known.join(','))}`].filter(Boolean).join('&')}`}
          download
        >
          Take it out
        </a>
        <span className="ml-auto flex gap-2">
          <input
            aria-label="Name of the layout"
            placeholder="name of the layout"
            className="field w-44"
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button needs="editor" type="submit" busy={keep.isPending} disabled={!name.trim() || !known.length}>
            {layouts.data?.some((one) => one.name === name.trim()) ? 'Keep anew' : 'Keep as a layout'}
          </Button>
        </span>
      </form>
      {keep.isSuccess ? (
        <p role="status" className="mt-2 text-ink2">
          Kept. Everybody here finds it at this place.
        </p>
      ) : null}
    </Modal>
  );
}
