import type { MatchModelJson } from '@gray-loom/core/matching';
import type { Operation } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';

type Changes = Omit<Operation, 'target'>[];

/** A contact with everybody who was merged into it; the one that stands for all of them comes first. */
export const everyRecordOf = (client: Queryable, contactId: number) =>
  client.query<{ id: number }>(
    `with recursive one(id) as (
       select public.root_of($1) union all select c.id from one join contact c on c.merged_into = one.id)
     select id from one where id is not null`,
    [contactId],
  );

/** Opportunities that are found by these look-up keys. */
export const opportunitiesByKeys = (client: Queryable, keys: readonly number[]) =>
  client.query<{ id: number }>(
    `select distinct c.id from contact_key k join contact c on c.id = k.contact_id
      where k.key = any($1::bigint[]) and c.kind = 'opportunity' and c.state <> 'erased'`,
    [keys.map(String)],
  );

/** What each version of contacts changed, newest first. */
export const changesOf = (client: Queryable, ids: readonly number[]) =>
  client.query<{ contact_id: number; version: number; changes: Changes | null }>(
    'select contact_id, version, changes from operation where contact_id = any($1::bigint[]) order by contact_id, version desc',
    [ids],
  );

/**
 * Files that they came in by, or would: `waits` where the file is not in yet. Held rows with one of these texts count as theirs, and
 * so does a file that waits and holds one of them.
 */
export const filesOf = (client: Queryable, ids: readonly number[], { patterns, words }: Marks) =>
  client.query<{ id: number; name: string; waits: boolean; is_kept: boolean }>(
    `select i.id, i.name, i.import_run is null as waits, i.let_go_at is null as is_kept from intake i where exists (
       select 1 from import_row r where r.run_id in (i.import_run, i.trial_run)
          and (r.contact_id = any($1::bigint[]) or lower(r.cells::text) like any($2::text[])))
       or i.import_run is null and exists (
         select 1 from file_chunk f, unnest($3::bytea[]) word where f.intake_id = i.id and position(word in f.bytes) > 0)
     order by i.id`,
    [ids, patterns, words.map((word) => Buffer.from(word))],
  );

/** Texts that are theirs alone, by which a row is known that nobody was found for. */
export interface Marks {
  /** As they are written. */
  words: string[];
  /** As patterns of SQL, in small letters. */
  patterns: string[];
}

/** Others who have the same mailbox, here or deleted. */
export const othersAlike = (client: Queryable, keys: readonly number[], ids: readonly number[]) =>
  client.query<{ id: number; name: string; deleted: boolean }>(
    `select distinct c.id, c.display_name as name, c.state = 'deleted' as deleted
       from contact_key k join contact c on c.id = k.contact_id
      where k.key = any($1::bigint[]) and c.state in ('live', 'deleted') and not c.id = any($2::bigint[]) order by c.id limit 20`,
    [keys.map(String), ids],
  );

/** A run under way that holds what it read: it would write down again what is being erased. */
export const readingRun = (client: Queryable) =>
  client.query<{ title: string }>(
    `select title from run where (state = 'running' and kind in ('trial', 'import', 'sync'))
        or (state = 'paused' and kind = 'import') order by id limit 1`,
  );

/** How much there is of them besides their values. */
export const heldBeside = (client: Queryable, ids: readonly number[], patterns: readonly string[]) =>
  client.query<{ activities: number; files: number; rows: number; connections: string[]; permissions: number }>(
    `select (select count(*)::int from activity where holder_id = any($1::bigint[]) and not gone and kind <> 'file') as activities,
            (select count(*)::int from activity where holder_id = any($1::bigint[]) and not gone and kind = 'file') as files,
            (select count(*)::int from import_row r join intake i on i.import_run = r.run_id
              where r.outcome = 'held' and r.settled is null and (r.contact_id = any($1::bigint[]) or lower(r.cells::text) like any($2::text[]))) as rows,
            (select count(*)::int from permission_evidence where contact_id = any($1::bigint[])) as permissions,
            array(select distinct c.name from sync_link l join connection c on c.id = l.connection_id
                   where l.contact_id = any($1::bigint[]) and l.state in ('linked', 'making') order by 1) as connections`,
    [ids, patterns],
  );

/** Which of these look-up keys others have who stay. */
export const keysOfOthers = (client: Queryable, keys: readonly number[], ids: readonly number[]) =>
  client.query<{ key: number }>(
    `select distinct k.key from contact_key k join contact c on c.id = k.contact_id
      where k.key = any($1::bigint[]) and c.state = 'live' and not k.contact_id = any($2::bigint[])`,
    [keys.map(String), ids],
  );

export const writeErasedChanges = (
  client: Queryable,
  rows: readonly { id: number; version: number; changes: Changes }[],
) =>
  client.query(
    `update operation o set changes = n.changes from json_to_recordset($1::json) as n(id bigint, version int, changes jsonb)
      where o.contact_id = n.id and o.version = n.version`,
    [JSON.stringify(rows)],
  );

/** Runs that were about them, alone or among others. */
export const runsAbout = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; kind: string; title: string; detail: string }>(
    `select r.id, r.kind, r.title, r.detail::text as detail from run r where r.contact_id = any($1::bigint[])
        or r.id in (select run_id from operation where contact_id = any($1::bigint[]))
        or r.id in (select s.run_id from activity_step s join activity a on a.id = s.activity_id where a.holder_id = any($1::bigint[]))
        or r.undo_of in (select u.id from run u where u.contact_id = any($1::bigint[]))`,
    [ids],
  );

/** Of these words, those that nobody else who stays is found by. */
export const wordsOfNobody = (client: Queryable, words: readonly string[], ids: readonly number[]) =>
  client.query<{ word: string }>(
    `select w.word from unnest($1::text[]) as w(word) where not exists (
       select 1 from (select contact_id, text from contact_search union all select contact_id, text from contact_search_fresh) s
         join contact c on c.id = s.contact_id and c.state = 'live'
        where s.text like '%' || w.word || '%' and not c.id = any($2::bigint[]))`,
    [words, ids],
  );

/** Frozen models in which one of these words stands. */
export const modelsNaming = (client: Queryable, words: readonly string[]) =>
  client.query<{ version: number; model: MatchModelJson }>(
    `select version, model from match_model where model::text like any($1::text[]) order by version`,
    [words.map((word) => `%${word}%`)],
  );

export const writeModel = (client: Queryable, version: number, model: MatchModelJson) =>
  client.query('update match_model set model = $2 where version = $1', [version, JSON.stringify(model)]);

export const retitleRuns = (client: Queryable, rows: readonly { id: number; title: string; detail: string }[]) =>
  client.query(
    `update run r set title = n.title, detail = n.detail::jsonb
       from json_to_recordset($1::json) as n(id int, title text, detail text) where r.id = n.id`,
    [JSON.stringify(rows)],
  );

/** Contents of the files that are kept on them, by hash. */
export const fileHashes = (client: Queryable, ids: readonly number[]) =>
  client.query<{ hash: string }>(
    `select distinct hash from (
       select a.record->'file'->>'hash' as hash from activity a where a.holder_id = any($1::bigint[])
       union all select s.before->'file'->>'hash' from activity_step s join activity a on a.id = s.activity_id
        where a.holder_id = any($1::bigint[])) h where hash is not null`,
    [ids],
  );

/** What of an activity says nothing of whose it was. */
export const eraseActivities = async (client: Queryable, ids: readonly number[]): Promise<void> => {
  await client.query(
    `update activity_step s set before = jsonb_build_object('kind', s.before->>'kind') from activity a
      where a.id = s.activity_id and a.holder_id = any($1::bigint[]) and s.before is not null`,
    [ids],
  );
  await client.query(
    `update activity set record = jsonb_build_object('kind', kind), what = '', quantity = null, amount = null, currency = null,
            outside_id = '', is_open = false, gone = true
      where holder_id = any($1::bigint[])`,
    [ids],
  );
};

/** Contents that nobody else has. */
export const dropFiles = (client: Queryable, hashes: readonly string[]) =>
  client.query(
    `delete from stored_file f where f.hash = any($1::text[])
        and not exists (select 1 from activity a where a.record->'file'->>'hash' = f.hash)
        and not exists (select 1 from activity_step s where s.before->'file'->>'hash' = f.hash)`,
    [hashes],
  );

/** Pictures that stand with nobody else, now or before. */
export const dropPictures = (client: Queryable, hashes: readonly string[]) =>
  client.query(
    `delete from picture p where p.hash = any($1::text[])
        and not exists (select 1 from contact c where c.record::text like '%' || p.hash || '%')
        and not exists (select 1 from operation o where o.changes::text like '%' || p.hash || '%')
        and not exists (select 1 from account a where a.picture = p.hash)`,
    [hashes],
  );

export const eraseRows = (client: Queryable, ids: readonly number[], patterns: readonly string[], runId: number) =>
  client.query(
    `update import_row set changes = null, issues = null,
            cells = case when cells is null then null else to_jsonb(array_fill('erased'::text, array[jsonb_array_length(cells)])) end,
            settled = case when outcome = 'held' and settled is null then 'dropped' else settled end,
            settled_by = case when outcome = 'held' and settled is null then $3 else settled_by end
      where contact_id = any($1::bigint[]) or lower(cells::text) like any($2::text[])`,
    [ids, patterns, runId],
  );

/** Lets the contents of files go; what became of their rows stays. */
export const letFilesGo = async (client: Queryable, intakeIds: readonly number[]): Promise<void> => {
  await client.query('delete from file_chunk where intake_id = any($1::int[])', [intakeIds]);
  await client.query(
    `update intake set let_go_at = now(), issues = '[]',
            guesses = (select coalesce(jsonb_agg((g - 'brokenLetters') || '{"samples": [], "choices": []}'), '[]')
                         from jsonb_array_elements(guesses) g)
      where id = any($1::int[])`,
    [intakeIds],
  );
};

/** Records over there stay where they are; nothing of what they said is kept, and they are not taken in again. */
export const eraseSyncs = async (client: Queryable, ids: readonly number[]): Promise<void> => {
  const pairs = `(connection_id, outside_id) in (select connection_id, outside_id from sync_link where contact_id = any($1::bigint[]))`;
  await client.query(
    `update sync_change set name = 'Erased contact', before = '[]', after = '[]' where contact_id = any($1::bigint[]) or ${pairs}`,
    [ids],
  );
  await client.query(`delete from sync_conflict where contact_id = any($1::bigint[]) or ${pairs}`, [ids]);
  await client.query('delete from sync_choice where contact_id = any($1::bigint[])', [ids]);
  await client.query(
    `update sync_link set contact_id = 0, state = 'apart', apart = 'erased', base = null, seen = null, intent = null, dirty = false,
            scope = null, candidates = '{}', band = null, asks = null, not_taken = null, unreadable = null, kept = null
      where contact_id = any($1::bigint[])`,
    [ids],
  );
  // A call that may be theirs says no number any more; where nobody else may be meant, it is let go.
  await client.query(
    `update sync_result r set candidates = left_over.ids, number = case when left_over.ids = '{}' then '' else number end,
            state = case when left_over.ids = '{}' then 'letGo' else state end
       from (select connection_id, outside_id, array(select c from unnest(candidates) c where not c = any($1::bigint[])) as ids
             from sync_result where candidates && $1::bigint[]) left_over
      where left_over.connection_id = r.connection_id and left_over.outside_id = r.outside_id`,
    [ids],
  );
  // Who else may be them over there is asked again, and told by what they are blocked by.
  await client.query(
    `update sync_link set dirty = true, candidates = array(select c from unnest(candidates) c where not c = any($1::bigint[]))
      where candidates && $1::bigint[]`,
    [ids],
  );
};

export const eraseMatching = async (
  client: Queryable,
  ids: readonly number[],
  lines: readonly string[],
): Promise<void> => {
  await client.query(
    `update match_group set name = 'Erased contact', state = case when state in ('open', 'later') then 'gone' else state end
      where member_ids && $1::bigint[]`,
    [ids],
  );
  await client.query('delete from match_due where contact_id = any($1::bigint[])', [ids]);
  await client.query('delete from shared_line where line = any($1::text[])', [lines]);
  await client.query(
    `delete from household where member_ids && $1::bigint[]
        and cardinality(array(select m from unnest(member_ids) m where not m = any($1::bigint[]))) < 2`,
    [ids],
  );
  await client.query(
    `update household h set member_ids = n.rest, member_key = array_to_string(n.rest, ',')
       from (select id, array(select m from unnest(member_ids) m where not m = any($1::bigint[]) order by m) as rest from household
              where member_ids && $1::bigint[]) n
      where h.id = n.id`,
    [ids],
  );
};

/** Evidence stands, so that a stop holds; how it was said and of which address goes. That mail came back goes with the address. */
export const erasePermissions = async (
  client: Queryable,
  ids: readonly number[],
  addressKeys: readonly number[],
): Promise<void> => {
  await client.query('delete from returned_mail where address_key = any($1::bigint[])', [addressKeys.map(String)]);
  await client.query(
    `update permission_evidence set address = '', how = 'erased'
      where contact_id = any($1::bigint[]) or (contact_id is null and address_key = any($2::bigint[]))`,
    [ids, addressKeys.map(String)],
  );
};

export const eraseTraces = async (client: Queryable, ids: readonly number[]): Promise<void> => {
  await client.query(
    `update batch_target set before = 'erased' where contact_id = any($1::bigint[]) and before is not null`,
    [ids],
  );
  await client.query(`delete from row_choice where (choice->>'contactId')::bigint = any($1::bigint[])`, [ids]);
  for (const table of ['contact_look', 'contact_search', 'contact_search_fresh', 'contact_key'])
    await client.query(`delete from ${table} where contact_id = any($1::bigint[])`, [ids]);
};

export const insertBlocked = (client: Queryable, runId: number, reason: string, hashes: readonly Buffer[]) =>
  client.query(
    `with one as (insert into blocked_identity (run_id, reason) values ($1, $2) returning id)
     insert into blocked_key (hash, identity_id) select h, one.id from one, unnest($3::bytea[]) h on conflict do nothing`,
    [runId, reason, hashes],
  );

export const erasedPeople = (client: Queryable) =>
  client.query<{
    id: number;
    contact_id: number | null;
    reason: string;
    erased_at: Date;
    by: string | null;
    forms: number;
  }>(
    `select b.id, r.contact_id, b.reason, b.erased_at, a.name as by,
            (select count(*)::int from blocked_key k where k.identity_id = b.id) as forms
       from blocked_identity b join run r on r.id = b.run_id left join account a on a.id = r.actor_id order by b.id desc`,
  );

export const deleteBlocked = (client: Queryable, id: number) =>
  client.query('delete from blocked_identity where id = $1 returning id', [id]);

/** Records over there that are kept out are looked at again: they are new ones, and all of what is there is compared. */
export const lookAgainOverThere = async (client: Queryable): Promise<void> => {
  await client.query(
    `update connection set their_cursor = null where id in (select connection_id from sync_link where apart = 'erased')`,
  );
  await client.query(`delete from sync_link where apart = 'erased'`);
};
