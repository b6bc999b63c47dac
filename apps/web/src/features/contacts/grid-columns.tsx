import { useMemo, type ReactNode } from 'react';
import type { ContactListRow, ContactSort, CountedPick, Lists } from '@gray-loom/wire';
import type { FieldDefinition } from '@gray-loom/core/fields';
import { setPreference, usePreferences } from '../../app/preferences';
import { CHANNEL_WORDS } from '../../ui/channel-words';
import { Tag } from '../../ui/tag';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { When } from '../../ui/when';

export interface GridColumn {
  key: string;
  name: string;
  width: number;
  /** What the list can be ordered by at this column; the first is the usual one. */
  orders: readonly string[];
  cell: (row: ContactListRow, sort: ContactSort) => ReactNode;
}

type Column = Omit<GridColumn, 'width' | 'orders'> & { orders?: readonly string[] };

function builtIn(lists: Lists | undefined): Column[] {
  const colours = new Map((lists?.tags ?? []).map((tag: CountedPick) => [tag.label, tag.colour]));
  return [
    { key: 'name', name: 'Name', orders: ['family', 'given'], cell: (row, sort) => <NameCell row={row} sort={sort} /> },
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
      orders: [],
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
    { key: '@touch', name: 'Last touch', cell: (row) => row.extra['@touch'] ?? '' },
    { key: '@touchBy', name: 'Last touch by', cell: (row) => row.extra['@touchBy'] ?? '' },
    {
      key: '@overdue',
      name: 'Days overdue',
      cell: (row) => <span className="text-alarm">{row.extra['@overdue'] ?? ''}</span>,
    },
    {
      key: 'thread',
      name: 'Last thread',
      orders: ['touched'],
      cell: (row) => (
        <span className="flex items-center gap-1.5 text-ink2">
          <ThreadSwatch kind={row.lastThread} /> <When at={row.touchedAt} />
        </span>
      ),
    },
  ];
}

/** The name, with their picture, and by what they were found where that is something else. */
function NameCell({ row, sort }: { row: ContactListRow; sort: ContactSort }) {
  return (
    <span className="flex items-center gap-1.5">
      {row.photo ? (
        <img src={`/api/pictures/${row.photo}`} alt="" className="size-5 shrink-0 border border-hair object-cover" />
      ) : null}
      <span className="truncate">{sort.startsWith('given') ? row.givenFirst : row.name}</span>
      {row.match ? (
        <span className="min-w-0 flex-1 truncate text-[12px] text-ink2" title={row.match}>
          {row.match}
        </span>
      ) : null}
    </span>
  );
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
export const WIDTH = 130;

function furtherFields(lists: Lists | undefined): FieldDefinition[] {
  return (lists?.fields ?? []).filter((field) => !NEVER.has(field.key) && !field.retired && field.type !== 'picture');
}

export function allColumns(lists: Lists | undefined): Column[] {
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
      return column ? [{ ...column, width, orders: column.orders ?? [column.key] }] : [];
    });
    const own = new Set(furtherFields(lists).map((field) => field.key));
    return {
      columns,
      extra: columns.flatMap(({ key }) => (own.has(key) || key.startsWith('@') ? [key] : [])).join(','),
    };
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
