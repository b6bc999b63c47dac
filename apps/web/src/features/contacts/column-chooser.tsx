import { useMutation, useQuery } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { ContactSort, GridLayout, Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { May } from '../../app/may';
import { setPreference, usePreferences, type Preferences } from '../../app/preferences';
import { Button, Fault } from '../../ui/controls';
import { allColumns, setColumnWidth, WIDTH } from './grid-columns';

/** By how much a column is made wider at a time. */
const STRETCH = 1.2;

interface ChooserProps {
  lists: Lists | undefined;
  sort: ContactSort;
  onSort: (sort: ContactSort) => void;
}

const DENSITIES: [Preferences['density'], string][] = [
  ['tight', 'close'],
  ['plain', 'usual'],
  ['airy', 'wide'],
];

/** Which columns the grid shows, in which order, how many stay in sight, how close rows stand; and layouts that are kept. */
export function ColumnChooser({ lists, sort, onSort }: ChooserProps) {
  const { columns: chosen, pinned, density } = usePreferences();
  const all = allColumns(lists);
  const nameOf = new Map(all.map((column) => [column.key, column.name]));
  const set = (columns: typeof chosen) => setPreference('columns', columns);
  const move = (at: number, step: number) => {
    const next = [...chosen];
    const [one] = next.splice(at, 1);
    if (one) next.splice(at + step, 0, one);
    set(next);
  };
  const shown = chosen.filter(({ key }) => nameOf.has(key));
  return (
    <Popover.Root>
      <Popover.Trigger className="text-ink2 hover:text-ink">Columns</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={3}
          className="z-50 max-h-[74vh] w-80 overflow-y-auto border border-strong bg-page p-3 shadow-sm"
          aria-label="Columns"
        >
          <Layouts sort={sort} onSort={onSort} />
          <div className="mt-3 flex items-center gap-4 border-t border-hair pt-2 text-[12.5px]">
            <label className="flex items-center gap-1.5">
              rows
              <select
                className="field"
                value={density}
                onChange={(event) => setPreference('density', event.target.value as Preferences['density'])}
              >
                {DENSITIES.map(([key, text]) => (
                  <option key={key} value={key}>
                    {text}
                  </option>
                ))}
              </select>
            </label>
            <label className="flex items-center gap-1.5">
              stay in sight
              <select
                className="field"
                value={pinned}
                onChange={(event) => setPreference('pinned', Number(event.target.value))}
              >
                {[0, 1, 2, 3, 4].map((n) => (
                  <option key={n} value={n}>
                    {n === 0 ? 'none' : `first ${n}`}
                  </option>
                ))}
              </select>
            </label>
          </div>
          <h3 className="mt-3 text-[12px] text-ink3">Shown, from left to right</h3>
          <ul>
            {shown.map(({ key, width }) => {
              const at = chosen.findIndex((column) => column.key === key);
              const name = nameOf.get(key) ?? key;
              return (
                <li key={key} className="flex items-center gap-1 border-b border-hair">
                  <span className="flex-1 truncate py-1">{name}</span>
                  <Step
                    text={`Make ${name} narrower`}
                    sign="−"
                    onClick={() => setColumnWidth(chosen, key, width / STRETCH)}
                  />
                  <Step
                    text={`Make ${name} wider`}
                    sign="+"
                    onClick={() => setColumnWidth(chosen, key, width * STRETCH)}
                  />
                  <Step text={`Move ${name} to the left`} sign="←" onClick={at > 0 ? () => move(at, -1) : null} />
                  <Step
                    text={`Move ${name} to the right`}
                    sign="→"
                    onClick={at < chosen.length - 1 ? () => move(at, 1) : null}
                  />
                  <Step
                    text={`Hide ${name}`}
                    sign="×"
                    onClick={key === 'name' ? null : () => set(chosen.filter((column) => column.key !== key))}
                  />
                </li>
              );
            })}
          </ul>
          <h3 className="mt-3 text-[12px] text-ink3">Not shown</h3>
          <ul>
            {all
              .filter(({ key }) => !chosen.some((column) => column.key === key))
              .map(({ key, name }) => (
                <li key={key}>
                  <button
                    type="button"
                    className="w-full py-1 text-left hover:bg-wash"
                    onClick={() => set([...chosen, { key, width: WIDTH }])}
                  >
                    + {name}
                  </button>
                </li>
              ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** Layouts that are kept for everybody: columns with their widths, what stays in sight, and the order. */
function Layouts({ sort, onSort }: Omit<ChooserProps, 'lists'>) {
  const { columns, pinned } = usePreferences();
  const touch = useTouch();
  const [name, setName] = useState('');
  const layouts = useQuery({ queryKey: keys.gridLayouts(), queryFn: () => api.get<GridLayout[]>('/grid-layouts') });
  const keep = useMutation({
    mutationFn: () => api.post('/grid-layouts', { name, columns, pinned, sort: sort === 'best' ? 'family' : sort }),
    onSuccess: async () => {
      setName('');
      await touch('layouts');
    },
  });
  const drop = useMutation({
    mutationFn: (id: number) => api.delete(`/grid-layouts/${id}`),
    onSuccess: () => touch('layouts'),
  });
  return (
    <>
      <h3 className="text-[12px] text-ink3">Layouts</h3>
      <ul>
        {(layouts.data ?? []).map((layout) => (
          <li key={layout.id} className="flex items-center border-b border-hair">
            <button
              type="button"
              className="flex-1 truncate py-1 text-left hover:underline"
              onClick={() => {
                setPreference('columns', layout.columns);
                setPreference('pinned', layout.pinned);
                onSort(layout.sort);
              }}
            >
              {layout.name}
            </button>
            <May role="editor">
              <Step text={`Forget ${layout.name}`} sign="×" onClick={() => drop.mutate(layout.id)} />
            </May>
          </li>
        ))}
      </ul>
      <May role="editor">
        <form
          className="mt-1 flex gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            keep.mutate();
          }}
        >
          <input
            className="field min-w-0 flex-1"
            aria-label="Name of the layout"
            placeholder="keep these columns as"
            value={name}
            maxLength={80}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" busy={keep.isPending} disabled={!name.trim()}>
            Keep
          </Button>
        </form>
      </May>
      <Fault error={keep.error ?? drop.error ?? layouts.error} />
    </>
  );
}

function Step({ text, sign, onClick }: { text: string; sign: string; onClick: (() => void) | null }) {
  return (
    <button
      type="button"
      aria-label={text}
      disabled={!onClick}
      className="min-h-6 min-w-6 text-ink2 hover:text-ink disabled:opacity-30"
      onClick={onClick ?? undefined}
    >
      {sign}
    </button>
  );
}
