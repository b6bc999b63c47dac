import type { Queryable } from '../../db/connect';

/** Texts of one transaction. */
export const BATCH = 5000;

/**
 * While an import runs, its texts are put under the index only beyond so many, so that both do not get in each other's way. So
 * many are looked through in a tenth of a second.
 */
export const MOST_WAITING = 300_000;

export const placeNextTexts = (client: Queryable) =>
  client.query(
    `with gone as (
           delete from contact_search_fresh where contact_id in (
             select contact_id from contact_search_fresh order by contact_id limit $1 for update skip locked)
           returning contact_id, text)
         insert into contact_search (contact_id, text) select contact_id, text from gone`,
    [BATCH],
  );

export const cleanTextIndex = (client: Queryable) =>
  client.query(`select gin_clean_pending_list('contact_search_trigrams')`);

export const analyzeContacts = (client: Queryable) => client.query('analyze contact, contact_search');

export const textsWaiting = (client: Queryable) =>
  client.query<{ waiting: number; importing: boolean }>(
    `select (select count(*)::int from (select 1 from contact_search_fresh limit $1) texts) as waiting,
       exists (select 1 from run where kind = 'import' and state = 'running') as importing`,
    [MOST_WAITING],
  );
