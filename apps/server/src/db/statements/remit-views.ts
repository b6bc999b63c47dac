import { createHash } from 'node:crypto';
import type pg from 'pg';

/** As in connect.ts, which stands on this. */
type Queryable = Pick<pg.Pool, 'query'>;

/** Where the views are that an account with a remit reads instead of the tables; before `public` in its search path. */
export const REMIT_SCHEMA = 'remit';

/** The account whose remit holds on a connection. */
export const ACCOUNT_SETTING = 'loom.account';

const ME = `nullif(current_setting('${ACCOUNT_SETTING}', true), '')::int`;
const mine = (column: string) => `(select ${column} from public.account_remit where account_id = ${ME})`;

/** The one condition: whether a contact is within the remit of the account. Each list is read once for a statement. */
const holds = (c: string) =>
  `(${c}.owner = any (${mine('owners')}::text[]) or ${c}.source = any (${mine('sources')}::text[])
    or ${c}.area = any (${mine('areas')}::text[]) or ${c}.tags && ${mine('tags')}::text[])`;

/**
 * An opportunity is seen with one of the contacts it is about; what was merged, with who took it in. Both are rare, so that they are a
 * function: the planner, which meets the view several times in a statement, has little to do with it.
 */
const CONTACT = `select c.* from public.contact c where
  case when c.merged_into is null and c.kind <> 'opportunity' then ${holds('c')} else public.seen_through(c.id) end`;

const SEEN_THROUGH = `create or replace function public.seen_through(bigint) returns boolean language plpgsql stable as $$
  begin
    return exists (
      select 1 from public.contact c, lateral (
        select public.root_of(c.id) as id where c.merged_into is not null
        union all
        select public.root_of((about->'v'->>'to')::bigint)
          from json_array_elements(case when c.merged_into is null then c.record->'f'->'opportunityContact' end) about
        union all
        select c.id where c.merged_into is null and c.record->'f'->'opportunityContact' is null) through
      join public.contact t on t.id = through.id
      where c.id = $1 and ${holds('t')});
  end $$`;

const seen = (id: string) => `exists (select 1 from ${REMIT_SCHEMA}.contact seen where seen.id = ${id})`;
const members = (list: string) =>
  `from unnest(${list}) member left join ${REMIT_SCHEMA}.contact seen on seen.id = member`;

/** Kept counts, and of opportunities, which are few, what is counted now. */
const TALLY = `select kind, label, who, n from public.remit_tally where account_id = ${ME}
  union all
  select counted.kind, counted.label, c.kind, count(*)::int from ${REMIT_SCHEMA}.contact c cross join lateral (
    values ('live', ''), ('source', c.source), ('stage', c.stage), ('owner', c.owner), ('area', c.area)
    union all select 'tag', tag from unnest(c.tags) tag) counted(kind, label)
  where c.state = 'live' and c.kind = 'opportunity' and (counted.label <> '' or counted.kind = 'live')
  group by counted.kind, counted.label, c.kind`;

/** Columns of a table, some of them as something else. */
function withOther(columns: readonly string[], others: Record<string, string>): string {
  return columns.map((column) => (others[column] ? `${others[column]} as ${column}` : `g.${column}`)).join(', ');
}

/**
 * Views named like the tables they stand for. What is not named here holds no values of contacts: keys and search texts lead to
 * contacts and are read with them, pick-lists and set-ups are everybody's. Rows are written through them where they are seen;
 * what hangs on a contact is written to `public` (book/).
 */
function viewsOf(groupColumns: readonly string[]): [name: string, text: string][] {
  const own = (table: string, run: string) =>
    `select t.* from public.${table} t where exists (select 1 from public.run r where r.id = t.${run} and r.actor_id = ${ME})`;
  const ofContact = (table: string) => `select t.* from public.${table} t where ${seen('t.contact_id')}`;
  const ofIntake = (table: string) =>
    `select t.* from public.${table} t where exists (select 1 from public.intake i where i.id = t.intake_id and i.actor_id = ${ME})`;
  return [
    ['contact', CONTACT],
    ['operation', ofContact('operation')],
    ['contact_facts', ofContact('contact_facts')],
    ['batch_target', ofContact('batch_target')],
    ['segment_member', ofContact('segment_member')],
    ['segment_event', ofContact('segment_event')],
    ['activity', `select t.* from public.activity t where ${seen('t.holder_id')}`],
    [
      'activity_step',
      `select t.* from public.activity_step t where exists (select 1 from ${REMIT_SCHEMA}.activity a where a.id = t.activity_id)`,
    ],
    [
      'permission_evidence',
      `select t.* from public.permission_evidence t where case when t.contact_id is not null then ${seen('t.contact_id')}
         else exists (select 1 from public.contact_key k where k.key = t.address_key and ${seen('k.contact_id')}) end`,
    ],
    [
      'returned_mail',
      `select t.* from public.returned_mail t
       where exists (select 1 from public.contact_key k where k.key = t.address_key and ${seen('k.contact_id')})`,
    ],
    [
      'run',
      `select r.* from public.run r where case when r.contact_id is not null then ${seen('r.contact_id')}
         else r.actor_id = ${ME} or exists (select 1 from ${REMIT_SCHEMA}.operation o where o.run_id = r.id) end`,
    ],
    ['intake', `select i.* from public.intake i where i.actor_id = ${ME}`],
    ['file_chunk', ofIntake('file_chunk')],
    ['row_choice', ofIntake('row_choice')],
    ['import_row', own('import_row', 'run_id')],
    [
      'match_group',
      `select ${withOther(groupColumns, {
        name: `case when (select bool_and(seen.id is not null) ${members('g.member_ids')}) then g.name
           else (select min(seen.list_name) ${members('g.member_ids')}) end`,
      })} from public.match_group g where exists (select 1 ${members('g.member_ids')} where seen.id is not null)`,
    ],
    [
      'household',
      `select h.* from public.household h where (select bool_and(seen.id is not null) ${members('h.member_ids')})`,
    ],
    ['sync_link', ofContact('sync_link')],
    ['sync_conflict', ofContact('sync_conflict')],
    ['sync_change', ofContact('sync_change')],
    ['sync_choice', ofContact('sync_choice')],
    ['tally', TALLY],
  ];
}

const ROOT_OF = `create or replace function public.root_of(bigint) returns bigint language sql stable as $$
  with recursive up(id, into_id) as (
    select id, merged_into from public.contact where id = $1
    union all select c.id, c.merged_into from up join public.contact c on c.id = up.into_id)
  select id from up where into_id is null $$`;

const columnsOf = (client: Queryable, table: string) =>
  client.query<{ name: string }>(
    `select attname as name from pg_attribute where attrelid = $1::regclass and attnum > 0 and not attisdropped order by attnum`,
    [`public.${table}`],
  );

/** Everything that the views are made of, as one word: another one asks for making them anew. */
const shapeOf = (client: Queryable) =>
  client.query<{ shape: string }>(
    `select string_agg(attrelid::regclass || '.' || attname, ' ' order by attrelid, attnum) as shape
       from pg_attribute join pg_class c on c.oid = attrelid
      where c.relnamespace = 'public'::regnamespace and c.relkind = 'r' and attnum > 0 and not attisdropped`,
  );

const madeOf = (client: Queryable) =>
  client.query<{ made: string | null }>(
    `select obj_description(oid, 'pg_namespace') as made from pg_namespace where nspname = '${REMIT_SCHEMA}'`,
  );

/** The time of the last migration that was done, in ms since 1970 UTC; null in a database without any. */
export async function migrationsDone(client: Queryable): Promise<{ rows: { last: number | null }[] }> {
  const { rows } = await client.query<{ known: boolean }>(
    `select to_regclass('drizzle.__drizzle_migrations') is not null as known`,
  );
  return rows[0]?.known
    ? client.query<{ last: number | null }>('select max(created_at) as last from drizzle.__drizzle_migrations')
    : { rows: [] };
}

export const dropRemitViews = (client: Queryable) => client.query(`drop schema if exists ${REMIT_SCHEMA} cascade`);

/** Makes the views, where the tables or the views are others than they were. */
export async function makeRemitViews(client: Queryable): Promise<void> {
  const { rows: columns } = await columnsOf(client, 'match_group');
  const { rows: shapes } = await shapeOf(client);
  const views = viewsOf(columns.map(({ name }) => name));
  const hash = createHash('md5')
    .update(JSON.stringify([views, ROOT_OF, SEEN_THROUGH, shapes]))
    .digest('hex');
  const { rows: before } = await madeOf(client);
  if (before[0]?.made === hash) return;
  await client.query(
    [
      'begin',
      `drop schema if exists ${REMIT_SCHEMA} cascade`,
      ROOT_OF,
      SEEN_THROUGH,
      `create schema ${REMIT_SCHEMA}`,
      ...views.map(([name, text]) => `create view ${REMIT_SCHEMA}.${name} as ${text}`),
      `comment on schema ${REMIT_SCHEMA} is '${hash}'`,
      'commit',
    ].join(';\n'),
  );
}

/** Sets whose remit holds on a connection. */
export const setAccount = (client: Queryable, accountId: number) =>
  client.query(`select set_config('${ACCOUNT_SETTING}', $1, false)`, [String(accountId)]);
