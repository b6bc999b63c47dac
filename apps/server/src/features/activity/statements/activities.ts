import type { StoredActivity } from '../../../db/schema';
import type { ActivityEntry } from '@gray-loom/wire';
import type { Queryable } from '../../../db/connect';

export interface EntryRow {
  id: number;
  version: number;
  contact_id: number;
  name: string;
  record: StoredActivity;
  by: string | null;
  thread_kind: ActivityEntry['thread']['kind'];
  thread_name: string;
  run_id: number;
  written_at: Date;
}

const ENTRY = `a.id, a.version, a.holder_id as contact_id, c.display_name as name, a.record, w.name as by, t.kind as thread_kind, t.name as thread_name,
  a.run_id, r.created_at as written_at`;
const JOINED = `join contact c on c.id = a.holder_id join public.run r on r.id = a.run_id join thread t on t.id = r.thread_id
  left join account w on w.id = r.actor_id`;

/** The stream of some contacts, the latest first; what has no day yet stands before everything. */
export const streamOf = (
  client: Queryable,
  contactIds: readonly number[],
  kinds: readonly string[],
  { skip, limit }: { skip: number; limit: number },
) =>
  client.query<EntryRow>(
    `select ${ENTRY} from (
       select * from activity where holder_id = any($1::bigint[]) and not gone and (cardinality($2::text[]) = 0 or kind = any($2::text[]))
       order by at desc nulls first, id desc offset $3 limit $4) a ${JOINED}
     order by a.at desc nulls first, a.id desc`,
    [contactIds, kinds, skip, limit],
  );

export const countsOfStream = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{ kind: string; n: number }>(
    'select kind, count(*)::int as n from activity where holder_id = any($1::bigint[]) and not gone group by kind',
    [contactIds],
  );

export const entriesByIds = (client: Queryable, ids: readonly number[]) =>
  client.query<EntryRow>(`select ${ENTRY} from activity a ${JOINED} where a.id = any($1::bigint[])`, [ids]);

export const accountNames = (client: Queryable, ids: readonly number[]) =>
  client.query<{ id: number; name: string; retired: boolean }>(
    'select id, name, retired_at is not null as retired from account where id = any($1::int[])',
    [ids],
  );

export const contactNames = (client: Queryable, ids: readonly number[]) =>
  client.query<{ asked: number; id: number; name: string }>(
    `select a as asked, c.id, c.display_name as name from unnest($1::bigint[]) a join contact c on c.id = coalesce(public.root_of(a), a)`,
    [ids],
  );

export const stepsOf = (client: Queryable, id: number) =>
  client.query<{ version: number; at: Date; by: string | null; before: StoredActivity | null }>(
    `select s.version, r.created_at as at, w.name as by, s.before from activity_step s join public.run r on r.id = s.run_id
       left join account w on w.id = r.actor_id where s.activity_id = $1 order by s.version desc limit 200`,
    [id],
  );

/** Appointments of colleagues that lie over a stretch of time, by their names; one without an end takes an hour, a day the whole of it. */
export const bookedAt = (client: Queryable, accounts: readonly number[], from: string, to: string, exceptId: number) =>
  client.query<{ who: string; what: string }>(
    `select w.name as who, a.record->>'what' as what from public.activity a
       join account w on w.id = any($1::int[])
         and (a.who = w.id or a.record->'colleagues' @> to_jsonb(w.id))
     where a.kind = 'appointment' and not a.gone and a.id <> $4 and a.at < $3::timestamptz
       and a.at > $2::timestamptz - interval '31 days'
       and coalesce((a.record->>'end')::timestamptz + case when length(a.record->>'end') = 10 then interval '1 day' else interval '0' end,
         a.at + case when length(a.record->>'at') = 10 then interval '1 day' else interval '1 hour' end) > $2::timestamptz
     order by 1, a.at limit 20`,
    [accounts, from, to, exceptId],
  );

export const stageNamed = (client: Queryable, label: string) =>
  client.query<{ id: number }>(`select id from pick where kind = 'stage' and label = $1`, [label]);

/** Tells accounts whose name stands behind an @ in a text, and did not before; whoever wrote it is told nothing. */
export const addNamed = (
  client: Queryable,
  { runId, id, by, text, before }: { runId: number; id: number; by: number | null; text: string; before: string },
) =>
  client.query(
    `insert into handed (to_account, by_account, run_id, count, activity_id)
     select w.id, $1::int, $2::int, 1, $3::bigint from account w
     where w.retired_at is null and w.id is distinct from $1::int and position('@' || lower(w.name) in lower($4::text)) > 0
       and position('@' || lower(w.name) in lower($5::text)) = 0`,
    [by, runId, id, text, before],
  );
