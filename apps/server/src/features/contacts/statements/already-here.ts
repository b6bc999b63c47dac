import type { ContactRecord } from '@gray-loom/core/model';
import type { Queryable } from '../../../db/connect';
import { selectRecords } from '../../../db/record-codec';

export const newestModel = (client: Queryable) =>
  client.query<{ version: number | null }>('select max(version) as version from match_model');

export const liveOrganization = (client: Queryable, key: string) =>
  client.query<{ id: number; name: string }>(
    `select c.id, c.display_name as name from contact_key k join contact c on c.id = k.contact_id
     where k.key = $1 and c.kind = 'organization' and c.state = 'live' order by c.id`,
    [key],
  );

/** People whose folded family and given name begin so, as many as are looked at. */
export const peopleBeginning = (client: Queryable, family: string, given: string, limit: number) => {
  const behind = family.slice(0, -1) + String.fromCharCode(family.charCodeAt(family.length - 1) + 1);
  return selectRecords<{ id: number; record: ContactRecord }>(
    client,
    `select id, record from contact where state = 'live' and kind = 'person'
       and sort_family >= $1 and sort_family < $2 and sort_family like '% ' || $3 || '%' order by sort_family, id limit $4`,
    [family, behind, given, limit],
  );
};
