import { Popover } from 'radix-ui';
import { useMemo, type ReactNode } from 'react';
import type { ContactListRow, ContactSort, CountedPick, Lists } from '@gray-loom/wire';
import type { FieldDefinition } from '@gray-loom/core/fields';
import { setPreference, usePreferences } from '../../app/preferences';
import { Tag } from '../../ui/tag';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { When } from '../../ui/when';

export interface GridColumn {
  key: string;
  name: string;
  width: number;
  cell: (row: ContactListRow, sort: ContactSort) => ReactNode;
}

const CHANNEL_WORDS: Record<string, string> = {
  email: 'e-mail',
  text: 'texts',
  call: 'calls',
  voicemail: 'voicemail',
  post: 'post',
};

type Column = Omit<GridColumn, 'width'>;

function builtIn(lists: Lists | undefined): Column[] {
  const colours = new Map((lists?.tags ?? []).map((tag: CountedPick) => [tag.label, tag.colour]));
  return [
    { key: 'name', name: 'Name', cell: (row, sort) => (sort === 'given' ? row.givenFirst : row.name) },
    { key: 'email', name: 'E-mail', cell: (row) => row.email },
    { key: 'tel', name: 'Phone', cell: (row) => row.tel },
    { key: 'organization', name: 'Organization', cell: (row) => row.organization },
    { key: 'stage', name: 'Stage', cell: (row) => row.stage },
    { key: 'source', name: 'Source', cell: (row) => row.source },
    { key: 'owner', name: 'Owner', cell: (row) => row.owner },
    { key: 'area', name: 'Area', cell: (row) => row.area },
    {
      key: 'tags',
      name: 'Tags',
      cell: (row) => (
        <span className="flex gap-1 overflow-hidden">
          {row.tags.map((tag) => (
            <Tag key={tag} label={tag} colour={colours.get(tag) ?? 0} />
          ))}
        </span>
      ),
    },
    {
      key: 'stops',
      name: 'Opted out',
      cell: (row) =>
        row.stops.length ? (
          <span className="text-alarm" title={`Wants no ${row.stops.map((one) => CHANNEL_WORDS[one]).join(', ')}`}>
            {row.stops.map((one) => CHANNEL_WORDS[one]).join(', ')}
          </span>
        ) : (
          ''
        ),
    },
    { key: 'completeness', name: 'Complete', cell: (row) => `${row.completeness}%` },
    {
      key: 'thread',
      name: 'Last thread',
      cell: (row) => (
        <span className="flex items-center gap-1.5 text-ink2">
          <ThreadSwatch kind={row.lastThread} /> <When at={row.touchedAt} />
        </span>
      ),
    },
  ];
}

const NEVER = new Set([
  'tags',
  'stage',
  'source',
  'owner',
  'email',
  'tel',
  'organization',
  'fullName',
  'photo',
  'related',
]);
const WIDTH = 130;

function furtherFields(lists: Lists | undefined): FieldDefinition[] {
  return (lists?.fields ?? []).filter((field) => !NEVER.has(field.key) && !field.retired && field.type !== 'picture');
}

function allColumns(lists: Lists | undefined): Column[] {
  return [
    ...builtIn(lists),
    ...furtherFields(lists).map((field): Column => ({
      key: field.key,
      name: field.name,
      cell: (row) => row.extra[field.key] ?? '',
    })),
  ];
}

/** The columns chosen in this browser; one that was retired meanwhile is passed over. */
export function useColumns(lists: Lists | undefined): { columns: GridColumn[]; extra: string } {
  const chosen = usePreferences().columns;
  return useMemo(() => {
    const all = new Map(allColumns(lists).map((column) => [column.key, column]));
    const columns = chosen.flatMap(({ key, width }) => {
      const column = all.get(key);
      return column ? [{ ...column, width }] : [];
    });
    const own = new Set(furtherFields(lists).map((field) => field.key));
    return { columns, extra: columns.flatMap(({ key }) => (own.has(key) ? [key] : [])).join(',') };
  }, [chosen, lists]);
}

export function setColumnWidth(columns: readonly { key: string; width: number }[], key: string, width: number): void {
  setPreference(
    'columns',
    columns.map((column) => ({
      key: column.key,
      width: column.key === key ? Math.max(56, Math.min(600, Math.round(width))) : column.width,
    })),
  );
}

/** Which columns the grid shows and in which order. */
export function ColumnChooser({ lists }: { lists: Lists | undefined }) {
  const chosen = usePreferences().columns;
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
          className="z-50 max-h-[70vh] w-72 overflow-y-auto border border-strong bg-page p-3 shadow-sm"
          aria-label="Columns"
        >
          <h3 className="text-[12px] text-ink3">Shown, from left to right</h3>
          <ul>
            {shown.map(({ key }) => {
              const at = chosen.findIndex((column) => column.key === key);
              const name = nameOf.get(key) ?? key;
              return (
                <li key={key} className="flex items-center gap-1 border-b border-hair">
                  <span className="flex-1 truncate py-1">{name}</span>
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
