import type { RunThread } from '@gray-loom/wire';
import type { Queryable } from '../../db/connect';

export const selectRunThreads = (client: Queryable, runIds: readonly number[]) =>
  client.query<{
    id: number;
    kind: RunThread['kind'];
    name: string;
    look: number | null;
    title: string;
    actor: string | null;
    at: Date;
  }>(
    `select r.id, t.kind, t.name, c.look, r.title, a.name as actor, r.created_at as at
     from public.run r join thread t on t.id = r.thread_id left join connection c on c.thread_id = t.id left join account a on a.id = r.actor_id
        where r.id = any($1::int[])`,
    [runIds],
  );
