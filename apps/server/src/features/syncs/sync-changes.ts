import type { Catalogue } from '@gray-loom/core/fields';
import {
  sayApart,
  type Capabilities,
  type Link,
  type OutsideRecord,
  type PairEvent,
  type PairWrite,
  type PlannedChange,
  type SyncSetup,
} from '@gray-loom/core/syncing';
import type { Database, Tx } from '../../db/connect';
import type { SyncChangeKind } from '../../db/schema';
import { insertSyncChanges, namesOf } from './statements/sync-changes';

/** What names the rows of a report. */
interface ReportOptions {
  connectionId: number;
  runId: number;
  setup: SyncSetup;
  capabilities: Capabilities;
  catalogue: Catalogue;
}

/** One row of the report of a run, and of the story of a contact. */
export interface ChangeRow {
  outsideId: string;
  contactId: number;
  name: string;
  side: 'here' | 'there';
  field: string;
  kind: SyncChangeKind;
  before: PlannedChange['before'];
  after: PlannedChange['after'];
}

/** Name of a line as the report has it. */
export function fieldName(
  { lines }: SyncSetup,
  capabilities: Capabilities,
  catalogue: Catalogue,
  lineId: string,
): string {
  const line = lines.find(({ id }) => id === lineId);
  if (!line) return lineId === 'labels' ? 'Labels' : '';
  if (line.field === 'name') return 'Name';
  if (line.field) return catalogue.nameOf(line.field);
  return capabilities.fields.find(({ key }) => key === line.outside)?.name ?? line.outside;
}

/** How a record over there is called, for reports. */
export function nameThere(record: OutsideRecord | null, catalogue: Catalogue): string {
  if (!record) return '';
  const text = (key: string) => String(record.fields[key]?.[0]?.v ?? '');
  const whole = [text('given'), text('family')].filter(Boolean).join(' ') || text('name') || text('org');
  return whole || text('email') || text('tel') || catalogue.nameOf('fullName');
}

export async function insertChanges(
  client: Tx['client'] | Database['pool'],
  { connectionId, runId }: { connectionId: number; runId: number },
  rows: readonly ChangeRow[],
  planned = false,
): Promise<void> {
  if (!rows.length) return;
  await insertSyncChanges(client, connectionId, runId, JSON.stringify(rows), planned);
}

/** What happened to a pair as a whole, as a row of the report; of one that is no longer in step with the reason. */
export function eventRow(
  of: Pick<ChangeRow, 'outsideId' | 'contactId' | 'name'>,
  event: PairEvent,
  link: Pick<Link, 'apart' | 'notTaken' | 'unreadable'>,
): ChangeRow {
  return {
    ...of,
    side: EVENT_SIDE[event] ?? 'here',
    field: '',
    kind: event,
    before: [],
    after: saidOf(event, link),
  };
}

const EVENT_SIDE: Record<string, 'here' | 'there'> = {
  madeThere: 'there',
  removedThere: 'there',
  refused: 'there',
  unreadable: 'there',
};

function saidOf(
  event: PairEvent,
  { apart, notTaken, unreadable }: Pick<Link, 'apart' | 'notTaken' | 'unreadable'>,
): ChangeRow['after'] {
  const text = { apart: apart && sayApart(apart), refused: notTaken, unreadable } as Partial<
    Record<PairEvent, string | null>
  >;
  return text[event] ? [{ v: text[event] }] : [];
}

export async function writeChanges(
  tx: Tx,
  options: ReportOptions,
  writes: readonly { write: PairWrite; contactId: number }[],
): Promise<void> {
  const { setup, capabilities, catalogue } = options;
  const told = writes.filter(({ write }) => write.event ?? write.changes.length);
  if (!told.length) return;
  const { rows } = await namesOf(
    tx.client,
    told.map(({ contactId }) => contactId),
  );
  const names = new Map(rows.map((row) => [row.id, row.display_name]));
  const changes = told.flatMap(({ write, contactId }): ChangeRow[] => {
    const of = {
      outsideId: write.link.outsideId,
      contactId,
      name: names.get(contactId) ?? nameThere(write.link.seen, catalogue),
    };
    // Whoever is new on a side is told of as a whole.
    const whole = write.event === 'madeHere' || write.event === 'madeThere';
    return [
      ...(write.event ? [eventRow(of, write.event, write.link)] : []),
      ...(whole
        ? []
        : write.changes.map((change) => ({
            ...of,
            side: change.side,
            field: fieldName(setup, capabilities, catalogue, change.line),
            kind: change.kind,
            before: change.before,
            after: change.after,
          }))),
    ];
  });
  await insertChanges(tx.client, options, changes);
}
