import type { TouchSettings } from '@gray-loom/core/activity';
import type { Condition } from '@gray-loom/core/segments';
import { OF_C, touchSql } from '../../../book/statements/touch';
import type { Queryable } from '../../../db/connect';

export interface ToHearFromRow {
  id: number;
  name: string;
  owner: string;
  last: string | null;
  by: string | null;
  overdue: number;
}

/**
 * People who are to be heard from by today, the longest overdue first, and how many there are. Whoever has a task or an appointment
 * ahead is left out: something is planned with them.
 */
export async function toHearFrom(
  client: Queryable,
  { settings, today, owner, limit }: { settings: TouchSettings; today: string; owner: string | null; limit: number },
): Promise<{ rows: ToHearFromRow[]; total: number }> {
  if (!settings.rhythms.length) return { rows: [], total: 0 };
  const { at, who, overdue } = touchSql(OF_C, settings, today);
  const { rows } = await client.query<ToHearFromRow & { total: number }>(
    `with late as materialized (
       select c.id, o.overdue from contact c cross join lateral (select ${overdue} as overdue) o
       where c.state = 'live' and c.kind in ('person', 'organization') and ($1::text is null or (c.owner = $1 and c.owner <> '')) and o.overdue >= 0
         and not exists (select 1 from public.activity p where p.holder_id = c.id and not p.gone
           and ((p.kind = 'task' and p.is_open) or (p.kind = 'appointment' and p.at >= $2::timestamptz))))
     select c.id, c.display_name as name, c.owner, to_char(${at} at time zone 'UTC', 'YYYY-MM-DD') as last, n.name as by,
       l.overdue, (select count(*)::int from late) as total
     from (select * from late order by overdue desc, id limit $3) l join contact c on c.id = l.id
       left join public.account n on n.id = ${who}
     order by l.overdue desc, l.id`,
    [owner, today, limit],
  );
  return { rows, total: rows[0]?.total ?? 0 };
}

/** How many people one rhythm is of, and how many of them are overdue by it. */
export async function countRhythm(
  client: Queryable,
  settings: TouchSettings,
  today: string,
): Promise<{ people: number; overdue: number }> {
  const { overdue } = touchSql(OF_C, settings, today);
  const { rows } = await client.query<{ people: number; overdue: number }>(
    `select count(o.overdue)::int as people, (count(*) filter (where o.overdue >= 0))::int as overdue
     from contact c cross join lateral (select ${overdue} as overdue) o
     where c.state = 'live' and c.kind in ('person', 'organization')`,
  );
  return rows[0] ?? { people: 0, overdue: 0 };
}

/** Lets everybody be held again against the segments that ask how somebody stands with keeping in touch. */
export const reviewTouchSegments = (client: Queryable) =>
  client.query(
    `update public.segment set reviewed_at = null where condition::text ~ '"@(touch|touchBy|overdue|segment)"'`,
  );

export const segmentsNamed = (client: Queryable, id: number) =>
  client.query<{ name: string; condition: Condition }>('select name, condition from public.segment where id = $1', [
    id,
  ]);
