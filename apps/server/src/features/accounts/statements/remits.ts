import type { RemitParts } from '../../../db/actor';
import type { Queryable } from '../../../db/connect';

const labels = (kind: string) => `coalesce((select array_agg(label) from pick where kind = '${kind}'), '{}')`;

/** What a remit can name. */
export const namesInUse = (client: Queryable) =>
  client.query<RemitParts>(
    `select ${labels('source')} as sources, ${labels('tag')} as tags,
            coalesce((select array_agg(name) from area), '{}') as areas,
            (select coalesce(array_agg(name), '{}') from (
               select name from account union select label from tally where kind = 'owner' and label <> '') o) as owners`,
  );

/** People within a remit; the condition of the views (db/statements/remit-views.ts) with its lists given. */
export const peopleWithin = (client: Queryable, { owners, sources, tags, areas }: RemitParts) =>
  client.query<{ n: number }>(
    `select count(*)::int as n from contact where state = 'live' and kind = 'person'
       and (owner = any ($1::text[]) or source = any ($2::text[]) or tags && $3::text[] or area = any ($4::text[]))`,
    [owners, sources, tags, areas],
  );
