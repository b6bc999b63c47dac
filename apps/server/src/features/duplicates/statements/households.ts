import { type ContactRecord } from '@gray-loom/core/model';
import { selectRecords } from '../../../db/record-codec';
import type { Queryable } from '../../../db/connect';

export const membersWithRoots = (client: Queryable, ids: readonly number[]) =>
  selectRecords<{
    asked: number;
    id: number;
    display_name: string;
    email: string;
    tel: string;
    record: ContactRecord;
  }>(
    client,
    `with recursive up(asked, id) as (
       select a, a from unnest($1::bigint[]) as w(a)
       union all select u.asked, c.merged_into from up u join contact c on c.id = u.id where c.merged_into is not null)
     select u.asked, c.id, c.display_name, c.email, c.tel, c.record from up u join contact c on c.id = u.id
     where c.state = 'live' and c.kind = 'person'`,
    [ids],
  );

export const countProposed = (client: Queryable) =>
  client.query<{ n: number }>(`select count(*)::int as n from household where state = 'proposed'`);

export const homesOfPeople = (client: Queryable, ids: readonly number[], exceptId: number | null) =>
  client.query<{ id: number }>(
    `with recursive taken(root, id) as (
       select id, id from unnest($1::bigint[]) as asked(id)
       union select t.root, c.id from contact c join taken t on c.merged_into = t.id)
     select distinct h.id from taken t join household h on h.member_ids @> array[t.id] and h.state = 'kept' and h.id is distinct from $2`,
    [ids, exceptId],
  );

export const deleteSameHousehold = (client: Queryable, memberKey: string, exceptId: number) =>
  client.query('delete from household where member_key = $1 and id <> $2', [memberKey, exceptId]);

export const homesWithMembers = (client: Queryable, contactIds: readonly number[]) =>
  client.query<{
    root: number;
    id: number;
    name: string;
    state: 'kept';
    member_key: string;
    member_ids: number[];
  }>(
    `with recursive taken(root, id) as (
       select id, id from unnest($1::bigint[]) as asked(id)
       union select t.root, c.id from contact c join taken t on c.merged_into = t.id)
     select distinct on (t.root) t.root, h.id, h.name, h.state, h.member_key, h.member_ids
     from taken t join household h on h.member_ids @> array[t.id] and h.state = 'kept' order by t.root, h.id`,
    [contactIds],
  );
