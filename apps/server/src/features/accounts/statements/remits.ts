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

export const livePeople = (client: Queryable) =>
  client.query<{ n: number }>(`select count(*)::int as n from contact where state = 'live' and kind = 'person'`);
