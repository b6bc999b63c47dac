import type { Queryable } from '../../../db/connect';

const KEY = `'custom.' || f.id`;
const BY_TOOL = `exists (select 1 from connection c where strpos(c.setup::text, '"' || ${KEY} || '"') > 0)`;
const BY_FILE = `exists (select 1 from intake i where i.import_run is null and strpos(i.mapping::text, '"' || ${KEY} || '"') > 0)
  or exists (select 1 from saved_mapping m where strpos(m.mapping::text, '"' || ${KEY} || '"') > 0)`;

/** Fields made for a file that no record ever had and no set-up names: as if they had not been made. */
export const deleteUnused = (client: Queryable, intakeId: number) =>
  client.query<{ name: string }>(
    `delete from custom_field f where f.made_for = $1 and not (${BY_TOOL} or ${BY_FILE})
       and not exists (select 1 from contact c where c.record->'f'->(${KEY}) is not null)
     returning f.name`,
    [intakeId],
  );

/** Fields made for the file of an import that nobody has any more. What the ledger says of them keeps their names. */
export const retireUnused = (client: Queryable, importRun: number) =>
  client.query<{ name: string }>(
    `update custom_field f set retired = true
     where not f.retired and f.made_for in (select id from intake where import_run = $1) and not ${BY_TOOL}
       and not exists (select 1 from contact c where c.state = 'live' and c.record->'f'->(${KEY}) is not null)
     returning f.name`,
    [importRun],
  );

export const unretire = (client: Queryable, importRun: number) =>
  client.query<{ name: string }>(
    `update custom_field set retired = false
     where retired and made_for in (select id from intake where import_run = $1) returning name`,
    [importRun],
  );
