import type { Link } from '@gray-loom/core/syncing';
import type { Database, Tx } from '../../../db/connect';

const LINK_COLUMNS =
  'outside_id, contact_id, state, apart, version, base, seen, intent, dirty, scope, candidates, band, asks, not_taken, unreadable, kept, waits_for';

interface LinkRow {
  outside_id: string;
  contact_id: number;
  state: Link['state'];
  apart: Link['apart'];
  version: string;
  base: Link['base'];
  seen: Link['seen'];
  intent: Link['intent'];
  dirty: boolean;
  scope: string | null;
  candidates: number[];
  band: Link['band'];
  asks: Link['asks'];
  not_taken: string | null;
  unreadable: string | null;
  kept: string | null;
  waits_for: string | null;
}

const linkOf = (row: LinkRow): Link => ({
  outsideId: row.outside_id,
  contactId: row.contact_id,
  state: row.state,
  apart: row.apart,
  version: row.version,
  base: row.base,
  seen: row.seen,
  intent: row.intent,
  dirty: row.dirty,
  scope: row.scope,
  candidates: row.candidates.map(Number),
  band: row.band,
  asks: row.asks,
  notTaken: row.not_taken,
  unreadable: row.unreadable,
  kept: row.kept,
  waitsFor: row.waits_for,
});

/** Links of a connection that meet a condition; its parameters begin with $2. */
export async function selectLinks(
  client: Database['pool'] | Tx['client'],
  connectionId: number,
  where: string,
  values: unknown[] = [],
): Promise<Link[]> {
  const { rows } = await (client as Database['pool']).query<LinkRow>(
    `select ${LINK_COLUMNS} from sync_link where connection_id = $1 and ${where}`,
    [connectionId, ...values],
  );
  return rows.map(linkOf);
}

/** The link at a place and those that wait for it, locked until the transaction is over. */
export async function lockedLinks(tx: Tx, connectionId: number, place: string): Promise<Link[]> {
  const at = '(outside_id = $2 or waits_for = $2)';
  return selectLinks(tx.client, connectionId, `${at} order by outside_id for update`, [place]);
}

/** Writes links as they are given; of one that is named twice the last counts. */
export async function writeLinks(tx: Tx, connectionId: number, links: readonly Link[]): Promise<void> {
  if (!links.length) return;
  const last = new Map(links.map((link) => [link.outsideId, link]));
  const rows = [...last.values()].map((link) => ({
    outside_id: link.outsideId,
    contact_id: link.contactId,
    state: link.state,
    apart: link.apart,
    version: link.version,
    base: link.base,
    seen: link.seen,
    intent: link.intent,
    dirty: link.dirty,
    scope: link.scope,
    candidates: link.candidates,
    band: link.band,
    asks: link.asks,
    not_taken: link.notTaken,
    unreadable: link.unreadable,
    kept: link.kept,
    waits_for: link.waitsFor,
  }));
  const names = LINK_COLUMNS.split(', ');
  // Read as text, JSON null would be a value of its own.
  await tx.client.query(
    `insert into sync_link (connection_id, ${LINK_COLUMNS}, updated_at)
       select $1, ${names.map((name) => (['base', 'seen', 'intent'].includes(name) ? `nullif(l.${name}::text, 'null')::json` : `l.${name}`)).join(', ')}, now()
       from json_to_recordset($2::json) as l(outside_id text, contact_id bigint, state text, apart text, version text, base json, seen json,
         intent json, dirty boolean, scope text, candidates bigint[], band text, asks text, not_taken text, unreadable text, kept text, waits_for text)
       on conflict (connection_id, outside_id) do update set ${names
         .slice(1)
         .map((name) => `${name} = excluded.${name}`)
         .join(', ')}, updated_at = now()`,
    [connectionId, JSON.stringify(rows)],
  );
}

/** The record over there that is kept in step with a contact, or with one that was merged into it. */
export const recordInStep = (client: Database['pool'] | Tx['client'], connectionId: number, contactId: number) =>
  (client as Database['pool']).query<{ outside_id: string }>(
    `with recursive taken(id) as (select $2::bigint union select c.id from contact c join taken t on c.merged_into = t.id)
     select outside_id from sync_link where connection_id = $1 and state = 'linked' and contact_id in (select id from taken)
     order by contact_id <> $2, outside_id limit 1`,
    [connectionId, contactId],
  );
