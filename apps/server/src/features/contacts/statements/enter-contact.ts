import { CATALOGUE_JSON, OWNERS_JSON, PICKS_JSON, type CatalogueJson, type PickJson } from '../../../book/picks';
import type { Queryable } from '../../../db/connect';

export const setRunContact = (client: Queryable, runId: number, contactId: number) =>
  client.query('update run set contact_id = $2 where id = $1', [runId, contactId]);

/** Kept planned: it is asked at every pause in typing. */
export const setUpForCheck = (client: Queryable) =>
  client.query<{
    catalogue: CatalogueJson;
    picks: PickJson[];
    owners: [name: string, email: string][];
    version: number | null;
  }>({
    name: 'set-up for a check',
    text: `select ${CATALOGUE_JSON} as catalogue, ${PICKS_JSON} as picks, ${OWNERS_JSON} as owners, (select max(version) from match_model) as version`,
  });
