import type { Queryable } from '../../../db/connect';

export const likeliestAddress = (client: Queryable, postalCode: string, locality: string, country: string) =>
  client.query<{ locality: string; region: string; postalCode: string; country: string }>(
    `select a->>'locality' as locality, coalesce(a->>'region', '') as region, coalesce(a->>'postalCode', '') as "postalCode",
       coalesce(a->>'country', '') as country
     from (select c.record->'f'->'adr'->0->'v' as a from contact c
        where c.state = 'live' and c.record->'f'->'adr' is not null order by c.touched_at desc limit 20000) known
     where a->>'locality' is not null and ($1 = '' or a->>'postalCode' ilike $1 || '%') and ($2 = '' or a->>'locality' ilike $2 || '%')
        and ($3 = '' or a->>'country' = $3)
     group by 1, 2, 3, 4 order by count(*) desc, 1 limit 8`,
    [postalCode, locality, country],
  );
