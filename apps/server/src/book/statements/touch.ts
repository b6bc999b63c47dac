import type { TouchSettings } from '@gray-loom/core/activity';
import type { Queryable } from '../../db/connect';

/** Expressions over one contact: its number, its stage and when it came in. */
export interface OfContact {
  id: string;
  stage: string;
  createdAt: string;
}

const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** Of contact `c`. */
export const OF_C: OfContact = { id: 'c.id', stage: 'c.stage', createdAt: 'c.created_at' };

/**
 * When somebody of ours was last in touch, by whom, and by how many days they are overdue to be heard from; each an expression that is
 * null where there is nothing to say. Agrees with the core (lastTouch, rhythmOf, daysOverdue), a law in conditions.test.ts. Values stand
 * in the text, since an order has no parameters.
 */
export function touchSql(
  { id, stage, createdAt }: OfContact,
  { kinds, rhythms }: TouchSettings,
  today: string,
): { at: string; who: string; overdue: string } {
  const day = quoted(today);
  const touches = `from public.activity a where a.holder_id = ${id} and not a.gone and a.at is not null
    and a.kind = any(array[${kinds.map(quoted).join(', ')}]::text[])
    and a.at < (${day}::timestamp + interval '1 day') at time zone 'UTC'`;
  const at = `(select max(a.at) ${touches})`;
  const who = `(select a.who ${touches} order by a.at desc, a.id desc limit 1)`;
  const every = rhythms.map((one) => {
    const isTheirs =
      'stage' in one
        ? `${stage} = ${quoted(one.stage)}`
        : `exists (select 1 from public.segment_member m where m.segment_id = ${one.segmentId} and m.contact_id = ${id})`;
    return `case when ${isTheirs} then ${one.everyDays} end`;
  });
  const overdue = every.length
    ? `(select ${day}::date - coalesce((${at} at time zone 'UTC')::date, (${createdAt} at time zone 'UTC')::date) - w.every
        from (select least(${every.join(', ')}) as every) w where w.every is not null)`
    : 'null::int';
  return { at, who, overdue };
}

/** When each of these contacts was last heard from, by whom, and how overdue they are. */
export const touchesOf = (pool: Queryable, ids: readonly number[], settings: TouchSettings, today: string) => {
  const { at, who, overdue } = touchSql(OF_C, settings, today);
  return pool.query<{ id: number; day: string | null; who: string | null; overdue: number | null }>(
    `select t.id, to_char(t.at at time zone 'UTC', 'YYYY-MM-DD') as day, n.name as who, t.overdue from (
       select c.id, ${at} as at, ${who} as who, ${overdue} as overdue from public.contact c where c.id = any($1::bigint[])) t
     left join public.account n on n.id = t.who`,
    [ids],
  );
};
