import { kindOf, lifecycleOf } from '@gray-loom/core/model';
import { inTransaction, type Database } from '../db/connect';
import { factsJsonOf, factsWho } from './contact-rows';
import { contactsWithoutFacts, writeFacts } from './statements/write-contacts';

const BATCH = 2000;

/** Writes what conditions look at for contacts that have none yet, after the shape of it changed; what is interrupted goes on. */
export async function fillFacts(database: Database): Promise<number> {
  let filled = 0;
  for (;;) {
    const done = await inTransaction(database, async ({ client }) => {
      const contacts = await contactsWithoutFacts(client, BATCH);
      const facts = contacts.flatMap(({ id, record }) => {
        const who = factsWho(kindOf(record), lifecycleOf(record)?.state ?? 'live');
        return who === null ? [] : [`{"contact_id":${id},"who":${who},"facts":${factsJsonOf(record)}}`];
      });
      if (facts.length) await writeFacts(client, `[${facts.join(',')}]`);
      return contacts.length;
    });
    filled += done;
    if (done < BATCH) return filled;
  }
}
