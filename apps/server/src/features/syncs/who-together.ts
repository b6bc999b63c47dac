import { and, eq, inArray } from 'drizzle-orm';
import { settleWho } from '@gray-loom/core/syncing';
import type { WhoSample } from '@gray-loom/wire';
import { inTransaction, type Database, type Queryable } from '../../db/connect';
import { syncLink } from '../../db/schema';
import { requireConnection } from './connections';
import { refuseSettling } from './refusals';
import { selectLinks } from './statements/sync-links';
import { questionsTogether, settleableQuestions } from './statements/sync-conflicts';
import { whoQuestions } from './sync-conflicts';
import { noteRun, Settling, travelOn, type SettleServices } from './sync-settle';

const SAMPLE = 12;
const AT_ONCE = 500;

type Band = 'certain' | 'likely';

async function countOf(client: Queryable, connectionId: number, band: Band): Promise<number> {
  const { rows } = await questionsTogether(client);
  return rows.find((one) => one.connectionId === connectionId && one.band === band)?.count ?? 0;
}

/** What would be settled if everybody over there was taken for the likeliest contact here, and a few of them to look at. */
export async function whoSample(database: Database, connectionId: number, band: Band): Promise<WhoSample> {
  await requireConnection(database, connectionId);
  const { rows } = await settleableQuestions(database.pool, connectionId, band);
  const step = Math.max(1, rows.length / SAMPLE);
  const ids = Array.from(
    { length: Math.min(SAMPLE, rows.length) },
    (_, i) => rows[Math.floor(i * step)]?.outside_id ?? '',
  );
  const links = ids.length
    ? await database.db
        .select()
        .from(syncLink)
        .where(and(eq(syncLink.connectionId, connectionId), inArray(syncLink.outsideId, ids)))
    : [];
  const all = await countOf(database.pool, connectionId, band);
  return { count: rows.length, left: all - rows.length, sample: await whoQuestions(database, links) };
}

/** Takes everybody over there of a band for the likeliest contact here, in one go; what is not clear stays a question. */
export async function settleWhoTogether(
  services: SettleServices,
  connectionId: number,
  { band, saw }: { band: Band; saw: number },
): Promise<{ settled: number; left: number }> {
  const { database } = services;
  const row = await requireConnection(database, connectionId);
  const settling = await Settling.begin(services, row);
  return inTransaction(database, async (tx) => {
    const { rows } = await settleableQuestions(tx.client, connectionId, band);
    if (rows.length !== saw) throw refuseSettling.otherCount({ count: rows.length });
    const contactOf = new Map(rows.map((one) => [one.outside_id, one.contact_id]));
    const title = `Settled who ${rows.length} records in ${row.name} are`;
    const runId = await noteRun(tx, title);
    const ids = [...contactOf.keys()];
    for (let i = 0; i < ids.length; i += AT_ONCE) {
      const links = await selectLinks(tx.client, connectionId, 'outside_id = any($2::text[]) for update', [
        ids.slice(i, i + AT_ONCE),
      ]);
      const writes = links
        .filter(({ state }) => state === 'asking')
        .map((link) => settleWho(link, { take: 'contact', contactId: contactOf.get(link.outsideId) ?? 0 }));
      await settling.write(tx, runId, ...writes);
    }
    await travelOn(tx, row, null);
    return { settled: rows.length, left: await countOf(tx.client, connectionId, band) };
  });
}
