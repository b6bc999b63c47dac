import type { Queryable } from '../../../db/connect';

export const lastChangeOf = (client: Queryable, contactId: number) =>
  client.query<{ name: string | null; at: Date }>(
    `select a.name, r.created_at as at from operation o join run r on r.id = o.run_id left join account a on a.id = r.actor_id
       where o.contact_id = $1 order by o.version desc limit 1`,
    [contactId],
  );
