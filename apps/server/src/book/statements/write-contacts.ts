import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../db/record-codec';
import type { Queryable } from '../../db/connect';

export interface LoadedContact {
  id: number;
  version: number;
  record: ContactRecord;
}

export const nextContactIds = (client: Queryable, count: number) =>
  client.query<{ id: number }>(`select nextval('contact_id_seq') as id from generate_series(1, $1)`, [count]);

export const lockRecords = (client: Queryable, ids: readonly number[]) =>
  selectRecords<LoadedContact>(
    client,
    'select id, version, record from contact where id = any($1::bigint[]) order by id for update',
    [ids],
  );

export const updateContacts = (client: Queryable, updates: string, runId: number, at: string | null) =>
  client.query(
    `update public.contact c set version = u.version, kind = u.kind, state = u.state, merged_into = u.merged_into, display_name = u.display_name,
       list_name = u.list_name, sort_family = u.sort_family, sort_given = u.sort_given, email = u.email, tel = u.tel, organization = u.organization,
       stage = u.stage, source = u.source, owner = u.owner, area = u.area, tags = u.tags, completeness = u.completeness,
       record = u.record, last_run = $2, touched_at = coalesce($3::timestamptz, now())
     from json_to_recordset($1::json) as u(id bigint, version int, kind text, state text, merged_into bigint, display_name text,
       list_name text, sort_family text, sort_given text, email text, tel text, organization text, stage text, source text, owner text, area text,
       tags text[], completeness smallint, record json)
     where c.id = u.id`,
    [updates, runId, at],
  );

export const updateTexts = (client: Queryable, ids: readonly number[], texts: readonly string[], table: string) =>
  client.query(
    `update ${table} s set text = u.text from unnest($1::bigint[], $2::text[]) as u(id, text) where s.contact_id = u.id`,
    [ids, texts],
  );

export const insertFreshTexts = (client: Queryable, ids: readonly number[], texts: readonly string[]) =>
  client.query(
    `insert into contact_search_fresh (contact_id, text) select * from unnest($1::bigint[], $2::text[])
     on conflict (contact_id) do update set text = excluded.text`,
    [ids, texts],
  );

export const deleteTexts = (client: Queryable, ids: readonly number[]) =>
  client.query('delete from contact_search where contact_id = any($1::bigint[])', [ids]);

export const deleteKeys = (client: Queryable, columns: unknown[]) =>
  client.query(
    'delete from contact_key k using unnest($1::bigint[], $2::bigint[]) as d(key, contact_id) where k.key = d.key and k.contact_id = d.contact_id',
    columns,
  );

export const insertKeys = (client: Queryable, columns: unknown[]) =>
  client.query(
    'insert into contact_key (key, contact_id) select * from unnest($1::bigint[], $2::bigint[]) on conflict do nothing',
    columns,
  );

export const writeFacts = (client: Queryable, facts: string) =>
  client.query(
    `insert into public.contact_facts (contact_id, who, facts)
     select contact_id, who, facts from json_to_recordset($1::json) as u(contact_id bigint, who smallint, facts jsonb)
     on conflict (contact_id) do update set who = excluded.who, facts = excluded.facts`,
    [facts],
  );

/** Contacts that conditions could not see: they were written before there were facts. */
export const contactsWithoutFacts = (client: Queryable, limit: number) =>
  selectRecords<LoadedContact>(
    client,
    `select c.id, c.version, c.record from public.contact c
     where c.kind <> 'opportunity' and not exists (select 1 from public.contact_facts f where f.contact_id = c.id)
     order by c.id limit ${limit} for update of c`,
    [],
  );
