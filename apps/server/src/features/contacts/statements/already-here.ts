import type { Queryable } from '../../../db/connect';

export const newestModel = (client: Queryable) =>
  client.query<{ version: number | null }>('select max(version) as version from match_model');

export const liveOrganization = (client: Queryable, key: string) =>
  client.query<{ id: number; name: string }>(
    `select c.id, c.display_name as name from contact_key k join contact c on c.id = k.contact_id
     where k.key = $1 and c.kind = 'organization' and c.state = 'live' order by c.id`,
    [key],
  );
